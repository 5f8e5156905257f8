#include "app/background.h"
#include "app/session.h"
#include "app/session_open.h"
#include "pose/pose_files.h"
#include "prepare/machine_marks.h"
#include "technique/find_positions.h"
#include "track/evidence_file.h"
#include "track/placed_points.h"
#include "track/things.h"

#include <QCoreApplication>

#include <algorithm>
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
    if (!open_) {
        return;
    }
    const model::FrameSpan span = repSpan();
    track::Whom whom;
    whom.frame =
        player || span.contains(open_->frame) ? open_->frame : (span.first + span.last) / 2;
    whom.point = player;
    if (open_->study) {
        whom.mover = open_->study->mover;
    }
    lookForLandmarks(span, whom, tr("Propose landmarks"));
}

void Session::trackFromHere(model::Point2 player) {
    if (!open_) {
        return;
    }
    model::FrameSpan span = repSpan();
    if (!span.contains(open_->frame)) {
        return;
    }
    span.first = open_->frame;
    track::Whom whom;
    whom.frame = open_->frame;
    whom.point = player;
    lookForLandmarks(span, whom, tr("Track from frame %1").arg(open_->frame), span.first);
}

model::FrameSpan Session::repSpan() const {
    return open_->rep.span.value_or(model::FrameSpan{0, open_->index.frameCount() - 1});
}

void Session::lookForLandmarks(model::FrameSpan span, const track::Whom& whom, const QString& what,
                               std::optional<int> keptBefore) {
    if (proposing_) {
        return;
    }
    const bool placed = anythingPlaced();
    lookInBackground(
        what,
        [index = open_->index, span, whom, placed, whole = repSpan(),
         old = library_.evidence(open_->rep.id),
         follow = placedFollower()](const LookProgress& tell) -> std::optional<track::Evidence> {
            const double peopleShare = placed ? 0.8 : 1.0;
            auto evidence = track::gatherEvidence(
                index, span, whom, pose::poseDirectory(), pose::PoseSize::heavy,
                [&](int done, int all) { return tell(peopleShare * done / all); });
            if (!evidence) {
                return std::nullopt;
            }
            if (span != whole) {
                // Of what was seen before, the frames outside the stretch stay.
                if (auto seen = track::evidenceFromBytes(old)) {
                    seen->frames.erase(seen->frames.lower_bound(span.first),
                                       seen->frames.upper_bound(span.last));
                    evidence->frames.merge(seen->frames);
                    evidence->bodyPx = seen->bodyPx; // one height for all of it
                }
            }
            const bool finished = follow(*evidence, [&](int done, int all) {
                return tell(peopleShare + (1.0 - peopleShare) * done / all);
            });
            return finished ? evidence : std::nullopt;
        },
        keptBefore);
}

QString Session::followingHindrance() const {
    if (!open_ || !anythingPlaced()) {
        return tr("Place a landmark in one frame first");
    }
    if (library_.evidence(open_->rep.id).empty()) {
        return tr("Propose the player's landmarks first: they say where to look");
    }
    return {};
}

bool Session::anythingPlaced() const {
    return track::anyThingPlaced(open_->rep.landmarks) ||
           track::anyBodyPointPlaced(open_->rep.landmarks);
}

void Session::followPlaced() {
    if (proposing_ || !followingHindrance().isEmpty()) {
        return;
    }
    lookInBackground(tr("Follow what is placed"),
                     [old = library_.evidence(open_->rep.id), follow = placedFollower()](
                         const LookProgress& tell) -> std::optional<track::Evidence> {
                         auto evidence = track::evidenceFromBytes(old);
                         const auto progress = [&](int done, int all) {
                             return tell(static_cast<double>(done) / all);
                         };
                         return evidence && follow(*evidence, progress) ? evidence : std::nullopt;
                     });
}

Session::FollowPlaced Session::placedFollower() const {
    return [index = open_->index, pack = packOf(open_->rep), rep = open_->rep,
            around = circumstancesOf(open_->player, open_->clip, open_->rep),
            camera = open_->study ? open_->study->camera : model::CameraMotion{}](
               track::Evidence& evidence, const track::EvidenceProgress& progress) {
        return prepare::followPlaced(evidence, index, pack, rep, around, camera, progress);
    };
}

void Session::lookInBackground(
    const QString& what,
    std::function<std::optional<track::Evidence>(const LookProgress& tell)> look,
    std::optional<int> keptBefore) {
    auto state = std::make_shared<Proposing>();
    proposing_ = state;
    const QPointer<Session> guard(this);
    const auto tell = [guard, state](double share) {
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [guard, state, share] {
                if (guard && guard->proposing_ == state) {
                    emit guard->proposing(share);
                }
            },
            Qt::QueuedConnection);
        return !state->cancelled.load();
    };
    emit proposing(0.0);
    inBackground(
        this, [look = std::move(look), tell] { return look(tell); },
        [this, state, what, keptBefore,
         rep = open_->rep.id](std::optional<track::Evidence> evidence) {
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
                    library_.setBodyTurns(rep, {});
                    library_.setFoundPositions(rep, {});
                    if (!bytes.empty()) {
                        weighAnew(rep);
                    }
                });
            };
            edit(
                what,
                [=, this, bytes = track::toBytes(*evidence), marks = stored->landmarks] {
                    library_.atomically([&] {
                        store(bytes, {});
                        if (keptBefore) {
                            keepLandmarksBefore(rep, *keptBefore, marks);
                        }
                    });
                },
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
    const auto evidence = track::evidenceFromBytes(library_.evidence(repId));
    const auto rep = library_.rep(repId);
    if (!evidence || !rep) {
        return;
    }
    const model::Clip clip = *library_.clip(rep->clipId);
    const technique::Circumstances circumstances =
        circumstancesOf(*library_.player(clip.playerId), clip, *rep);
    const prepare::MachineMarks marks =
        prepare::marksFrom(*evidence, packOf(*rep), *rep, circumstances);
    library_.setMachineLandmarks(repId, marks.landmarks);
    library_.setBodyTurns(repId, marks.bodyTurns);
    library_.setFoundPositions(repId, marks.positions);
}

void Session::keepLandmarksBefore(model::Id repId, int frame, const model::LandmarkTrack& old) {
    model::LandmarkTrack landmarks = library_.rep(repId)->landmarks;
    landmarks.erase(landmarks.begin(), landmarks.lower_bound(frame));
    landmarks.insert(old.begin(), old.lower_bound(frame));
    library_.setMachineLandmarks(repId, landmarks);
    findAnew(repId);
}

void Session::findAnew(model::Id repId) {
    const auto rep = library_.rep(repId);
    if (!rep) {
        return;
    }
    // Without a machine's landmarks only single frames are known: nothing to search through.
    const bool tracked =
        std::any_of(rep->landmarks.begin(), rep->landmarks.end(), [](const auto& frame) {
            return std::any_of(frame.second.begin(), frame.second.end(), [](const auto& point) {
                return point.second.source != model::Source::placed;
            });
        });
    if (!tracked) {
        library_.setFoundPositions(repId, {});
        return;
    }
    const model::Clip clip = *library_.clip(rep->clipId);
    library_.setFoundPositions(
        repId,
        technique::findPositions(packOf(*rep), *rep,
                                 circumstancesOf(*library_.player(clip.playerId), clip, *rep)));
}

} // namespace kestrel::app
