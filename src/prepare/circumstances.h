#pragma once

#include "film/film_index.h"
#include "model/record.h"
#include "technique/judge/evaluate.h"

#include <optional>

namespace kestrel::prepare {

/// All that a judgement of a rep depends on besides its marks: of player, clip and rep, and of its
/// film how time runs in it and, when paths are to be freed of the camera's own motion and `study`
/// is there, how the camera moved; from what is marked on the ground how the camera sees it, with
/// the places of `pack`. `index` reads the film as the clip says, as fields or not.
/// `today` gives the age when the day of filming is not known.
technique::Circumstances circumstancesOf(const technique::Pack& pack, const model::Player& player,
                                         const model::Clip& clip, const model::Rep& rep,
                                         const film::FilmIndex& index,
                                         const std::optional<model::FilmStudy>& study,
                                         model::Day today);

/// The same for a film of which only the times of its frames and the size of its pictures are
/// known.
technique::Circumstances circumstancesOf(const technique::Pack& pack, const model::Player& player,
                                         const model::Clip& clip, const model::Rep& rep,
                                         const model::ClipTime& time, int width, int height,
                                         const std::optional<model::FilmStudy>& study,
                                         model::Day today);

/// How fast the camera was, when the file leaves no doubt about it: a film that cannot be slow
/// motion was taken as it plays. What the clip says already is kept.
void settleCaptureRate(model::Clip& clip, const film::FilmIndex& index);

/// The index of a clip's film, read as the clip says: interlaced film as fields, or not.
film::FilmIndex readAsTheClipSays(const model::Clip& clip, const film::FilmIndex& index);

} // namespace kestrel::prepare
