#pragma once

#include "demo/film_render.h"
#include "model/landmark.h"

#include <nlohmann/json.hpp>

#include <filesystem>
#include <map>
#include <string>

/// What is known for certain about a synthetic film. Computed in three dimensions from the bones,
/// by vector algebra of its own, so that it can check what the program reads off the picture.
namespace kestrel::demo {

/// Where every landmark truly is in the picture, for all frames. Nothing is hidden and the standard
/// deviation is 0.
model::LandmarkTrack trueLandmarks(const FilmSpec& spec);

/// The same at the frames of `positions` only, with a normal error of `sdPx` per axis, as a coach
/// would place them.
model::LandmarkTrack placedLandmarks(const FilmSpec& spec,
                                     const std::map<std::string, int>& positions, double sdPx,
                                     std::uint32_t seed);

/// Frames nearest to the true instants of the pack's positions and events.
std::map<std::string, int> truePositions(const FilmSpec& spec);

/// True values of the overhand pitch's open-side measures, by measure id, from the bones at the
/// true frames: degrees between segments in space, angles against the horizontal and the vertical
/// in space, lengths in standing heights, times from the true instants in the pack's units.
std::map<std::string, double> trueMeasures(const FilmSpec& spec);

/// The truth file: height, hand, rates, camera, positions (true seconds and frame), measures, and
/// joint angles in space for every frame.
nlohmann::json truthJson(const FilmSpec& spec);

/// Writes FILM.landmarks.csv and FILM.truth.json beside `film`. Throws std::runtime_error when they
/// cannot be written.
void writeTruth(const FilmSpec& spec, const std::filesystem::path& film);

} // namespace kestrel::demo
