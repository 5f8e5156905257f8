#pragma once

#include "model/landmark.h"
#include "synth/film_render.h"

#include <nlohmann/json.hpp>

#include <filesystem>
#include <map>
#include <string>

/// What is known for certain about a synthetic film. Computed in three dimensions from the bones,
/// by vector algebra of its own, so that it can check what the program reads off the picture.
namespace kestrel::synth {

/// Where every landmark truly is in the picture, for all frames. Nothing is marked hidden and the
/// standard deviation is 0.
model::LandmarkTrack trueLandmarks(const FilmScene& scene);

/// The same at the frames of `positions` only, with a normal error of `sdPx` per axis, as a coach
/// would place them.
model::LandmarkTrack placedLandmarks(const FilmScene& scene,
                                     const std::map<std::string, int>& positions, double sdPx,
                                     std::uint32_t seed);

/// Frames nearest to the true instants of the technique's key positions.
std::map<std::string, int> truePositions(const FilmScene& scene);

/// True values of the sheet's quantities by id: what is read at a position at the frame nearest to
/// it, times from the true instants.
std::map<std::string, double> trueMeasures(const FilmScene& scene);

/// The truth file: player, film, camera, positions (true seconds and fraction of a frame),
/// quantities, and for every frame all landmarks in space and in the picture, hidden or not,
/// segment headings, joint angles and centre of mass. Its schema is packs/schema/truth.schema.json.
nlohmann::json truthJson(const FrameRenderer& renderer);

/// Writes FILM.landmarks.csv and FILM.truth.json beside `film`. Throws std::runtime_error when they
/// cannot be written.
void writeTruth(const FrameRenderer& renderer, const std::filesystem::path& film);

} // namespace kestrel::synth
