#pragma once

#include "motion/ground_camera.h"

#include <optional>

/// Places in space from two pictures taken at the same instant by cameras over the same ground.
namespace kestrel::motion {

/// Where a point was seen: by which camera, where, and its standard deviation per axis, pixels.
struct Sight {
    const GroundCamera& camera;
    Point2 px;
    double sd = 1.0;
};

/// The place, in ground coordinates, whose pictures lie nearest to both sights, each weighed by its
/// deviation: the middle between the two lines of sight, improved by Gauss–Newton (Hartley and
/// Sturm 1997, Computer Vision and Image Understanding 68). Nothing where the lines of sight run so
/// nearly alike (5°) that depth cannot be told, or meet behind a camera.
std::optional<Eigen::Vector3d> placeSeenTwice(const Sight& first, const Sight& second);

} // namespace kestrel::motion
