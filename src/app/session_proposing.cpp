#include "app/background.h"
#include "app/session.h"
#include "app/session_open.h"
#include "pose/pose_files.h"
#include "technique/roles.h"
#include "track/evidence_file.h"
#include "track/fuse.h"
#include "track/sides.h"

#include <QCoreApplication>

#include <atomic>

/// The part of a session that lets the machine look for landmarks.
namespace kestrel::app {

struct Session::Proposing {
    std::atomic<bool> cancelled = false;
};

QString Session::proposingHindrance() {
    return QString::fromStdString(
        pose::missingNetworks(pose::poseDirectory(), pose::PoseSize::heavy));
}

void Session::proposeLandmarks(std::optional<model::Point2> player) {
    if (!open_ || proposing_) {
        return;
    }
    auto state = std::make_shared<Proposing>();
    proposing_ = state;
    const model::FrameSpan span =
        open_->rep.span.value_or(model::FrameSpan{0, open_->index.frameCount() - 1});
    track::Whom whom;
    whom.frame =
        player || span.contains(open_->frame) ? open_->frame : (span.first + span.last) / 2;
    whom.point = player;
    if (open_->study) {
        whom.mover = open_->study->mover;
    }
    const QPointer<Session> guard(this);
    const auto tell = [guard, state](int done, int all) {
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [guard, state, share = static_cast<double>(done) / all] {
                if (guard && guard->proposing_ == state) {
                    emit guard->proposing(share);
                }
            },
            Qt::QueuedConnection);
        return !state->cancelled.load();
    };
    emit proposing(0.0);
    inBackground(
        this,
        [index = open_->index, span, whom, tell] {
            return track::gatherEvidence(index, span, whom, pose::poseDirectory(),
                                         pose::PoseSize::heavy, tell);
        },
        [this, state, rep = open_->rep.id](const std::optional<track::Evidence>& evidence) {
            if (proposing_ == state) {
                proposing_.reset();
                emit proposing(std::nullopt);
            }
            const auto stored = library_.rep(rep);
            if (!evidence || !stored || state->cancelled) {
                return; // cancelled, or the rep was removed meanwhile
            }
            const auto store = [this, rep](const std::vector<std::uint8_t>& bytes,
                                           const model::LandmarkTrack& machine) {
                library_.atomically([&] {
                    library_.setEvidence(rep, bytes);
                    library_.setMachineLandmarks(rep, machine);
                    if (!bytes.empty()) {
                        weighAnew(rep);
                    }
                });
            };
            edit(
                tr("Propose landmarks"),
                [=, bytes = track::toBytes(*evidence)] { store(bytes, {}); },
                [=, before = library_.evidence(rep), marks = stored->landmarks] {
                    store(before, marks);
                });
        },
        [this, state](const std::exception_ptr& error) {
            if (proposing_ == state) {
                proposing_.reset();
                emit proposing(std::nullopt);
            }
            report(error);
        });
}

void Session::cancelProposing() {
    if (proposing_) {
        proposing_->cancelled = true;
        proposing_.reset();
        emit proposing(std::nullopt);
    }
}

void Session::weighAnew(model::Id repId) {
    auto evidence = track::evidenceFromBytes(library_.evidence(repId));
    const auto rep = library_.rep(repId);
    if (!evidence || !rep) {
        return;
    }
    const model::Clip clip = *library_.clip(rep->clipId);
    const technique::Circumstances circumstances =
        circumstancesOf(*library_.player(clip.playerId), clip, *rep);
    track::settleSides(*evidence, rep->landmarks,
                       technique::chestToCamera(packOf(*rep), clip.view));
    library_.setMachineLandmarks(repId, track::fuse(*evidence, rep->landmarks, circumstances.time));
}

} // namespace kestrel::app
