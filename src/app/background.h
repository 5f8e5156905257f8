#pragma once

#include <QObject>
#include <QPointer>
#include <QThreadPool>

#include <exception>
#include <memory>
#include <optional>
#include <utility>

namespace kestrel::app {

/// Runs `work` on a pool thread and then, on `owner`'s thread, `then(result)`, or `failed(problem)`
/// when it threw. Neither is called when `owner` is gone by then. `work` must not touch `owner`.
template <class Work, class Then, class Failed>
void inBackground(QObject* owner, Work work, Then then, Failed failed) {
    QPointer<QObject> guard(owner);
    QThreadPool::globalInstance()->start([guard, work = std::move(work), then = std::move(then),
                                          failed = std::move(failed)]() mutable {
        using Result = decltype(work());
        auto result = std::make_shared<std::optional<Result>>();
        std::exception_ptr problem;
        try {
            result->emplace(work());
        } catch (...) {
            problem = std::current_exception();
        }
        if (!guard) {
            return;
        }
        QMetaObject::invokeMethod(
            guard,
            [result, problem, then = std::move(then), failed = std::move(failed)]() mutable {
                if (problem) {
                    failed(problem);
                } else {
                    then(std::move(**result));
                }
            },
            Qt::QueuedConnection);
    });
}

} // namespace kestrel::app
