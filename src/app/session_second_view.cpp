#include "app/background.h"
#include "app/session.h"
#include "app/session_open.h"
#include "film/sound_step.h"
#include "model/input_error.h"
#include "prepare/circumstances.h"
#include "technique/two_views.h"

#include <algorithm>
#include <cmath>

/// The same motion filmed from two places.
namespace kestrel::app {

std::vector<model::Clip> Session::possibleSecondViews() const {
    std::vector<model::Clip> possible;
    for (const model::Clip& clip : library_.clips(open_->player.id)) {
        const auto reps = library_.reps(clip.id);
        if (clip.id != open_->clip.id && clip.filmed == open_->clip.filmed && !reps.empty() &&
            reps.front().techniqueId == open_->rep.techniqueId) {
            possible.push_back(clip);
        }
    }
    return possible;
}

void Session::addSecondView(const model::Clip& clip, const model::Rep& rep,
                            technique::Circumstances& circumstances) const {
    const auto otherId = library_.pairOf(clip.id);
    const auto other = otherId ? library_.clip(*otherId) : std::nullopt;
    if (!other) {
        return;
    }
    // Reps of both films follow each other in the same order.
    const auto own = library_.reps(clip.id);
    const auto theirs = library_.reps(other->id);
    const auto place =
        std::find_if(own.begin(), own.end(), [&](const model::Rep& r) { return r.id == rep.id; }) -
        own.begin();
    if (place >= static_cast<std::ptrdiff_t>(theirs.size())) {
        circumstances.secondReason =
            "The other film has fewer reps than this one, so that this rep is not in it.";
        return;
    }
    const model::Rep& same = theirs[static_cast<std::size_t>(place)];
    try {
        const technique::Circumstances seen = prepare::circumstancesOf(
            packOf(rep), *library_.player(clip.playerId), *other, same,
            prepare::readAsTheClipSays(*other, indexOf(*other)),
            other->steadied ? library_.study(other->id) : std::nullopt, {});
        if (!seen.ground) {
            circumstances.secondReason =
                seen.groundReason.empty()
                    ? "Mark the ground of the other film, too: the same place as in this one."
                    : "The ground of the other film: " + seen.groundReason;
            return;
        }
        const double interval =
            seen.time.frameCount() > 1 ? model::frameInterval(seen.time, 0).value : 0.0;
        auto heard = library_.heardStep(clip.id);
        if (heard && circumstances.ground) {
            heard = technique::lightFromSound(*heard, circumstances.ground->fit.camera,
                                              seen.ground->fit.camera);
        }
        circumstances.second = std::make_shared<const technique::SecondView>(technique::SecondView{
            same, *seen.ground, seen.camera, interval / std::sqrt(12.0), seen.time, heard});
    } catch (const model::InputError& error) {
        circumstances.secondReason = "The other film cannot be read: " + error.happened();
    }
}

void Session::setSecondView(std::optional<model::Id> otherId) {
    const model::Id clipId = open_->clip.id;
    const auto before = library_.pairOf(clipId);
    const auto theirs = otherId ? library_.pairOf(*otherId) : std::nullopt;
    if (before == otherId) {
        return;
    }
    edit(
        tr("Say the second view"), [this, clipId, otherId] { library_.setPair(clipId, otherId); },
        [this, clipId, before, otherId, theirs] {
            library_.setPair(clipId, before);
            if (otherId && theirs) {
                library_.setPair(*otherId, theirs); // it was another clip's second view
            }
        });
}

void Session::setHeardStep(const std::optional<model::FilmStep>& step) {
    const model::Id clipId = open_->clip.id;
    const auto before = library_.heardStep(clipId);
    if (before == step) {
        return;
    }
    edit(
        step ? tr("Match the films by their sound") : tr("Match the films by key positions"),
        [this, clipId, step] { library_.setHeardStep(clipId, step); },
        [this, clipId, before] { library_.setHeardStep(clipId, before); });
}

void Session::hearSecondView() {
    const auto otherId = library_.pairOf(open_->clip.id);
    const auto other = otherId ? library_.clip(*otherId) : std::nullopt;
    if (!other) {
        return;
    }
    const QString safe = tr("The films go together by their key positions.");
    for (const model::Clip& clip : {open_->clip, *other}) {
        const double slower =
            model::slowdown(indexOf(clip).fileRate(), clip.captureRate.value_or(0.0));
        constexpr double plain = 0.01;
        if (std::abs(slower - 1.0) > plain || !clip.speeds.empty()) {
            emit problem(tr("“%1” plays slower than it was filmed, and its sound with it or not.")
                             .arg(QString::fromStdString(clip.title)),
                         safe, tr("Set the same key positions in both films."));
            return;
        }
    }
    const auto first = library_.clipFile(open_->clip);
    const auto second = library_.clipFile(*other);
    inBackground(
        this, [first, second] { return film::stepHeard(first, second); },
        [this, safe, clipId = open_->clip.id](const std::optional<model::FilmStep>& step) {
            if (!open_ || open_->clip.id != clipId) {
                return; // another clip is looked at by now
            }
            if (!step) {
                emit problem(tr("The sounds of the two films do not clearly go together."), safe,
                             tr("Set the same key positions in both films."));
                return;
            }
            setHeardStep(step);
        },
        [this](const std::exception_ptr& error) { report(error); });
}

} // namespace kestrel::app
