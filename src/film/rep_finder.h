#pragma once

#include "model/clip_time.h"
#include "model/film_study.h"

#include <span>
#include <vector>

namespace kestrel::film {

/// Repetitions in a clip, proposed from its motion energy (model::FilmStudy::energy): bursts
/// between quiet stances, each with a little quiet at both ends, in order and without overlap. A
/// burst much weaker than the strongest (walking back, waving) is none. Empty when nothing stands
/// out.
std::vector<model::FrameSpan> findReps(std::span<const float> energy, const model::ClipTime& time);

} // namespace kestrel::film
