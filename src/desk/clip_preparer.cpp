#include "desk/clip_preparer.h"

#include "desk/landmark_search.h"
#include "pose/pose_files.h"
#include "prepare/prepare_clip.h"

#include <memory>

namespace kestrel::desk {

ClipPreparer::ClipPreparer(records::Library& library, const Shelf& shelf, EditStack& edits,
                           Problems& problems, model::Clock clock)
    : library_(library),
      shelf_(shelf),
      edits_(edits),
      problems_(problems),
      clock_(std::move(clock)) {}

ClipPreparer::~ClipPreparer() {
    job_.cancel();
}

int ClipPreparer::waiting() const {
    return static_cast<int>(library_.clipsNotLookedAt().size());
}

void ClipPreparer::start() {
    if (preparing_ || !LandmarkSearch::hindrance().isEmpty()) {
        return;
    }
    clips_ = library_.clipsNotLookedAt();
    at_ = 0;
    preparing_ = true;
    next();
}

void ClipPreparer::stop() {
    if (preparing_) {
        job_.cancel();
        preparing_ = false;
        emit progress(std::nullopt);
    }
}

void ClipPreparer::next() {
    std::optional<prepare::ClipWork> work;
    problems_.trying([&] {
        while (at_ < clips_.size() && !work) {
            // Looked at again: it may have been marked or removed since the queue was made.
            if (const auto clip = library_.clip(clips_[at_++])) {
                work = prepare::workOn(library_, *clip);
            }
        }
    });
    if (!work) {
        preparing_ = false;
        emit progress(std::nullopt);
        return;
    }
    const Progress how{QString::fromStdString(work->clip.title), static_cast<int>(at_),
                       static_cast<int>(clips_.size()), 0.0};
    emit progress(how);
    job_ = runJob(
        this,
        [work = *work, pack = shelf_.packOf(work->reps.front()),
         today = clock_()](const TellShare& tell) {
            return prepare::prepareClip(work, pack, pose::poseDirectory(), pose::PoseSize::heavy,
                                        today, tell);
        },
        [this, work = *work](std::optional<prepare::PreparedClip> done) {
            if (done) {
                auto prepared = std::make_shared<prepare::PreparedClip>(std::move(*done));
                const bool kept = edits_.apply(
                    {.name = tr("Prepare %1").arg(QString::fromStdString(work.clip.title)),
                     .apply = [this, prepared] { prepare::store(library_, *prepared); },
                     .revert = [this, prepared,
                                work] { prepare::takeBack(library_, *prepared, work); },
                     .touches = Touches::records});
                if (!kept) {
                    stop(); // so that what was refused can be tried again before more comes
                    return;
                }
            }
            next();
        },
        [this](const std::exception_ptr& error) {
            problems_.tell(error);
            next(); // one bad film does not keep the others waiting
        },
        [this, how](double share) {
            Progress further = how;
            further.share = share;
            emit progress(further);
        });
}

} // namespace kestrel::desk
