#include "prepare/prepare_clip.h"

#include "film/rep_finder.h"
#include "model/input_error.h"
#include "prepare/circumstances.h"
#include "prepare/rep_body.h"
#include "track/camera/film_study.h"
#include "track/files/evidence_file.h"

#include <algorithm>

namespace kestrel::prepare {
namespace {

bool isMarked(const model::Rep& rep) {
    return !rep.positions.empty() || !rep.landmarks.empty() || !rep.observations.empty();
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
            model::Rep another = reps.front();
            another.id = {}; // nobody has cut it yet
            another.title = "Rep " + std::to_string(i + 1);
            reps.push_back(std::move(another));
        }
        reps[i].span = spans[i];
    }
    return reps;
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
    // The first pass takes about a tenth of the time that the networks take.
    constexpr double studyShare = 0.1;
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
    const std::vector<model::Rep> reps =
        repsToLookAt(work, prepared.study, circumstances(work.reps.front()).time);
    const auto shareDone = [&](double repsDone) {
        return studyShare + (1.0 - studyShare) * repsDone / static_cast<double>(reps.size());
    };
    for (std::size_t i = 0; i < reps.size(); ++i) {
        PreparedRep done{reps[i], !reps[i].id.stored(), {}, {}, {}};
        const model::FrameSpan span =
            reps[i].span.value_or(model::FrameSpan{0, index.frameCount() - 1});
        track::SubjectSeed seed;
        seed.frame = (span.first + span.last) / 2;
        seed.mover = prepared.study.mover;
        try {
            const auto evidence =
                track::gatherEvidence(index, span, seed, networks, size, [&](int frames, int all) {
                    const double ofRep = static_cast<double>(frames) / all;
                    return tell(shareDone(static_cast<double>(i) + ofRep));
                });
            if (!evidence) {
                return std::nullopt;
            }
            done.evidence = track::toBytes(*evidence);
            done.marks = marksFrom(*evidence, pack, reps[i], circumstances(reps[i]));
            model::Rep marked = reps[i];
            marked.found = done.marks.positions;
            marked.landmarks = done.marks.landmarks;
            if (const auto body = bodyWork(pack, work.player, marked, circumstances(marked),
                                           index.width, index.height, &*evidence)) {
                const auto bytes = fittedBody(
                    *body, [&](double) { return tell(shareDone(static_cast<double>(i + 1))); });
                if (!bytes) {
                    return std::nullopt;
                }
                done.body = {body->key, *bytes};
            }
        } catch (const track::NobodyFound&) {
            // The coach will have to say who it is; the other reps are prepared all the same.
        }
        prepared.reps.push_back(std::move(done));
    }
    return prepared;
}

void store(records::Library& library, PreparedClip& prepared) {
    library.atomically([&] {
        const auto clip = library.clip(prepared.clip.id);
        if (!clip) {
            return; // removed meanwhile
        }
        model::Clip stored = *clip;
        if (!stored.captureRate && stored.speeds.empty()) {
            stored.captureRate = prepared.clip.captureRate;
            library.save(stored);
        }
        library.save(stored.id, prepared.study);
        for (PreparedRep& done : prepared.reps) {
            model::Rep rep = done.rep;
            if (!done.isNew) {
                const auto now = library.rep(rep.id);
                if (!now || isMarked(*now)) {
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
            }
        }
    });
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
