#pragma once

#include "technique/pack/pack.h"

#include <cstdint>
#include <filesystem>
#include <functional>
#include <vector>

/// What the position network learns from (technique/positions/position_network.h).
namespace kestrel::study {

/// Seeds of players to learn from begin here; studies measure on smaller ones.
inline constexpr std::uint32_t firstLesson = 1'000'000;

/// Writes reps of `players` players, with each habit once and from anywhere (played_rep.h), to
/// `folder`: `poses.f32`, the columns of their pose sequences one after the other, and
/// `reps.jsonl`, a line each with technique, habit, first column, columns, and the instants of the
/// key positions in columns from the first; those outside of the film are null. `seed` is the first
/// player's. Throws std::runtime_error when a file cannot be written.
void writeLessons(const std::vector<technique::Pack>& packs, std::uint32_t seed, int players,
                  const std::filesystem::path& folder,
                  const std::function<void(int done, int all)>& tell);

} // namespace kestrel::study
