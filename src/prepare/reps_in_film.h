#pragma once

#include "film/film_index.h"
#include "model/film_study.h"
#include "pose/pose_files.h"
#include "prepare/prepare_clip.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"
#include "track/person/evidence.h"

#include <filesystem>
#include <functional>
#include <optional>
#include <vector>

/// Which reps a film shows, and what is seen in them. Only within this room.
namespace kestrel::prepare {

/// Whether a coach has said anything of a rep.
bool isMarked(const model::Rep& rep);

/// A rep and what was seen in it; nothing when nobody was found there.
struct RepEvidence {
    model::Rep rep;
    std::optional<track::Evidence> evidence;
};

/// A film to be looked at, and with what.
struct FilmLook {
    const ClipWork& work;
    const technique::Pack& pack;
    const film::FilmIndex& index;
    const model::FilmStudy& study;
    std::filesystem::path networks;
    pose::PoseSize size;
    std::function<technique::Circumstances(const model::Rep&)> circumstances;
    PrepareProgress tell; ///< of the whole work
};

/// The reps that are still to be looked at, with what is seen in them; progress goes from `from` to
/// `to`. Where nobody has cut the film it is cut by what moves, and what is none of the technique
/// (found_view.h) is left out: what a player does before and after moves the picture, too. A short
/// film of one rep in one take stays whole, for what is held still at its end belongs to the rep.
/// Nothing when cancelled. Throws model::InputError when the film or a network cannot be read.
std::optional<std::vector<RepEvidence>> repsInFilm(const FilmLook& look, double from, double to);

} // namespace kestrel::prepare
