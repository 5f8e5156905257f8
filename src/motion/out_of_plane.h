#pragma once

#include "model/units.h"

/// What one camera cannot see: how far a picture angle may differ from the body's own angle because
/// segments point towards or away from the camera. Each function takes the standard deviation of a
/// segment's angle out of the picture plane and returns the root-mean-square difference.
namespace kestrel::motion {

/// Standard deviation of the direction in which the camera really looks at the player, against
/// square and level: filming a little off square, and the player away from the picture's middle.
/// Working figure for a phone on a tripod set up by eye.
inline constexpr model::Degrees offSquareSd{4.0};

/// Angle between two segments seen as `seen` in the picture, out of plane by independent normal
/// angles of standard deviations `first` and `second`. From cos θ = cos φ₁ cos φ₂ cos seen + sin φ₁
/// sin φ₂, by Gauss–Hermite quadrature.
model::Degrees jointAngleRms(model::Degrees seen, model::Degrees first, model::Degrees second);

/// Elevation of one segment above the horizontal, seen as `seen`: sin θ = sin seen · cos φ.
model::Degrees elevationRms(model::Degrees seen, model::Degrees sd);

/// Lean in the plane of view of a segment: its depth shows as a sideways shift where the camera is
/// off square by `offSquareSd`.
model::Degrees leanRms(model::Degrees sd);

/// Sideways shift, as a fraction of body height, between two points whose depths differ by
/// `depthSd` body heights (parallax of an off-square camera).
double offsetRms(double depthSd);

/// Relative shortening of a picture distance whose line is out of plane by `sd`: E|1 − cos φ|.
double distanceRelativeRms(model::Degrees sd);

} // namespace kestrel::motion
