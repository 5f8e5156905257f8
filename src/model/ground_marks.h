#pragma once

#include "model/units.h"

#include <map>
#include <string>

namespace kestrel::model {

/// What the coach marked on the ground of a clip, so that places on it can be told in metres:
/// known points of a place, such as the corners of a plate or four cones.
struct GroundMarks {
    std::string placeId;                  ///< of the pack, or that of the coach's own rectangle
    int frame = 0;                        ///< in whose picture they were marked
    Metres alongM{0.0};                   ///< own rectangle: its side that runs towards the target
    Metres acrossM{0.0};                  ///< own rectangle: its other side
    std::map<std::string, Point2> points; ///< point id of the place → picture point

    friend bool operator==(const GroundMarks&, const GroundMarks&) = default;
};

} // namespace kestrel::model
