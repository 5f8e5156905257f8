#pragma once

#include "body/body_points.h"
#include "body/seen_rep.h"

#include <vector>

/// How much the points of a body change their velocity in this film. Only within this room.
namespace kestrel::body {

/// For each instant and point: standard deviation of acceleration along one axis, standing heights
/// a second squared, from how the picture places move there. What happens in depth is taken to be
/// of the same size. `scalePx` are pixels a standing height.
std::vector<std::vector<double>> accelerations(const SeenRep& rep, double scalePx);

/// For how long an acceleration lasts, seconds; with the above it makes the spectral density of the
/// process noise (white acceleration). Working figure.
inline constexpr double accelerationLasts = 0.1;

} // namespace kestrel::body
