#pragma once

#include <filesystem>
#include <vector>

/// Sound as samples, for the voice of a review film.
namespace kestrel::film {

/// Samples a second of all sound in the program.
inline constexpr int soundRate = 48000;

/// The first sound track of a file as mono samples of −1 to 1 at soundRate. Reads what FFmpeg
/// reads. Throws model::InputError when the file is missing or has no sound.
std::vector<float> readSound(const std::filesystem::path& file);

/// Writes mono samples at soundRate as a WAV file (16 bit). Throws model::InputError when it cannot
/// be written.
void writeWav(const std::vector<float>& samples, const std::filesystem::path& file);

} // namespace kestrel::film
