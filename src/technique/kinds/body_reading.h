#pragma once

#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

/// Readings from the body in space of one film. Only within this room.
namespace kestrel::technique {

/// Whether a measure is of a sort that a body in space tells: its kind has `space`, and it does not
/// mean what a camera overhead shows.
bool isOfBodyInSpace(const Measure& measure);

/// Reads a measure whose kind has `space` (measure_kind.h) into `reading` from the body in space,
/// from wherever it was filmed, and returns whether it could: there is a body, all points are of
/// it, the positions are set and inside it, and the target line is known where the value hangs on
/// it, and the body lies in depth as the coach says. Where no coach has looked at one of the
/// points, it is less sure, and not read where its ± is wider than its range: `reading` says so
/// then as what is missing. Otherwise it is left alone.
bool readFromBody(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                  const Measure& measure, model::Reading& reading);

} // namespace kestrel::technique
