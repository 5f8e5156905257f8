#pragma once

#include "model/message.h"

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>

/// The network files that set-up fetches; the program runs without them.
namespace kestrel::pose {

/// Three sizes of pose network: heavier ones find more and take longer.
enum class PoseSize { lite, full, heavy };

std::string_view name(PoseSize size);
std::optional<PoseSize> poseSizeFromName(std::string_view text);

/// Where the networks are: share/jolly-kestrel/pose beside an installed program's bin, else the
/// folder that ./kestrel fetches them into.
std::filesystem::path poseDirectory();

std::filesystem::path detectorFile(const std::filesystem::path& directory);
std::filesystem::path poseFile(const std::filesystem::path& directory, PoseSize size);

/// What is missing for landmarks to be proposed with `size`, with what to do; empty when nothing
/// is.
model::Message missingNetworks(const std::filesystem::path& directory, PoseSize size);

} // namespace kestrel::pose
