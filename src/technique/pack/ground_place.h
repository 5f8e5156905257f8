#pragma once

#include "model/ground_marks.h"
#include "model/message.h"
#include "model/record.h"
#include "motion/ground_camera.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Places of known size on the ground, as packs describe them: a rubber and a plate, a court. What
/// the coach marks of them tells where the camera stood.
namespace kestrel::technique {

struct Pack;

struct GroundPoint {
    std::string id;
    model::Message name;                          ///< "front left corner of the plate"
    Eigen::Vector2d at = Eigen::Vector2d::Zero(); ///< ground coordinates, metres
};

/// A line through two points of the place. What lies to the left of it, going from the first to
/// the second, counts as past it.
struct GroundLine {
    std::string id;
    Eigen::Vector2d from = Eigen::Vector2d::Zero();
    Eigen::Vector2d to = Eigen::Vector2d::Zero();
};

struct GroundPlace {
    std::string id;
    model::Message name; ///< "Rubber and plate"
    std::vector<GroundPoint> points;
    std::vector<GroundLine> lines;
    std::string basis; ///< where the sizes are from
};

/// The id of the coach's own rectangle, which every pack has: four cones or the ends of two tapes.
inline constexpr std::string_view ownRectangle = "rectangle";

/// The coach's own rectangle: `along` towards the target, `across` square to it, its rear right
/// corner at the origin.
GroundPlace rectanglePlace(model::Metres along, model::Metres across);

/// The place that was marked; nothing when the pack has no such place.
std::optional<GroundPlace> placeOf(const Pack& pack, const model::GroundMarks& marks);

/// The ground of a clip: which place it is and how the camera sees it.
struct Ground {
    GroundPlace place;
    motion::GroundFit fit;
    int frame = 0; ///< in whose picture the camera is known
};

/// The camera from a clip's marks in a picture of that size, filmed from that view; says why
/// there is none.
struct GroundOrReason {
    std::optional<Ground> ground;
    model::Message reason;
};
GroundOrReason groundOf(const Pack& pack, const model::GroundMarks& marks, int width, int height,
                        std::optional<model::View> view);

/// How far it is over the ground between two picture points, with the doubt of placing them and of
/// the camera; nothing when one of them is not on the ground.
struct GroundLength {
    double metres = 0.0;
    double sd = 0.0;
};
std::optional<GroundLength> lengthOnGround(const Ground& ground, model::Point2 from,
                                           model::Point2 to);

/// How surely a metre is told in the middle of the place: standard deviations towards the target
/// and across, metres; nothing when that is out of the picture's reach.
struct MetreDoubt {
    double alongSd = 0.0;
    double acrossSd = 0.0;
};
std::optional<MetreDoubt> doubtOfAMetre(const Ground& ground, const model::GroundMarks& marks);

/// A straight line over the ground, as seen; pieces behind the camera are left out.
using SeenLine = std::vector<model::Point2>;

/// Lines of a grid of that cell width on the ground around the place's marked points, as the camera
/// sees them.
std::vector<SeenLine> groundGrid(const Ground& ground, model::Metres cell, int width, int height);

/// Where level ground ends in the distance: everything at the height of the lens is seen on this
/// line, and a camera that is not level tilts it. Empty when it runs past the picture.
SeenLine groundHorizon(const Ground& ground, int width, int height);

} // namespace kestrel::technique
