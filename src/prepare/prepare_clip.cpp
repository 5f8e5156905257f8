#include "prepare/prepare_clip.h"

#include "model/input_error.h"
#include "prepare/circumstances.h"
#include "prepare/found_view.h"
#include "prepare/rep_body.h"
#include "prepare/reps_in_film.h"
#include "track/camera/film_study.h"
#include "track/files/evidence_file.h"

#include <algorithm>

namespace kestrel::prepare {
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
    const FilmLook look{work, pack, index, prepared.study, networks, size, circumstances, tell};
    const auto seen = repsInFilm(look, studyShare, seenShare);
    if (!seen) {
        return std::nullopt;
    }
    for (const RepEvidence& one : *seen) {
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
