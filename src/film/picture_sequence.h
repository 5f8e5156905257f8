#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace kestrel::film {

/// A film stored as numbered pictures.
struct PictureSequence {
    std::string pattern; ///< as FFmpeg's image reader takes it: "/clips/shot_%04d.png"
    int first = 0;       ///< number of the first picture
    std::vector<std::filesystem::path> files;
};

/// The numbered sequence that `file` is part of; nothing when it is no picture, carries no number,
/// or stands alone. Numbers run without gaps from the sequence's first to its last.
std::optional<PictureSequence> pictureSequence(const std::filesystem::path& file);

} // namespace kestrel::film
