#pragma once

#include "technique/evaluate.h"
#include "technique/measure_kind.h"

/// Readings of the ball's flight after it left hand, bat or racket.
namespace kestrel::technique {

/// Speed at the start of the flight, km/h.
FlightValue ballSpeed(const FlightInput& input);
/// Direction at the start of the flight against level, degrees, up positive.
FlightValue launchAngle(const FlightInput& input);
/// Direction against level where the ball reaches the target, degrees; negative when it falls.
FlightValue arrivalAngle(const FlightInput& input);
/// From the start of the flight until the ball reaches the target, milliseconds.
FlightValue timeToTarget(const FlightInput& input);
/// How much sooner the ball would reach the target when it started one metre closer, milliseconds.
FlightValue timeOfOneMetre(const FlightInput& input);

/// Reads a measure whose kind has `flight` (measure_kind.h) into `reading`: value, uncertainty and
/// the path that shows it, or why there is none. How many metres a pixel is follows from the marked
/// ground, with the ball in the upright plane through the measure's second point along the target
/// line; without it from the player's height, taking the camera to stand square.
/// `bodyHeightPx` is nothing where the height in the picture is not known.
void readFlight(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                const Measure& measure, std::optional<PixelHeight> bodyHeightPx,
                model::Reading& reading);

} // namespace kestrel::technique
