#pragma once

#include "model/clip_time.h"
#include "model/landmark.h"

#include <filesystem>

/// Landmarks to and from a file; its ending says how: .trc as landmark_trc.h, all else as
/// landmark_csv.h.
namespace kestrel::track {

/// Throws model::InputError when the file cannot be written.
void writeLandmarkFile(const std::filesystem::path& file, const model::LandmarkTrack& track,
                       const model::ClipTime& time);

/// Throws as readLandmarks() and readTrc().
model::LandmarkTrack readLandmarkFile(const std::filesystem::path& file);

} // namespace kestrel::track
