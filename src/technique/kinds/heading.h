#pragma once

#include "technique/judge/evaluate.h"

/// Readings of which way hips and shoulders point, seen from above.
namespace kestrel::technique {

/// Which end of a line is taken to be nearer to the camera at a position, and who says so.
struct NearerEnd {
    model::Side side = model::Side::left;
    bool byCoach = false;
    double clearPx = 0.0; ///< of a machine: by how much; rough
};

/// The coach's word, else the machine's; nothing where neither has one.
std::optional<NearerEnd> nearerEnd(const model::Rep& rep, const std::string& positionId,
                                   model::BodyLine line);

/// The line that landmark is an end of; it is a hip or a shoulder.
model::BodyLine lineThrough(model::Landmark end);

/// Reads a measure whose kind has `linesTurned` (measure_kind.h) into `reading`: how far the line
/// through hips or shoulders has turned from side-on (0°) towards the target (90°), or how much
/// farther the first line has turned than the second. From a side view the line's level extent is
/// the cosine of its turn, from front and rear its sine; which of the two turns that look alike it
/// is, nearerEnd() says. Without it both count, and where they lie far apart the reading is
/// refused.
///
/// The view has been found readable and the position is in the pack.
void readHeading(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 const Measure& measure, std::optional<PixelHeight> bodyHeightPx,
                 model::Reading& reading);

} // namespace kestrel::technique
