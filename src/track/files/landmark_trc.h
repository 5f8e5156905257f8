#pragma once

#include "model/clip_time.h"
#include "model/landmark.h"

#include <filesystem>
#include <iosfwd>

/// Landmarks as TRC, the tab-separated marker table that motion laboratories exchange. Here the
/// unit is the pixel, X to the right, Y down, Z always 0; Frame# counts from 1 as the format has it
/// and Time is seconds on the field. A cell is empty where a landmark is hidden or unknown.
namespace kestrel::track {

/// Writes all frames from the first to the last of `track`, one column group a landmark that
/// occurs.
void writeTrc(std::ostream& out, const model::LandmarkTrack& track, const model::ClipTime& time);

/// Reads landmarks back. The table says nothing of how sure a point is or who set it: they come out
/// as tracked, with `importedPointSd`. Markers that are no landmark of the program are passed over.
/// Throws model::InputError naming file, line and reason; nothing is returned half-read.
model::LandmarkTrack readTrc(const std::filesystem::path& file);

/// Standard deviation per axis in pixels of a point from a table that does not say. Working figure.
inline constexpr double importedPointSd = 3.0;

} // namespace kestrel::track
