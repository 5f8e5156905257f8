#pragma once

#include "technique/kinds/sequence.h"
#include "technique/pack/pack.h"

#include <nlohmann/json.hpp>

#include <filesystem>
#include <map>
#include <optional>
#include <string>

/// Readings out and key positions in, as JSON, for scripts. Reasons are in the words of `words`.
namespace kestrel::technique {

/// One object a reading: id, name, position, value, unit, u95, read_from, verdict, range, basis,
/// school, missing_reason, and value_m, the value in metres of a length in body heights when the
/// player's `height` is known; null where there is none.
nlohmann::json readingsToJson(const Pack& pack, const std::vector<model::Reading>& readings,
                              const model::Wording& words,
                              std::optional<model::Metres> height = {});

/// "missing_reason", or "from_s", "to_s", "frame_rate", "links" (id, name, unit, peak with time_s,
/// time_sd_s, value, sd, or refusal, and the curve as rows of time, value, sd) and "steps"
/// (earlier, later, gap_ms, u95_ms, order: follows, leads or cannot_tell, gain).
nlohmann::json sequenceToJson(const SequenceReading& sequence, const model::Wording& words);

/// Key positions from {"positions": {"set": 12}} or {"positions": {"set": {"frame": 12}}}, as truth
/// files have them. Throws model::InputError naming file, place and reason for a position that the
/// pack does not have or a frame outside 0 … frameCount − 1.
std::map<std::string, int> readPositions(const Pack& pack, const std::filesystem::path& file,
                                         int frameCount);

} // namespace kestrel::technique
