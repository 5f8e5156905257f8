#pragma once

#include "technique/judge/evaluate.h"

/// Readings over a stretch of time: what the course of points from one position to another says.
namespace kestrel::technique {

/// Reads a measure whose kind has a `course` (measure_kind.h) into `reading`: value, uncertainty
/// and the path that shows it, or why there is none. `bodyHeightPx` is nothing where the height in
/// the picture is not known. The view has been found readable and the positions are in the pack.
void readCourse(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                const Measure& measure, std::optional<PixelHeight> bodyHeightPx,
                model::Reading& reading);

} // namespace kestrel::technique
