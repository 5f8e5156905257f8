#pragma once

#include <filesystem>
#include <functional>
#include <string>

namespace kestrel::film {

/// Called with bytes done and bytes in all; returning false cancels.
using ByteProgress = std::function<bool(std::uintmax_t done, std::uintmax_t all)>;

/// SHA-256 of a file's bytes in lower-case hexadecimal. Returns an empty string when `progress`
/// cancelled. Throws model::InputError when the file cannot be read.
std::string contentHash(const std::filesystem::path& file, const ByteProgress& progress = {});

} // namespace kestrel::film
