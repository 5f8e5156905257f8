#pragma once

#include "demo/raster.h"

#include <cstdint>
#include <vector>

/// The place the player stands on: a youth diamond seen from the side of the mound.
namespace kestrel::demo {

/// What the camera sees without the player, in linear light, row by row. `seed` varies grass and
/// trees.
std::vector<Colour> fieldPicture(const Camera& camera, const Light& light, std::uint32_t seed);

} // namespace kestrel::demo
