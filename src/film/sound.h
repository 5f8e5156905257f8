#pragma once

#include <filesystem>
#include <vector>

/// Sound as samples: the voice of a review film, and what a film's microphone heard.
namespace kestrel::film {

/// Samples a second of all sound in the program.
inline constexpr int soundRate = 48000;

/// The first sound track of a file as mono samples of −1 to 1 at soundRate. Reads what FFmpeg
/// reads. Throws model::InputError when the file is missing or has no sound.
std::vector<float> readSound(const std::filesystem::path& file);

/// The same of a film, and when it begins, seconds after the film's first picture; negative when
/// sound was taken before.
struct FilmSound {
    std::vector<float> samples;
    double beginsAt = 0.0;
};
FilmSound readFilmSound(const std::filesystem::path& film);

/// Writes mono samples at soundRate as a WAV file (16 bit). Throws model::InputError when it cannot
/// be written.
void writeWav(const std::vector<float>& samples, const std::filesystem::path& file);

} // namespace kestrel::film
