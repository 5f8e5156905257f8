#pragma once

#include "technique/pack/ground_place.h"

#include <filesystem>

namespace kestrel::technique {

/// Marks on the ground from a JSON file: `place` (of the pack, or "rectangle" with `along_m` and
/// `across_m`), `frame`, and `points`, each an id with its x and y in the picture. Throws
/// model::InputError naming file, place in it and reason.
model::GroundMarks readGroundMarks(const Pack& pack, const std::filesystem::path& file);

} // namespace kestrel::technique
