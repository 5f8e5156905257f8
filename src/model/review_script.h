#pragma once

#include "model/record.h"
#include "model/units.h"

#include <optional>
#include <string>
#include <vector>

/// The walk through a rep that a review film takes.
namespace kestrel::model {

struct ScriptStep {
    enum class Kind {
        run,  ///< plays the frames from first to last
        stop, ///< holds the frame `first`
    };
    Kind kind = Kind::stop;
    int first = 0; ///< frame
    int last = 0;  ///< frame; of a run only
    /// Of a run: field time that passes in a second of the film; 0.25 is a quarter of the speed.
    double speed = 1.0;
    double seconds = 3.0;          ///< of a stop: how long it is held
    std::string caption;           ///< under the picture, spoken by the voice if there is one
    std::string positionId;        ///< the key position that a stop shows; empty: some frame
    std::string measureId;         ///< whose construct is drawn; empty: none
    std::optional<Point2> pointer; ///< a ring round a spot of the picture, source pixels
    RepId besideRep;               ///< a rep shown beside at the same instant; not stored: none
    std::string voice;             ///< sound file in the library's voice folder; empty: none

    friend bool operator==(const ScriptStep&, const ScriptStep&) = default;
};

using ReviewScript = std::vector<ScriptStep>;

} // namespace kestrel::model
