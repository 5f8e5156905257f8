#include "pose/pose_files.h"

#include <array>

namespace kestrel::pose {
namespace {

namespace fs = std::filesystem;

constexpr std::array<std::string_view, 3> names{"lite", "full", "heavy"};

} // namespace

std::string_view name(PoseSize size) {
    return names[static_cast<std::size_t>(size)];
}

std::optional<PoseSize> poseSizeFromName(std::string_view text) {
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (names[i] == text) {
            return static_cast<PoseSize>(i);
        }
    }
    return std::nullopt;
}

fs::path poseDirectory() {
    std::error_code status;
    const fs::path program = fs::read_symlink("/proc/self/exe", status);
    const fs::path installed =
        program.parent_path().parent_path() / "share" / "jolly-kestrel" / "pose";
    if (!status && fs::is_directory(installed, status)) {
        return installed;
    }
    return KESTREL_POSE_NETWORKS;
}

fs::path detectorFile(const fs::path& directory) {
    return directory / "person_detector.tflite";
}

fs::path poseFile(const fs::path& directory, PoseSize size) {
    return directory / ("pose_landmark_" + std::string(name(size)) + ".tflite");
}

model::Message missingNetworks(const fs::path& directory, PoseSize size) {
    for (const fs::path& file : {detectorFile(directory), poseFile(directory, size)}) {
        if (!fs::exists(file)) {
            return model::message("network.not_installed", file.string());
        }
    }
    return {};
}

} // namespace kestrel::pose
