#pragma once

#include <QFuture>
#include <QFutureWatcher>
#include <QObject>
#include <QPromise>
#include <QThreadPool>
#include <QtConcurrentRun>

#include <exception>
#include <functional>
#include <optional>
#include <type_traits>
#include <utility>

namespace kestrel::desk {

/// How a job's work tells its share done, 0…1. False: nobody waits for it any more, it should end.
using TellShare = std::function<bool(double share)>;

/// A job under way beside the interface. A handle: copies speak of the same job.
class Job {
  public:
    Job() = default;
    explicit Job(QFuture<void> future) : future_(std::move(future)) {}

    /// Lets the work end at its next tellShare(); neither `done` nor `failed` follows, but
    /// `cancelled` once it has ended.
    void cancel() { future_.cancel(); }

  private:
    QFuture<void> future_;
};

/// Runs `work(tellShare)` on a thread of the pool, and then on `owner`'s thread `done(result)`, or
/// `failed(error)` when it threw. `progressed(share)` comes in between, on `owner`'s thread and not
/// more often than is useful. A job that was cancelled gives neither; `cancelled()` tells that its
/// work has ended. Call from `owner`'s thread. Nothing of this is called when `owner` is gone, and
/// the job is then cancelled, too. `work` must not touch `owner`; what is called back must not
/// throw. `pool` lets the thread be one of less urgent work.
///
///     job_ = runJob(this, [file](const TellShare& tell) { return read(file, tell); },
///                   [this](const Content& content) { show(content); },
///                   [this](const std::exception_ptr& error) { problems_.tell(error); });
template <class Work, class Done, class Failed>
Job runJob(QObject* owner, Work work, Done done, Failed failed,
           std::function<void(double)> progressed = {}, std::function<void()> cancelled = {},
           QThreadPool* pool = QThreadPool::globalInstance()) {
    using Result = std::invoke_result_t<Work&, const TellShare&>;
    struct Outcome {
        std::optional<Result> result;
        std::exception_ptr error;
    };
    constexpr int steps = 1000; // in which progress is told
    QFuture<Outcome> future =
        QtConcurrent::run(pool, [work = std::move(work)](QPromise<Outcome>& promise) mutable {
            promise.setProgressRange(0, steps);
            const TellShare tell = [&promise](double share) {
                promise.setProgressValue(static_cast<int>(steps * share));
                return !promise.isCanceled();
            };
            Outcome outcome;
            try {
                outcome.result.emplace(work(tell));
            } catch (...) {
                outcome.error = std::current_exception();
            }
            promise.addResult(std::move(outcome));
        });
    auto* watcher = new QFutureWatcher<Outcome>(owner);
    if (progressed) {
        QObject::connect(watcher, &QFutureWatcherBase::progressValueChanged, owner,
                         [progressed = std::move(progressed)](int value) {
                             progressed(static_cast<double>(value) / steps);
                         });
    }
    QObject::connect(watcher, &QFutureWatcherBase::finished, owner,
                     [watcher, done = std::move(done), failed = std::move(failed),
                      cancelled = std::move(cancelled)]() mutable {
                         watcher->deleteLater();
                         QFuture<Outcome> finished = watcher->future();
                         if (finished.isCanceled() || finished.resultCount() == 0) {
                             if (cancelled) {
                                 cancelled();
                             }
                             return;
                         }
                         Outcome outcome = finished.takeResult();
                         if (outcome.error) {
                             failed(outcome.error);
                         } else {
                             done(std::move(*outcome.result));
                         }
                     });
    QObject::connect(watcher, &QObject::destroyed, [future]() mutable { future.cancel(); });
    watcher->setFuture(future);
    return Job(QFuture<void>(future));
}

} // namespace kestrel::desk
