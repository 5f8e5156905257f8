#pragma once

#include "body/body_points.h"
#include "body/seen_rep.h"

#include <vector>

/// How much the points of a body change their velocity in this film. Only within this room.
namespace kestrel::body {

/// Standard deviations of acceleration, standing heights a second squared.
struct Acceleration {
    double across = 0.0; ///< the view, along one axis
    double along = 0.0;  ///< it: in depth
};

/// For each instant and point, from how the picture places move there. What happens in depth is
/// taken to be of the same size, but no less than usual for that point: a knee that bends towards
/// the camera hardly moves in the picture. `scalePx` are pixels a standing height.
std::vector<std::vector<Acceleration>> accelerations(const SeenRep& rep, double scalePx);

/// For how long an acceleration lasts, seconds; with the above it makes the spectral density of the
/// process noise (white acceleration). Working figure.
inline constexpr double accelerationLasts = 0.1;

} // namespace kestrel::body
