#pragma once

#include "model/clip_time.h"
#include "model/film_study.h"

#include <vector>

namespace kestrel::film {

/// Repetitions in a clip, proposed from what moves in it: bursts between quiet stances, each with a
/// little quiet at both ends, in order and without overlap. A burst much weaker than the strongest
/// (walking back, waving) is none, and none goes on over a cut or a dark stretch; over a held
/// picture it does. Empty when nothing stands out.
std::vector<model::FrameSpan> findReps(const model::FilmStudy& study, const model::ClipTime& time);

} // namespace kestrel::film
