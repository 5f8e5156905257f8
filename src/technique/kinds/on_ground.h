#pragma once

#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

/// Readings of places on the ground: how far, how far past a line, which way.
namespace kestrel::technique {

/// How far above or below the ground heel and toe of a standing shoe are marked, metres: an eye
/// takes the end of the sole for them. Working figure.
inline constexpr double soleHeightSdM = 0.01;

/// Distance between two places, metres.
double groundDistance(const GroundInput& input);
/// How far a place is past the measure's line, metres; negative before it.
double groundPastLine(const GroundInput& input);
/// How far the second place is beside the first, square to the target line, in lengths of the
/// player's foot; positive to the throwing or hitting side.
double groundOffsetInFeet(const GroundInput& input);
/// Which way the line from the first place to the second runs, degrees from the target line;
/// positive turned to the throwing or hitting side.
double groundHeading(const GroundInput& input);

/// Reads a measure whose kind has `ground` (measure_kind.h) into `reading`: value, uncertainty and
/// the lines that show it, or why there is none. Its points are taken to touch the ground.
void readOnGround(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                  const Measure& measure, model::Reading& reading);

/// Says in `reading` why nothing is known of the ground.
void refuseForGround(const Circumstances& circumstances, model::Reading& reading);

} // namespace kestrel::technique
