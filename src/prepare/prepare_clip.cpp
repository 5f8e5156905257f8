#include "prepare/prepare_clip.h"

#include "film/rep_finder.h"
#include "model/input_error.h"
#include "prepare/circumstances.h"
#include "prepare/found_view.h"
#include "prepare/rep_body.h"
#include "track/camera/film_study.h"
#include "track/files/evidence_file.h"

#include <algorithm>
#include <iterator>

namespace kestrel::prepare {
namespace {

bool isMarked(const model::Rep& rep) {
    return !rep.positions.empty() || !rep.landmarks.empty() || !rep.observations.empty();
}

/// Another rep of the same clip, which nobody has cut yet: number `i`, from 0.
model::Rep nextOf(model::Rep first, std::size_t i) {
    first.id = {};
    first.title = "Rep " + std::to_string(i + 1);
    return first;
}

/// The reps to look at: those nobody marked; a single one over the whole clip gives way to those
/// that the film's motion shows.
std::vector<model::Rep> repsToLookAt(const ClipWork& work, const model::FilmStudy& study,
                                     const model::ClipTime& time) {
    std::vector<model::Rep> reps;
    for (const model::Rep& rep : work.reps) {
        const bool looked =
            std::find(work.lookedAt.begin(), work.lookedAt.end(), rep.id) != work.lookedAt.end();
        if (!looked && !isMarked(rep)) {
            reps.push_back(rep);
        }
    }
    if (work.reps.size() != 1 || reps.size() != 1 || reps.front().span) {
        return reps;
    }
    const auto spans = film::findReps(study.energy, time);
    for (std::size_t i = 0; i < spans.size(); ++i) {
        if (i > 0) {
            reps.push_back(nextOf(reps.front(), i));
        }
        reps[i].span = spans[i];
    }
    return reps;
}

/// A rep and what was seen in it; nothing when nobody was found there.
struct SeenRep {
    model::Rep rep;
    std::optional<track::Evidence> evidence;
};

track::Evidence within(const track::Evidence& evidence, model::FrameSpan span) {
    track::Evidence part{evidence.bodyPx, {}};
    part.frames.insert(evidence.frames.lower_bound(span.first),
                       evidence.frames.upper_bound(span.last));
    return part;
}

/// Whether the player was lost for a part of a rep that matters.
bool isOftenLost(const SeenRep& seen) {
    constexpr double share = 0.2;
    const auto& frames = seen.evidence->frames;
    const auto lost = std::count_if(frames.begin(), frames.end(), [](const auto& frame) {
        return frame.second.proposals.empty();
    });
    return static_cast<double>(lost) > share * static_cast<double>(frames.size());
}

/// What of a film is looked at, and how far that is.
struct Looking {
    const ClipWork& work;
    const technique::Pack& pack;
    const film::FilmIndex& index;
    const model::FilmStudy& study;
    std::filesystem::path networks;
    pose::PoseSize size;
    std::function<technique::Circumstances(const model::Rep&)> circumstances;
    PrepareProgress tell; ///< of the whole

    /// What is seen of the player in a stretch. Nothing when cancelled; throws NobodyFound.
    [[nodiscard]] std::optional<track::Evidence> in(model::FrameSpan span, double from,
                                                    double to) const {
        track::SubjectSeed seed;
        seed.frame = (span.first + span.last) / 2;
        seed.mover = study.mover;
        return track::gatherEvidence(index, span, seed, networks, size, [&](int frames, int all) {
            return tell(from + (to - from) * frames / all);
        });
    }

    /// Whether what was seen may be a rep of the technique: what a player does before and after
    /// moves the picture, too.
    [[nodiscard]] bool mayBeRep(const SeenRep& seen) const {
        const auto like = seen.evidence
                              ? likeness(pack, work.player, *seen.evidence, circumstances(seen.rep))
                              : std::nullopt;
        return !like || like->unlikeness < mostUnlike;
    }
};

/// Leaves out what is no rep of the technique, unless nothing is.
void leaveOutOthers(const Looking& looking, std::vector<SeenRep>& seen) {
    std::vector<SeenRep> reps;
    std::copy_if(seen.begin(), seen.end(), std::back_inserter(reps),
                 [&](const SeenRep& s) { return s.evidence && looking.mayBeRep(s); });
    if (reps.empty()) {
        return;
    }
    for (std::size_t i = 0; i < reps.size(); ++i) {
        const std::optional<model::FrameSpan> span = reps[i].rep.span;
        reps[i].rep = i == 0 ? looking.work.reps.front() : nextOf(looking.work.reps.front(), i);
        reps[i].rep.span = span;
    }
    seen = std::move(reps);
}

/// The reps with what is seen in them. Where nobody has cut the film those that are none of the
/// technique are left out; a short film of one rep is looked at as a whole, for what is held still
/// at the end of it belongs to the rep. Nothing when cancelled.
std::optional<std::vector<SeenRep>>
lookAt(const Looking& looking, const std::vector<model::Rep>& reps, double from, double to) {
    constexpr model::Seconds shortFilm(10.0);
    const model::FrameSpan whole{0, looking.index.frameCount() - 1};
    const bool cutHere = !looking.work.reps.front().span && reps.front().span;
    const auto& times = looking.circumstances(looking.work.reps.front()).time.fieldTimes();
    const bool isShort = times.back() - times.front() <= shortFilm;
    std::vector<SeenRep> seen;
    try {
        if (cutHere && isShort) {
            const auto all = looking.in(whole, from, to);
            if (!all) {
                return std::nullopt;
            }
            for (const model::Rep& rep : reps) {
                seen.push_back({rep, within(*all, *rep.span)});
            }
            if (std::any_of(seen.begin(), seen.end(), isOftenLost)) {
                seen.clear(); // the film jumps there
            }
            leaveOutOthers(looking, seen);
            if (seen.size() == 1) {
                seen.front() = {looking.work.reps.front(), *all};
            }
        }
    } catch (const track::NobodyFound&) {
        seen.clear(); // perhaps somebody is in one of the parts alone
    }
    if (!seen.empty()) {
        return seen;
    }
    for (std::size_t i = 0; i < reps.size(); ++i) {
        const auto share = [&](std::size_t done) {
            return from +
                   (to - from) * static_cast<double>(done) / static_cast<double>(reps.size());
        };
        SeenRep one{reps[i], {}};
        try {
            one.evidence = looking.in(reps[i].span.value_or(whole), share(i), share(i + 1));
            if (!one.evidence) {
                return std::nullopt;
            }
        } catch (const track::NobodyFound&) {
            // The coach will have to say who it is; the other reps are prepared all the same.
        }
        seen.push_back(std::move(one));
    }
    if (cutHere) {
        leaveOutOthers(looking, seen);
    }
    return seen;
}

} // namespace

std::optional<ClipWork> workOn(const records::Library& library, const model::Clip& clip) {
    ClipWork work;
    work.film = library.clipFile(clip);
    work.player = *library.player(clip.playerId);
    work.clip = clip;
    work.reps = library.reps(clip.id);
    work.study = library.study(clip.id);
    bool open = false;
    for (const model::Rep& rep : work.reps) {
        if (!library.evidence(rep.id).empty()) {
            work.lookedAt.push_back(rep.id);
        } else if (!isMarked(rep)) {
            open = true;
        }
    }
    return open ? std::optional(std::move(work)) : std::nullopt;
}

std::optional<PreparedClip> prepareClip(const ClipWork& work, const technique::Pack& pack,
                                        const std::filesystem::path& networks, pose::PoseSize size,
                                        model::Day today, const PrepareProgress& progress) {
    // Of all the time the first pass takes about a tenth, and bodies a fifth.
    constexpr double studyShare = 0.1;
    constexpr double seenShare = 0.8;
    const auto tell = [&](double share) { return !progress || progress(share); };
    PreparedClip prepared;
    prepared.clip = work.clip;
    const film::FilmIndex index = readAsTheClipSays(work.clip, film::buildIndex(work.film));
    settleCaptureRate(prepared.clip, index);
    if (work.study) {
        prepared.study = *work.study;
    } else {
        const auto study = track::studyFilm(
            index, [&](int frame) { return tell(studyShare * frame / index.frameCount()); });
        if (!study) {
            return std::nullopt;
        }
        prepared.study = *study;
    }
    const auto circumstances = [&](const model::Rep& rep) {
        return circumstancesOf(pack, work.player, prepared.clip, rep, index, prepared.study, today);
    };
    const Looking looking{work, pack, index, prepared.study, networks, size, circumstances, tell};
    const auto seen =
        lookAt(looking, repsToLookAt(work, prepared.study, circumstances(work.reps.front()).time),
               studyShare, seenShare);
    if (!seen) {
        return std::nullopt;
    }
    for (const SeenRep& one : *seen) {
        if (one.evidence && !prepared.clip.view && !prepared.clip.foundView) {
            prepared.clip.foundView =
                foundView(pack, work.player, *one.evidence, circumstances(one.rep));
        }
    }
    for (std::size_t i = 0; i < seen->size(); ++i) {
        model::Rep marked = (*seen)[i].rep;
        PreparedRep done{marked, !marked.id.stored(), {}, {}, {}};
        if (const auto& evidence = (*seen)[i].evidence) {
            done.evidence = track::toBytes(*evidence);
            done.marks = marksFrom(*evidence, pack, marked, circumstances(marked));
            marked.found = done.marks.positions;
            marked.landmarks = done.marks.landmarks;
            if (const auto body = bodyWork(pack, work.player, marked, circumstances(marked),
                                           index.width, index.height, &*evidence)) {
                const auto bytes = fittedBody(*body, [&](double share) {
                    const auto all = static_cast<double>(seen->size());
                    return tell(seenShare +
                                (1.0 - seenShare) * (static_cast<double>(i) + share) / all);
                });
                if (!bytes) {
                    return std::nullopt;
                }
                done.body = {body->key, *bytes};
            }
        }
        tell(seenShare +
             (1.0 - seenShare) * static_cast<double>(i + 1) / static_cast<double>(seen->size()));
        prepared.reps.push_back(std::move(done));
    }
    return prepared;
}

std::vector<model::RepId> store(records::Library& library, PreparedClip& prepared) {
    std::vector<model::RepId> changed;
    library.atomically([&] {
        const auto clip = library.clip(prepared.clip.id);
        if (!clip) {
            return; // removed meanwhile
        }
        model::Clip stored = *clip;
        if (!stored.captureRate && stored.speeds.empty()) {
            stored.captureRate = prepared.clip.captureRate;
        }
        if (!stored.foundView) {
            stored.foundView = prepared.clip.foundView;
        }
        library.save(stored);
        library.save(stored.id, prepared.study);
        const bool isAsItWas = stored == prepared.clip;
        for (PreparedRep& done : prepared.reps) {
            model::Rep rep = done.rep;
            if (!done.isNew) {
                const auto now = library.rep(rep.id);
                if (!now || !library.evidence(rep.id).empty()) {
                    continue;
                }
                if (isMarked(*now)) {
                    if (!done.evidence.empty()) {
                        library.setEvidence(rep.id, done.evidence);
                        changed.push_back(rep.id);
                    }
                    continue;
                }
                rep = *now;
                rep.span = done.rep.span;
            }
            rep.found = done.marks.positions;
            done.rep.id = library.save(rep);
            if (!done.evidence.empty()) {
                library.setEvidence(done.rep.id, done.evidence);
                library.setMachineLandmarks(done.rep.id, done.marks.landmarks);
                library.setBodyTurns(done.rep.id, done.marks.bodyTurns);
                if (!done.body.key.empty()) {
                    library.setBody(done.rep.id, done.body);
                }
                if (!isAsItWas) {
                    changed.push_back(done.rep.id);
                }
            }
        }
    });
    return changed;
}

void takeBack(records::Library& library, const PreparedClip& prepared, const ClipWork& before) {
    library.atomically([&] {
        for (const PreparedRep& done : prepared.reps) {
            const auto old =
                std::find_if(before.reps.begin(), before.reps.end(),
                             [&](const model::Rep& rep) { return rep.id == done.rep.id; });
            if (old == before.reps.end()) {
                library.removeRep(done.rep.id);
            } else if (library.rep(old->id)) {
                library.save(*old);
                library.setEvidence(old->id, {});
            }
        }
    });
}

} // namespace kestrel::prepare
