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

} // namespace kestrel::bench
