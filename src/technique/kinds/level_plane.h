#pragma once

#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

#include <optional>

/// Paths told on a level plane above the marked ground, as they would be seen from straight above.
/// Only within this room.
namespace kestrel::technique {

/// The plane a measure's points are taken to move in: as high above the ground as the pack says of
/// a player of this height. Nothing, with the reason in `reading`, when the ground or the player's
/// height is not known.
std::optional<LevelPlane> levelPlane(const Circumstances& circumstances, const Measure& measure,
                                     model::Reading& reading);

/// Adds to a reading made on input.plane what the camera, the plane's height and a path that rises
/// or falls across the plane add to its doubt, and the direction of the target to what is drawn.
/// Where that leaves it unknown, there is a reason instead of a value.
void addPlaneDoubt(const Circumstances& circumstances, const Measure& measure, CourseInput& input,
                   model::Reading& reading);

} // namespace kestrel::technique
