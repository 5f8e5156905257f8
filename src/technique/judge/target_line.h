#pragma once

#include "technique/judge/evaluate.h"
#include "technique/kinds/in_space.h"

#include <optional>

/// Where the target line runs, as the camera sees it.
namespace kestrel::technique {

/// In level axes (body/fitted_body.h): the angle from the picture's right, over away from the
/// camera, to the direction of the target.
struct TargetLine {
    double azimuth = 0.0;   ///< radians
    double azimuthSd = 0.0; ///< radians
};

/// By the ground where it is marked. Else by how the player's body moves, as far as the technique
/// tells where its target is, and by the view that the coach says: most cameras that are said to
/// stand on a side stand square to it, to within what one set up by eye is off; some stand
/// anywhere. Nothing without any of these.
std::optional<TargetLine> targetLine(const Pack& pack, const Circumstances& circumstances);

/// Along which level direction a measure counts: sideways where the pack reads it from front or
/// rear only, else along the target line.
LevelDirection directionOf(const Measure& measure);

} // namespace kestrel::technique
