#include "desk/second_view.h"

#include "desk/job.h"
#include "film/sound_sync.h"

#include <cmath>

namespace kestrel::desk {

std::vector<model::Clip> SecondView::possible() const {
    std::vector<model::Clip> possible;
    for (const model::Clip& clip : library_.clips(open_.player().id)) {
        const auto reps = library_.reps(clip.id);
        if (clip.id != open_.clip().id && clip.filmed == open_.clip().filmed && !reps.empty() &&
            reps.front().techniqueId == open_.rep().techniqueId) {
            possible.push_back(clip);
        }
    }
    return possible;
}

void SecondView::hear() {
    const auto otherId = library_.pairOf(open_.clip().id);
    const auto other = otherId ? library_.clip(*otherId) : std::nullopt;
    if (!other) {
        return;
    }
    const QString safe = tr("The films go together by their key positions.");
    for (const model::Clip& clip : {open_.clip(), *other}) {
        const prepare::KnownFilm film = films_.readNow(clip);
        const auto* index = std::get_if<const film::FilmIndex*>(&film);
        if (index == nullptr) {
            problems_.tell(Problem{tr("The film of “%1” is not there or cannot be read.")
                                       .arg(QString::fromStdString(clip.title)),
                                   safe, tr("Open that clip: it says what can be done.")});
            return;
        }
        const double slower = model::slowdown((*index)->fileRate(), clip.captureRate.value_or(0.0));
        constexpr double plain = 0.01;
        if (std::abs(slower - 1.0) > plain || !clip.speeds.empty()) {
            problems_.tell(
                Problem{tr("“%1” plays slower than it was filmed, and its sound with it or not.")
                            .arg(QString::fromStdString(clip.title)),
                        safe, tr("Set the same key positions in both films.")});
            return;
        }
    }
    const auto first = library_.clipFile(open_.clip());
    const auto second = library_.clipFile(*other);
    runJob(
        this, [first, second](const TellShare&) { return film::syncOffsetBySound(first, second); },
        [this, safe, clipId = open_.clip().id](const std::optional<model::SyncOffset>& step) {
            if (!open_.hasClip() || open_.clip().id != clipId) {
                return; // another clip is looked at by now
            }
            if (!step) {
                problems_.tell(
                    Problem{tr("The sounds of the two films do not clearly go together."), safe,
                            tr("Set the same key positions in both films.")});
                return;
            }
            problems_.trying([&] { edits_.setSyncOffset(step); });
        },
        [this](const std::exception_ptr& error) { problems_.tell(error); });
}

} // namespace kestrel::desk
