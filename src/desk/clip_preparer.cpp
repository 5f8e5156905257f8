#include "desk/clip_preparer.h"

#include "pose/pose_files.h"
#include "prepare/marks_anew.h"
#include "prepare/prepare_clip.h"

#include <algorithm>
#include <memory>
#include <vector>

namespace kestrel::desk {

ClipPreparer::ClipPreparer(records::Library& library, const Shelf& shelf, const OpenClip& open,
                           const Judging& judging, const LandmarkSearch& search, EditStack& edits,
                           Problems& problems, model::Clock clock)
    : library_(library),
      shelf_(shelf),
      open_(open),
      judging_(judging),
      search_(search),
      edits_(edits),
      problems_(problems),
      clock_(std::move(clock)) {
    idle_.setMaxThreadCount(1);
    idle_.setThreadPriority(QThread::IdlePriority);
    connect(&search, &LandmarkSearch::progress, this,
            [this](const std::optional<double>& share) { giveWay(share.has_value()); });
    connect(&edits, &EditStack::recordsChanged, this, &ClipPreparer::goOnByItself);
}

ClipPreparer::~ClipPreparer() {
    job_.cancel();
    idle_.waitForDone();
}

int ClipPreparer::waiting() const {
    return static_cast<int>(library_.clipsNotLookedAt().size());
}

void ClipPreparer::start() {
    if (isPreparing() || search_.isSearching() || !LandmarkSearch::hindrance().isEmpty()) {
        return;
    }
    begun_.clear();
    done_ = 0;
    asked_ = true;
    next();
}

void ClipPreparer::setByItself(bool on) {
    byItself_ = on;
    if (on) {
        goOnByItself();
    } else if (!asked_) {
        gaveWay_ = false;
        stop();
    }
}

void ClipPreparer::goOnByItself() {
    if (!byItself_ || isPreparing() || gaveWay_ || search_.isSearching() ||
        !LandmarkSearch::hindrance().isEmpty()) {
        return;
    }
    done_ = 0;
    asked_ = false;
    next();
}

void ClipPreparer::giveWay(bool searching) {
    if (searching && isPreparing()) {
        job_.cancel();
        begun_.erase(*underWay_);
        underWay_.reset();
        gaveWay_ = true;
        emit progress(std::nullopt);
    } else if (!searching && gaveWay_) {
        // What the search found is on disk when its turn comes.
        QMetaObject::invokeMethod(this, &ClipPreparer::goOn, Qt::QueuedConnection);
    }
}

void ClipPreparer::goOn() {
    if (gaveWay_ && !search_.isSearching()) {
        gaveWay_ = false;
        next();
    }
}

void ClipPreparer::end() {
    underWay_.reset();
    asked_ = false;
    emit progress(std::nullopt);
}

void ClipPreparer::stop() {
    if (isPreparing()) {
        job_.cancel();
        // What the coach stops does not begin anew with the next film that comes in.
        for (const model::ClipId id : library_.clipsNotLookedAt()) {
            begun_.insert(id);
        }
        end();
    }
}

std::optional<prepare::ClipWork> ClipPreparer::nextWork() {
    std::optional<prepare::ClipWork> work;
    problems_.trying([&] {
        std::vector<model::ClipId> waiting = library_.clipsNotLookedAt();
        if (open_.hasClip()) {
            std::stable_partition(waiting.begin(), waiting.end(),
                                  [&](const model::ClipId& id) { return id == open_.clip().id; });
        }
        for (const model::ClipId id : waiting) {
            const auto clip = library_.clip(id);
            if (!work && clip && begun_.insert(id).second) {
                work = prepare::workOn(library_, *clip);
            }
        }
    });
    return work;
}

bool ClipPreparer::keep(const prepare::ClipWork& work, prepare::PreparedClip done) {
    auto prepared = std::make_shared<prepare::PreparedClip>(std::move(done));
    const auto store = [this, prepared] {
        for (const model::RepId rep : prepare::store(library_, *prepared)) {
            prepare::weighAnew(library_, judging_.patientSources(), rep);
        }
    };
    if (!asked_) {
        return edits_.writeUnasked(store);
    }
    return edits_.apply(
        {.name = tr("Prepare %1").arg(QString::fromStdString(work.clip.title)),
         .apply = store,
         .revert = [this, prepared, work] { prepare::takeBack(library_, *prepared, work); },
         .touches = Touches::records});
}

void ClipPreparer::next() {
    const std::optional<prepare::ClipWork> work = nextWork();
    if (!work) {
        end();
        return;
    }
    underWay_ = work->clip.id;
    ++done_;
    const Progress how{QString::fromStdString(work->clip.title), work->clip.id, done_,
                       done_ - 1 + std::max(1, waiting()), 0.0};
    emit progress(how);
    job_ = runJob(
        this,
        [work = *work, pack = shelf_.packOf(work->reps.front()),
         today = clock_()](const TellShare& tell) {
            return prepare::prepareClip(work, pack, pose::poseDirectory(), pose::PoseSize::heavy,
                                        today, tell);
        },
        [this, work = *work](std::optional<prepare::PreparedClip> done) {
            if (done && !keep(work, std::move(*done))) {
                stop(); // so that what was refused can be tried again before more comes
                return;
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
        },
        {}, &idle_);
}

} // namespace kestrel::desk
