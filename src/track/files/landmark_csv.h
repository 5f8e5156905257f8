#pragma once

#include "model/clip_time.h"
#include "model/landmark.h"

#include <filesystem>
#include <iosfwd>

/// Landmarks as CSV, long form: frame, time_s, landmark, x_px, y_px, sd_px, source, hidden,
/// covered. Names
/// are body sides ("left_knee"); hidden is 0 or 1; x and y are empty for a hidden point.
namespace kestrel::track {

void writeLandmarks(std::ostream& out, const model::LandmarkTrack& track,
                    const model::ClipTime& time);

/// Reads landmarks back. Columns may stand in any order and others may stand between them; sd_px,
/// source, hidden and covered may be missing (then 1.5, placed, 0, 0). Throws model::InputError
/// naming file, row and reason; nothing is returned half-read.
model::LandmarkTrack readLandmarks(const std::filesystem::path& file);

} // namespace kestrel::track
