#pragma once

#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"
#include "technique/kinds/moving_rep.h"
#include "technique/pack/pack.h"

#include <optional>
#include <string>

/// How fast the lines through hips and shoulders turn, seen from above. Only within this room.
namespace kestrel::technique {

/// How far a line has turned (technique/kinds/heading.h) in the frames from a little before
/// `within` to a little after, as a point on a line in degrees; its curve's speed is 0 where it
/// turns back. Frames in which its turn does not show are left out. `ends` are its trail and lead
/// end. `breadth` is how broad the player is taken to be against the table. Nothing, with `refusal`
/// a full sentence, when too few frames show it; `stretch` names the stretch in it.
std::optional<CoursePoint> turningOf(MovingRep& rep, const Circumstances& circumstances,
                                     std::span<const PointExpression> ends, motion::TimeSpan within,
                                     const model::Message& stretch, PixelHeight bodyHeightPx,
                                     double breadth, model::Message& refusal);

/// Standard deviation of `breadth` about 1, with that of the height in the picture.
double breadthSd(PixelHeight bodyHeightPx);

/// Reads a measure whose kind is of `turning` (measure_kind.h) into `reading`: value, uncertainty
/// and the line where it turns fastest, or why there is none.
void readTurning(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 const Measure& measure, std::optional<PixelHeight> bodyHeightPx,
                 model::Reading& reading);

} // namespace kestrel::technique
