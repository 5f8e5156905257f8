#include "app/session.h"
#include "app/session_open.h"
#include "model/input_error.h"
#include "prepare/circumstances.h"

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
        circumstances.second = std::make_shared<const technique::SecondView>(
            technique::SecondView{same, *seen.ground, seen.camera, interval / std::sqrt(12.0)});
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

} // namespace kestrel::app
