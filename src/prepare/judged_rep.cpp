#include "prepare/judged_rep.h"

#include "prepare/circumstances.h"
#include "prepare/second_view.h"
#include "technique/kinds/course.h"
#include "track/files/evidence_file.h"

#include <algorithm>
#include <stdexcept>

namespace kestrel::prepare {
namespace {

using CircumstancesOrNot = std::variant<technique::Circumstances, NotJudged>;

/// Those of one film alone.
CircumstancesOrNot ofOneFilm(const JudgeSources& sources, const model::Player& player,
                             const model::Clip& clip, const model::Rep& rep) {
    const KnownFilm film = sources.filmOf(clip);
    if (const auto* why = std::get_if<NotJudged>(&film)) {
        return *why;
    }
    const film::FilmIndex index = readAsTheClipSays(clip, *std::get<const film::FilmIndex*>(film));
    const technique::Pack& pack = sources.packOf(rep);
    technique::Circumstances circumstances = circumstancesOf(
        pack, player, clip, rep, index,
        clip.steadied ? sources.library.study(clip.id) : std::nullopt, sources.today());
    auto work = bodyWork(pack, player, rep, circumstances, index.width, index.height);
    if (work && !work->usual && sources.library.evidence(rep.id).empty()) {
        work.reset(); // too many bodies explain the same landmarks where nothing tells depth
    }
    const RepBody kept = keptBody(sources.library, rep.id, work);
    circumstances.body = kept.body;
    circumstances.bodyOutdated = kept.outdated;
    return circumstances;
}

void addOtherFilm(const JudgeSources& sources, const model::Player& player, const model::Clip& clip,
                  const model::Rep& rep, technique::Circumstances& circumstances) {
    const auto otherId = sources.library.pairOf(clip.id);
    const auto other = otherId ? sources.library.clip(*otherId) : std::nullopt;
    if (!other) {
        return;
    }
    // Reps of both films follow each other in the same order.
    const auto own = sources.library.reps(clip.id);
    const auto theirs = sources.library.reps(other->id);
    const auto place =
        std::find_if(own.begin(), own.end(), [&](const model::Rep& r) { return r.id == rep.id; }) -
        own.begin();
    if (place >= static_cast<std::ptrdiff_t>(theirs.size())) {
        circumstances.secondReason = model::message("second.fewer_reps");
        return;
    }
    const model::Rep& same = theirs[static_cast<std::size_t>(place)];
    model::Rep asOwn = same; // judged with the pack of this rep, whatever edition theirs keeps
    asOwn.packEdition = rep.packEdition;
    asOwn.techniqueId = rep.techniqueId;
    const CircumstancesOrNot seen = ofOneFilm(sources, player, *other, asOwn);
    if (const auto* why = std::get_if<NotJudged>(&seen)) {
        circumstances.secondReason =
            model::message(*why == NotJudged::filmBeingRead ? "second.being_read"
                           : *why == NotJudged::filmMissing ? "second.missing"
                                                            : "second.unreadable");
        return;
    }
    addSecondView(circumstances, same, std::get<technique::Circumstances>(seen),
                  sources.library.syncOffset(clip.id));
}

} // namespace

CircumstancesOrNot circumstancesOf(const JudgeSources& sources, const model::Player& player,
                                   const model::Clip& clip, const model::Rep& rep) {
    CircumstancesOrNot found = ofOneFilm(sources, player, clip, rep);
    if (auto* circumstances = std::get_if<technique::Circumstances>(&found)) {
        addOtherFilm(sources, player, clip, rep, *circumstances);
    }
    return found;
}

std::optional<BodyWork> bodyToWorkOut(const JudgeSources& sources, const model::Player& player,
                                      const model::Clip& clip, const model::Rep& rep) {
    const CircumstancesOrNot found = ofOneFilm(sources, player, clip, rep);
    const auto* circumstances = std::get_if<technique::Circumstances>(&found);
    if (circumstances == nullptr || !circumstances->bodyOutdated) {
        return std::nullopt;
    }
    const auto index =
        readAsTheClipSays(clip, *std::get<const film::FilmIndex*>(sources.filmOf(clip)));
    const auto evidence = track::evidenceFromBytes(sources.library.evidence(rep.id));
    return bodyWork(sources.packOf(rep), player, rep, *circumstances, index.width, index.height,
                    evidence ? &*evidence : nullptr);
}

JudgedRep judgedRep(const JudgeSources& sources, const model::Player& player,
                    const model::Clip& clip, const model::Rep& rep) {
    JudgedRep judged;
    judged.player = player;
    judged.clip = clip;
    judged.rep = rep;
    judged.pack = &sources.packOf(rep);
    CircumstancesOrNot found = circumstancesOf(sources, player, clip, rep);
    if (const auto* why = std::get_if<NotJudged>(&found)) {
        judged.notJudged = *why;
        return judged;
    }
    judged.circumstances = std::move(std::get<technique::Circumstances>(found));
    judged.review = coaching::reviewOf(*judged.pack, rep, judged.circumstances);
    return judged;
}

coaching::RepOfVisit ofVisit(const JudgedRep& judged) {
    if (judged.notJudged) {
        throw std::logic_error("a rep that is not judged has no part in a visit's review");
    }
    return {judged.rep.id, judged.review.readings, judged.rep.observations,
            judged.circumstances.schools};
}

coaching::TimedCourse courseOf(const JudgedRep& judged, const std::string& measureId) {
    coaching::TimedCourse timed;
    const technique::Measure* measure = technique::findMeasure(*judged.pack, measureId);
    if (measure == nullptr || judged.notJudged) {
        return timed;
    }
    const std::vector<model::Seconds>& times = judged.circumstances.time.fieldTimes();
    for (const auto& [position, frame] : model::allPositions(judged.rep)) {
        timed.positions[position] = times[static_cast<std::size_t>(frame)].value;
    }
    timed.course = technique::courseOfMeasure(
        *judged.pack, judged.rep, judged.circumstances, *measure,
        judged.rep.span.value_or(model::FrameSpan{0, judged.circumstances.time.frameCount() - 1}));
    return timed;
}

} // namespace kestrel::prepare
