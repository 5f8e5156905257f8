#include "desk/body_fitting.h"

namespace kestrel::desk {
namespace {

/// Behind the key of a body that followed the marks, so that the whole search is still due.
constexpr const char* notSearched = "+";

} // namespace

BodyFitting::BodyFitting(records::Library& library, OpenClip& open, Judging& judging,
                         Problems& problems)
    : library_(library), open_(open), judging_(judging), problems_(problems) {
    constexpr std::chrono::milliseconds calm{400};
    settling_.setSingleShot(true);
    settling_.setInterval(calm);
    connect(&settling_, &QTimer::timeout, this, [this] { problems_.trying([&] { goOn(); }); });
    for (const auto changed :
         {&OpenClip::opened, &OpenClip::repOpened, &OpenClip::closed, &OpenClip::marksChanged}) {
        connect(&open_, changed, &settling_, qOverload<>(&QTimer::start));
    }
    // After all who show the marks have done so.
    connect(
        &open_, &OpenClip::marksChanged, this, [this] { problems_.trying([&] { follow(); }); },
        Qt::QueuedConnection);
}

BodyFitting::~BodyFitting() {
    job_.cancel();
    followingJob_.cancel();
}

void BodyFitting::follow() {
    if (following_ || !open_.hasClip()) {
        return;
    }
    const auto before = open_.judged().notJudged ? nullptr : open_.circumstances().body;
    auto task = before ? taskOf(open_.player(), open_.clip(), open_.rep()) : std::nullopt;
    if (!task || task->work.key == followed_) {
        return;
    }
    followed_ = task->work.key;
    following_ = true;
    followingJob_ = runJob(
        this,
        [work = task->work, before](const TellShare& /*tell*/) {
            return prepare::fittedAgain(work, *before);
        },
        [this, task](const std::optional<std::vector<std::uint8_t>>& bytes) {
            following_ = false;
            problems_.trying([&] {
                // The whole search may have been quicker.
                if (bytes && library_.body(task->rep).key != task->work.key) {
                    keep(*task, {task->work.key + notSearched, *bytes});
                }
                follow(); // marks may have changed meanwhile
            });
        },
        [this](const std::exception_ptr& error) {
            following_ = false;
            problems_.tell(error);
        });
}

std::optional<BodyFitting::Task> BodyFitting::taskOf(const model::Player& player,
                                                     const model::Clip& clip,
                                                     const model::Rep& rep) const {
    const auto judged = judging_.of(player, clip, rep);
    if (judged->notJudged || !judged->circumstances.bodyOutdated || failed_.contains(rep.id)) {
        return std::nullopt;
    }
    auto work = prepare::bodyToWorkOut(judging_.sources(), player, clip, rep);
    return work ? std::optional(Task{rep.id, std::move(*work)}) : std::nullopt;
}

std::optional<BodyFitting::Task> BodyFitting::next() const {
    if (!open_.hasClip()) {
        return std::nullopt;
    }
    if (auto task = taskOf(open_.player(), open_.clip(), open_.rep())) {
        return task;
    }
    for (const model::Rep& rep : open_.reps()) {
        if (auto task = taskOf(open_.player(), open_.clip(), rep)) {
            return task;
        }
    }
    for (const model::Clip& clip : library_.clips(open_.player().id)) {
        for (const model::Rep& rep : library_.reps(clip.id)) {
            if (auto task = taskOf(open_.player(), clip, rep)) {
                return task;
            }
        }
    }
    return std::nullopt;
}

void BodyFitting::goOn() {
    if (following_) {
        settling_.start(); // a search takes all cores, and following should be quick
        return;
    }
    std::optional<Task> task = next();
    if (underWay_) {
        const bool same =
            task && task->rep == underWay_->rep && task->work.key == underWay_->work.key;
        if (same) {
            return;
        }
        job_.cancel(); // what it works out is of marks that changed
        underWay_.reset();
    }
    if (!task) {
        emit progress(std::nullopt);
        return;
    }
    underWay_ = task;
    const bool ofOpenRep = task->rep == open_.rep().id;
    emit progress(ofOpenRep ? std::optional(0.0) : std::nullopt);
    job_ = runJob(
        this,
        [work = task->work](const TellShare& tell) { return prepare::fittedBody(work, tell); },
        [this, task](const std::optional<std::vector<std::uint8_t>>& bytes) {
            underWay_.reset();
            problems_.trying([&] {
                if (bytes) {
                    keep(*task, {task->work.key, *bytes});
                }
            });
        },
        [this, task](const std::exception_ptr& error) {
            underWay_.reset();
            failed_.insert(task->rep);
            emit progress(std::nullopt);
            problems_.tell(error);
            settling_.start();
        },
        [this, ofOpenRep](double share) {
            if (ofOpenRep && underWay_) {
                emit progress(share);
            }
        });
}

void BodyFitting::keep(const Task& task, const records::KeptBody& body) {
    if (!library_.rep(task.rep)) {
        settling_.start(); // removed meanwhile
        return;
    }
    library_.setBody(task.rep, body);
    judging_.forget(task.rep);
    open_.judgeAnew(); // readings of the open rep, or of others that a view shows
}

} // namespace kestrel::desk
