#pragma once

#include "film/film_index.h"
#include "model/film_study.h"

#include <functional>
#include <optional>

namespace kestrel::track {

/// Called with the frame done; returning false cancels.
using StudyProgress = std::function<bool(int frame)>;

/// The first pass over a film: motion energy, exposure, where things move, and how the camera
/// moved. Nothing when `progress` cancelled. Throws model::InputError when the film cannot be read.
std::optional<model::FilmStudy> studyFilm(const film::FilmIndex& index,
                                          const StudyProgress& progress = {});

} // namespace kestrel::track
