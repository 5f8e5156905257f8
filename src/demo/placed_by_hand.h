#pragma once

#include "demo/film_render.h"
#include "model/record.h"

#include <map>
#include <random>
#include <string>

/// What a careful coach would mark on a film of the synthetic player, and what a network would say
/// of its turns.
namespace kestrel::demo {

/// A rep with the true positions and, in all frames, the true landmarks off by a normal error of
/// `sd` pixels per axis.
model::Rep placedRep(const FilmSpec& spec, double sd, std::mt19937& random);

/// Four cones as the coach's own rectangle, its rear right corner at (x, y) of the scene's ground,
/// marked with such an error.
model::GroundMarks cones(const FilmScene& scene, model::Metres along, model::Metres across,
                         double x, double y, double sd, std::mt19937& random);

/// Which end of hips and shoulders is farther from the camera at these frames, from the bones.
model::BodyTurns trueTurns(const FilmScene& scene, const std::map<std::string, int>& frames);

} // namespace kestrel::demo
