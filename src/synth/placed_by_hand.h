#pragma once

#include "model/record.h"
#include "synth/film_render.h"
#include "technique/pack/ground_place.h"

#include <map>
#include <random>
#include <string>

/// What a careful coach would mark on a film of the synthetic player, and what a network would say
/// of its turns.
namespace kestrel::synth {

/// A rep with the true positions and, in all frames, the true landmarks off by a normal error of
/// `sd` pixels per axis.
model::Rep placedRep(const FilmSpec& spec, double sd, std::mt19937& random);

/// Moves heels and toes as if they had been marked so far above or below the ground (normal, per
/// foot end and frame, metres): an eye takes the end of the sole for them.
void markSolesOff(model::Rep& rep, const FilmScene& scene, double sdM, std::mt19937& random);

/// Four cones as the coach's own rectangle, its rear right corner at (x, y) of the scene's ground,
/// marked with such an error.
model::GroundMarks cones(const FilmScene& scene, model::Metres along, model::Metres across,
                         double x, double y, double sd, std::mt19937& random);

/// The points of a pack's place, its origin at (x, y) of the scene's ground, likewise; those that
/// the camera does not see are left out.
model::GroundMarks markedPlace(const FilmScene& scene, const technique::GroundPlace& place,
                               double x, double y, double sd, std::mt19937& random);

/// Which end of hips and shoulders is farther from the camera, in all frames, from the bones.
model::BodyTurns trueTurns(const FilmScene& scene);

} // namespace kestrel::synth
