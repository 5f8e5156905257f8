#pragma once

#include <filesystem>

/// What the bare FFmpeg libraries take for the same work: the yardstick of the ratios.
namespace kestrel::bench {

/// Reads all packets of the first video stream; returns how many.
int readPackets(const std::filesystem::path& film);

/// Decodes the whole film with as many threads as there are cores; returns the number of frames.
int decodeAll(const std::filesystem::path& film);

/// Seeks to the key frame at or before `pts` and decodes up to the frame of that time.
void decodeFromKeyFrame(const std::filesystem::path& film, long long pts);

/// Decodes the whole film, scales each frame to `width` × `height`, puts it on a canvas of
/// `canvasHeight` and encodes it (H.264, x264's preset veryfast, one key frame in 60) with as many
/// threads as there are cores. Returns the number of frames.
int transcode(const std::filesystem::path& film, const std::filesystem::path& out, int width,
              int height, int canvasHeight, int rate, int quality);

} // namespace kestrel::bench
