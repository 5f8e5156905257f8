#include "app/background.h"
#include "app/session.h"
#include "app/session_open.h"
#include "pose/pose_files.h"
#include "prepare/prepare_clip.h"

#include <QCoreApplication>
#include <QDate>

#include <atomic>

/// The part of a session that has the machine prepare clips while the coach does something else.
namespace kestrel::app {

struct Session::PreparingQueue {
    std::atomic<bool> cancelled = false;
    std::vector<model::Id> clips;
    std::size_t next = 0;
};

int Session::clipsToPrepare() const {
    return static_cast<int>(library_.clipsNotLookedAt().size());
}

void Session::prepareClips() {
    if (preparing_ || !proposingHindrance().isEmpty()) {
        return;
    }
    preparing_ = std::make_shared<PreparingQueue>();
    preparing_->clips = library_.clipsNotLookedAt();
    prepareNext();
}

void Session::stopPreparing() {
    if (preparing_) {
        preparing_->cancelled = true;
        preparing_.reset();
        emit preparing(std::nullopt);
    }
}

void Session::prepareNext() {
    const auto queue = preparing_;
    std::optional<prepare::ClipWork> work;
    while (queue->next < queue->clips.size() && !work) {
        // Looked at again: it may have been marked or removed since the queue was made.
        if (const auto clip = library_.clip(queue->clips[queue->next++])) {
            work = prepare::workOn(library_, *clip);
        }
    }
    if (!work) {
        preparing_.reset();
        emit preparing(std::nullopt);
        return;
    }
    Preparing how;
    how.clip = QString::fromStdString(work->clip.title);
    how.number = static_cast<int>(queue->next);
    how.count = static_cast<int>(queue->clips.size());
    emit preparing(how);
    const QPointer<Session> guard(this);
    const auto tell = [guard, queue, how](double share) {
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [guard, queue, how, share]() mutable {
                if (guard && guard->preparing_ == queue) {
                    how.share = share;
                    emit guard->preparing(how);
                }
            },
            Qt::QueuedConnection);
        return !queue->cancelled.load();
    };
    inBackground(
        this,
        [work = *work, pack = packOf(work->reps.front()), tell,
         today = QDate::currentDate().toString(Qt::ISODate).toStdString()] {
            return prepare::prepareClip(work, pack, pose::poseDirectory(), pose::PoseSize::heavy,
                                        today, tell);
        },
        [this, queue, work = *work](std::optional<prepare::PreparedClip> done) {
            if (!done || preparing_ != queue) {
                return; // stopped
            }
            auto prepared = std::make_shared<prepare::PreparedClip>(std::move(*done));
            edit(
                tr("Prepare %1").arg(QString::fromStdString(work.clip.title)),
                [this, prepared] {
                    prepare::store(library_, *prepared);
                    emit recordsChanged();
                },
                [this, prepared, work] {
                    prepare::takeBack(library_, *prepared, work);
                    emit recordsChanged();
                });
            prepareNext();
        },
        [this, queue](const std::exception_ptr& error) {
            report(error);
            if (preparing_ == queue) {
                prepareNext(); // one bad film does not keep the others waiting
            }
        });
}

} // namespace kestrel::app
