#pragma once

#include "model/sync_offset.h"

#include <filesystem>
#include <optional>
#include <span>

/// How two films of one motion go together, from what both microphones heard.
namespace kestrel::film {

/// By how much the second's sudden sounds come later than the first's, seconds; both are mono
/// samples at soundRate. The rises of loudness in bins of a millisecond are compared at every shift
/// (by Fourier transform); nothing where no shift fits clearly better than all others that are more
/// than a fiftieth of a second away from it.
std::optional<model::SyncOffset> syncOffsetOfSounds(std::span<const float> first,
                                                    std::span<const float> second);

/// The same of two films: how much later an instant stands in the second film, counted from each
/// film's first picture. Throws model::InputError when one has no sound.
std::optional<model::SyncOffset> syncOffsetBySound(const std::filesystem::path& first,
                                                   const std::filesystem::path& second);

} // namespace kestrel::film
