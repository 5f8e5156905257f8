#pragma once

#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

#include <optional>
#include <span>

/// Readings of the path of a point in space, which only two films of a motion tell.
namespace kestrel::technique {

/// How steeply the plane that fits a path best lies, degrees against level, 0 to 90 (the normal is
/// the direction in which the places vary least). Nothing where the path runs so straight, or so
/// far out of any plane, that it has none: its extent across must be three times that out of it.
std::optional<double> planeTilt(std::span<const Eigen::Vector3d> path);

/// Reads a measure whose kind has `spacePath` (measure_kind.h) into `reading`: value, uncertainty
/// and the path, or why there is none. `cameras` is null where two films cannot be read together.
void readSpacePath(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                   const motion::CameraPair* cameras, const Measure& measure,
                   model::Reading& reading);

} // namespace kestrel::technique
