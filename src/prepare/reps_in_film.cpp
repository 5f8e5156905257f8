#include "prepare/reps_in_film.h"

#include "film/rep_finder.h"
#include "prepare/found_view.h"

#include <algorithm>
#include <iterator>
#include <string>
#include <utility>

namespace kestrel::prepare {
namespace {

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
    const auto spans = film::findReps(study, time);
    for (std::size_t i = 0; i < spans.size(); ++i) {
        if (i > 0) {
            reps.push_back(nextOf(reps.front(), i));
        }
        reps[i].span = spans[i];
    }
    return reps;
}

track::Evidence within(const track::Evidence& evidence, model::FrameSpan span) {
    track::Evidence part{evidence.bodyPx, {}};
    part.frames.insert(evidence.frames.lower_bound(span.first),
                       evidence.frames.upper_bound(span.last));
    return part;
}

/// Whether the player was lost for a part of a rep that matters.
bool isOftenLost(const RepEvidence& seen) {
    constexpr double share = 0.2;
    const auto& frames = seen.evidence->frames;
    const auto lost = std::count_if(frames.begin(), frames.end(), [](const auto& frame) {
        return frame.second.proposals.empty();
    });
    return static_cast<double>(lost) > share * static_cast<double>(frames.size());
}

/// What is seen of the player in a stretch. Nothing when cancelled; throws NobodyFound.
std::optional<track::Evidence> seenIn(const FilmLook& look, model::FrameSpan span, double from,
                                      double to) {
    track::SubjectSeed seed;
    seed.frame = (span.first + span.last) / 2;
    seed.mover = look.study.mover;
    return track::gatherEvidence(
        look.index, span, seed, look.networks, look.size,
        [&](int frames, int all) { return look.tell(from + (to - from) * frames / all); });
}

/// Whether it may be a rep of the technique.
bool mayBeRep(const FilmLook& look, const RepEvidence& seen) {
    if (!seen.evidence) {
        return false;
    }
    const auto like =
        likeness(look.pack, look.work.player, *seen.evidence, look.circumstances(seen.rep));
    return !like || like->unlikeness < mostUnlike;
}

/// Leaves out what is no rep of the technique, unless nothing is.
void leaveOutOthers(const FilmLook& look, std::vector<RepEvidence>& seen) {
    std::vector<RepEvidence> reps;
    std::copy_if(seen.begin(), seen.end(), std::back_inserter(reps),
                 [&](const RepEvidence& s) { return mayBeRep(look, s); });
    if (reps.empty()) {
        return;
    }
    for (std::size_t i = 0; i < reps.size(); ++i) {
        const std::optional<model::FrameSpan> span = reps[i].rep.span;
        reps[i].rep = i == 0 ? look.work.reps.front() : nextOf(look.work.reps.front(), i);
        reps[i].rep.span = span;
    }
    seen = std::move(reps);
}

/// The same of a short film that nobody has cut, looked at in one go; nothing where the player was
/// lost on the way, as in a film that jumps. `stopped` becomes true when cancelled.
std::vector<RepEvidence> seenInOneGo(const FilmLook& look, const std::vector<model::Rep>& reps,
                                     double from, double to, bool& stopped) {
    std::vector<RepEvidence> seen;
    try {
        const auto all = seenIn(look, {0, look.index.frameCount() - 1}, from, to);
        stopped = !all;
        if (stopped) {
            return {};
        }
        for (const model::Rep& rep : reps) {
            seen.push_back({rep, within(*all, *rep.span)});
        }
        if (std::any_of(seen.begin(), seen.end(), isOftenLost)) {
            return {};
        }
        leaveOutOthers(look, seen);
        if (seen.size() == 1) {
            seen.front() = {look.work.reps.front(), *all};
        }
    } catch (const track::NobodyFound&) {
        return {}; // perhaps somebody is in one of the parts alone
    }
    return seen;
}

} // namespace

bool isMarked(const model::Rep& rep) {
    return !rep.positions.empty() || !rep.landmarks.empty() || !rep.observations.empty();
}

std::optional<std::vector<RepEvidence>> repsInFilm(const FilmLook& look, double from, double to) {
    constexpr model::Seconds shortFilm(10.0);
    const model::ClipTime time = look.circumstances(look.work.reps.front()).time;
    const std::vector<model::Rep> reps = repsToLookAt(look.work, look.study, time);
    const bool cutHere = !look.work.reps.front().span && reps.front().span;
    const bool isShort = time.fieldTimes().back() - time.fieldTimes().front() <= shortFilm;
    if (cutHere && isShort && model::isOneTake(look.study)) {
        bool stopped = false;
        auto seen = seenInOneGo(look, reps, from, to, stopped);
        if (stopped) {
            return std::nullopt;
        }
        if (!seen.empty()) {
            return seen;
        }
    }
    std::vector<RepEvidence> seen;
    const double each = (to - from) / static_cast<double>(reps.size());
    for (const model::Rep& rep : reps) {
        const double begun = from + each * static_cast<double>(seen.size());
        const model::FrameSpan whole{0, look.index.frameCount() - 1};
        RepEvidence one{rep, {}};
        try {
            one.evidence = seenIn(look, rep.span.value_or(whole), begun, begun + each);
            if (!one.evidence) {
                return std::nullopt;
            }
        } catch (const track::NobodyFound&) {
            // The coach will have to say who it is; the other reps are prepared all the same.
        }
        seen.push_back(std::move(one));
    }
    if (cutHere) {
        leaveOutOthers(look, seen);
    }
    return seen;
}

} // namespace kestrel::prepare
