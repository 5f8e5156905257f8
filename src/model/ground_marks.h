#pragma once

#include "model/units.h"

#include <map>
#include <string>
#include <vector>

namespace kestrel::model {

/// What the coach marked on the ground of a clip, so that places on it can be told in metres:
/// known points of a place, such as the corners of a plate or four cones.
struct GroundMarks {
    std::string placeId;                  ///< of the pack, or that of the coach's own rectangle
    int frame = 0;                        ///< in whose picture they were marked
    Metres alongM{0.0};                   ///< own rectangle: its side that runs towards the target
    Metres acrossM{0.0};                  ///< own rectangle: its other side
    std::map<std::string, Point2> points; ///< point id of the place → picture point
    /// Points along edges that are straight on the field (a fence, a wall, a court line), an edge
    /// an entry: how far the picture bends them tells the lens's distortion.
    std::vector<std::vector<Point2>> straightEdges;

    friend bool operator==(const GroundMarks&, const GroundMarks&) = default;
};

} // namespace kestrel::model
