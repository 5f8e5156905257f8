#pragma once

#include "film/film_index.h"
#include "model/record.h"
#include "pose/pose_files.h"
#include "prepare/machine_marks.h"
#include "records/library.h"

#include <cstdint>
#include <filesystem>
#include <functional>
#include <optional>
#include <vector>

/// All that the machine can do for a clip while nobody watches: the first pass over the film, reps,
/// landmarks, key positions. Nothing that a coach marked is touched.
namespace kestrel::prepare {

/// A clip to prepare, taken out of the library so that another thread can work on it.
struct ClipWork {
    std::filesystem::path film;
    model::Player player;
    model::Clip clip;
    std::vector<model::Rep> reps; ///< in order; those already looked at or marked are left alone
    std::vector<model::RepId> lookedAt; ///< reps whose evidence is kept
    std::optional<model::FilmStudy> study;
};

struct PreparedRep {
    model::Rep rep;
    bool isNew = false;                 ///< the film's motion shows it and nobody had cut it yet
    std::vector<std::uint8_t> evidence; ///< track::toBytes; empty: nobody was found in it
    MachineMarks marks;
    records::KeptBody body; ///< with an empty key: the marks make none
};

struct PreparedClip {
    model::Clip clip; ///< with its capture rate and view, where the film leaves no doubt
    model::FilmStudy study;
    std::vector<PreparedRep> reps;
};

/// Called with the share done, 0…1; returning false cancels.
using PrepareProgress = std::function<bool(double share)>;

/// The clip as work, or nothing when every rep of it is looked at or marked.
std::optional<ClipWork> workOn(const records::Library& library, const model::Clip& clip);

/// Does the work; touches no library, so it may run on any thread. A clip with one unmarked rep
/// over the whole of it is cut into those reps that its motion shows and that look like the
/// technique, unless it is short and shows one. A rep in which nobody is found comes back without
/// marks. Nothing when cancelled. Throws
/// model::InputError when the film or a network cannot be read.
std::optional<PreparedClip> prepareClip(const ClipWork& work, const technique::Pack& pack,
                                        const std::filesystem::path& networks, pose::PoseSize size,
                                        model::Day today, const PrepareProgress& progress = {});

/// Stores what was prepared, as one change. Reps that were removed since the work was taken out, or
/// looked at by a machine, are left as they are. Of those that a coach marked meanwhile only what
/// was seen is kept beside the marks. These are returned, to be weighed anew (marks_anew.h), and so
/// are all reps where something else is said of the clip by now. New reps get their id in
/// `prepared`, and the same id again when they are stored a second time after having been removed.
std::vector<model::RepId> store(records::Library& library, PreparedClip& prepared);

/// Takes back what store() did: new reps go, the others are as `before`. The first pass over the
/// film stays, and so do capture rate and found view: they are facts of the film.
void takeBack(records::Library& library, const PreparedClip& prepared, const ClipWork& before);

} // namespace kestrel::prepare
