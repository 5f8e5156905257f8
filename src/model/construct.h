#pragma once

#include "model/landmark.h"
#include "model/message.h"

#include <string>
#include <variant>
#include <vector>

/// What is drawn on a frame to show how a reading was made. Geometry only, in picture pixels;
/// drawing belongs to `report/construct_painter.h`.
namespace kestrel::model {

/// Whose line it is; the painter gives each role its colour and dash.
enum class Role { throwingSide, otherSide, trunk, reference };

struct Segment {
    Point2 from;
    Point2 to;
    Role role = Role::trunk;
};

/// The angle at `vertex` from the direction of `from` to that of `to`, the short way round.
struct AngleArc {
    Point2 vertex;
    Point2 from;
    Point2 to;
};

/// A measured gap between two points, with end ticks.
struct Gap {
    Point2 from;
    Point2 to;
};

struct Dot {
    Point2 at;
    Role role = Role::trunk;
};

using Shape = std::variant<Segment, AngleArc, Gap, Dot>;

struct Construct {
    int frame = 0; ///< the frame these shapes belong on
    std::vector<Shape> shapes;
    Point2 labelAt; ///< where the reading's number stands
    Message label;  ///< nothing is written when it is empty
};

} // namespace kestrel::model
