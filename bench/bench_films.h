#pragma once

#include <filesystem>
#include <string>
#include <vector>

/// Films that the benchmarks make for themselves: a pitch of the synthetic player, enlarged and
/// with sensor noise as a phone records it, in long groups of frames.
namespace kestrel::bench {

struct BenchFilm {
    std::string name; ///< "h264-1080p"
    std::filesystem::path file;
};

/// H.264, HEVC and VP9 at 1080p (60 frames a second, 2 s) and 4K (30 a second, 2 s). Made when they
/// are not there. Throws when ffmpeg fails.
std::vector<BenchFilm> benchFilms();

/// H.264 at 1080p with 240 frames a second, 2 s of it.
std::filesystem::path fast1080p();

/// A 4K film of ten minutes, 18 000 frames.
std::filesystem::path tenMinutesOf4K();

/// The player over and over, sharp, 180 frames at 60 a second.
std::filesystem::path threeSecondsOf1080p();

} // namespace kestrel::bench
