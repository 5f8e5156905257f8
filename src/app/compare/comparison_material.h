#pragma once

#include "desk/comparison.h"
#include "desk/film_indices.h"
#include "desk/open_clip.h"
#include "report/comparison_sheet.h"
#include "report/review_film.h"

namespace kestrel::app {

/// What sheet and film of a comparison are made from; there is another rep. Films are opened, and
/// the pose model is drawn, when the first picture is asked for. Call it on the interface thread.
report::ComparisonMaterial comparisonMaterialOf(const desk::OpenClip& open,
                                                const desk::Comparison& comparison,
                                                desk::FilmIndices& films, bool mirrored,
                                                bool blurFaces);

/// The film that walks through both; its script is empty when they share too few key positions.
report::ReviewFilm comparisonFilmOf(const report::ComparisonMaterial& material,
                                    const desk::OpenClip& open);

} // namespace kestrel::app
