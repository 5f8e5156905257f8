#pragma once

#include <filesystem>

namespace kestrel::film {

/// Writes the picture stream of `from` into one Matroska file `to` without decoding: every packet
/// as it is, so that all frames stay the same. For films stored as numbered pictures, which a
/// library keeps as one file. Throws model::InputError when `from` cannot be read or `to` cannot be
/// written; nothing half-made stays.
void remuxToMatroska(const std::filesystem::path& from, const std::filesystem::path& to);

} // namespace kestrel::film
