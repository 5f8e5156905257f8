#pragma once

#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

#include <optional>

/// Readings of points at one instant. Only within this room.
namespace kestrel::technique {

/// Reads a measure of kind `how` at its position, or the difference of two positions, from a view
/// in which it can be read. `height` is the player's in the first frame's picture, when it is
/// known. Sets value, uncertainty and constructs of `reading`, or why they are missing.
void readInstant(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 const Measure& measure, const InstantKind& how,
                 const std::optional<PixelHeight>& height, model::Reading& reading);

} // namespace kestrel::technique
