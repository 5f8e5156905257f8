#pragma once

#include "model/side.h"
#include "model/units.h"
#include "technique/pack/point_expression.h"

#include <optional>
#include <string>
#include <variant>
#include <vector>

/// How a machine finds a key position, as data of a pack; technique/positions/find_positions
/// carries it out.
namespace kestrel::technique {

struct MeasureKind;

/// A number at every frame: a measure kind on landmarks there, or how fast a point moves.
struct Signal {
    const MeasureKind* kind = nullptr; ///< null: speed of the one point, body heights per second
    std::vector<PointExpression> points;
    model::Seconds halfWidth{0.0}; ///< of the stretch that smooths it, to each side
};

/// An end of the stretch of time that is searched.
struct SearchEdge {
    std::string position;
    model::Seconds after{0.0}; ///< negative: before
};

/// The instant at which a signal turns or passes a level.
struct SignalInstant {
    enum class Is { highest, lowest, rises, falls };
    Signal signal;
    Is is = Is::highest;
    double level = 0.0; ///< for rises and falls, in the kind's unit
    /// The level is a share of the way from the signal's lowest to its highest value in the
    /// stretch.
    bool levelIsShare = false;
    bool last = false;              ///< of several passes the last, not the first
    std::optional<SearchEdge> from; ///< unset: the start of the rep
    std::optional<SearchEdge> to;   ///< unset: its end
};

/// The instant a share of the way from one position to another.
struct ShareOfWay {
    std::string from;
    std::string to;
    double share = 0.5;
};

struct Detector {
    std::vector<model::View> views; ///< from where the signal shows; empty: from anywhere
    std::variant<SignalInstant, ShareOfWay> finds;
    model::Seconds after{0.0}; ///< how much later than the signal's instant the position is
    model::Seconds sd{0.0};    ///< of what it finds on right landmarks, see `basis`
    std::string basis;         ///< where `after` and `sd` come from
};

} // namespace kestrel::technique
