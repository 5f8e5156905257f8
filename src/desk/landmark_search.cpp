#include "desk/landmark_search.h"

#include "pose/pose_files.h"
#include "prepare/machine_marks.h"
#include "prepare/marks_anew.h"
#include "track/equipment/equipment.h"
#include "track/files/evidence_file.h"
#include "track/person/placed_points.h"
#include "words/words.h"

namespace kestrel::desk {

LandmarkSearch::LandmarkSearch(records::Library& library, const OpenClip& open,
                               const Judging& judging, EditStack& edits, Problems& problems)
    : library_(library), open_(open), judging_(judging), edits_(edits), problems_(problems) {
    const auto cancelInAnother = [this] {
        if (!open_.hasClip() || open_.clip().id != clip_) {
            cancel();
        }
    };
    connect(&open_, &OpenClip::opened, this, cancelInAnother);
    connect(&open_, &OpenClip::closed, this, cancelInAnother);
}

LandmarkSearch::~LandmarkSearch() {
    job_.cancel();
}

QString LandmarkSearch::hindrance() {
    return words::inWords(pose::missingNetworks(pose::poseDirectory(), pose::PoseSize::heavy));
}

void LandmarkSearch::propose(std::optional<model::Point2> player) {
    if (!open_.hasClip()) {
        return;
    }
    const model::FrameSpan span = open_.repSpan();
    track::SubjectSeed seed;
    seed.frame =
        player || span.contains(open_.frame()) ? open_.frame() : (span.first + span.last) / 2;
    seed.point = player;
    if (open_.study()) {
        seed.mover = open_.study()->mover;
    }
    look(span, seed, tr("Propose landmarks"));
}

void LandmarkSearch::trackFromHere(model::Point2 player) {
    if (!open_.hasClip()) {
        return;
    }
    model::FrameSpan span = open_.repSpan();
    if (!span.contains(open_.frame())) {
        return;
    }
    span.first = open_.frame();
    track::SubjectSeed seed;
    seed.frame = open_.frame();
    seed.point = player;
    look(span, seed, tr("Track from frame %1").arg(open_.frame()), span.first);
}

void LandmarkSearch::look(model::FrameSpan span, const track::SubjectSeed& seed,
                          const QString& what, std::optional<int> keptBefore) {
    if (searching_) {
        return;
    }
    const bool placed = anythingPlaced();
    run(
        what,
        [index = open_.index(), span, seed, placed, whole = open_.repSpan(),
         old = library_.evidence(open_.rep().id),
         follow = follower()](const TellShare& tell) -> std::optional<track::Evidence> {
            const double peopleShare = placed ? 0.8 : 1.0;
            auto evidence = track::gatherEvidence(
                index, span, seed, pose::poseDirectory(), pose::PoseSize::heavy,
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

QString LandmarkSearch::followingHindrance() const {
    if (!open_.hasClip() || !anythingPlaced()) {
        return tr("Place a landmark in one frame first");
    }
    if (library_.evidence(open_.rep().id).empty()) {
        return tr("Propose the player's landmarks first: they say where to look");
    }
    return {};
}

bool LandmarkSearch::anythingPlaced() const {
    return track::anyEquipmentPlaced(open_.rep().landmarks) ||
           track::anyBodyPointPlaced(open_.rep().landmarks);
}

void LandmarkSearch::followPlaced() {
    if (searching_ || !followingHindrance().isEmpty()) {
        return;
    }
    run(tr("Follow what is placed"),
        [old = library_.evidence(open_.rep().id),
         follow = follower()](const TellShare& tell) -> std::optional<track::Evidence> {
            auto evidence = track::evidenceFromBytes(old);
            const auto progress = [&](int done, int all) {
                return tell(static_cast<double>(done) / all);
            };
            return evidence && follow(*evidence, progress) ? evidence : std::nullopt;
        });
}

LandmarkSearch::Follow LandmarkSearch::follower() const {
    return [index = open_.index(), pack = open_.pack(), rep = open_.rep(),
            around = open_.circumstances(),
            camera = open_.study() ? open_.study()->camera : model::CameraMotion{}](
               track::Evidence& evidence, const track::EvidenceProgress& progress) {
        return prepare::followPlaced(evidence, index, pack, rep, around, camera, progress);
    };
}

void LandmarkSearch::run(const QString& what, Look look, std::optional<int> keptBefore) {
    searching_ = true;
    clip_ = open_.clip().id;
    emit progress(0.0);
    job_ = runJob(
        this, std::move(look),
        [this, what, keptBefore,
         rep = open_.rep().id](const std::optional<track::Evidence>& evidence) {
            end();
            if (evidence) {
                problems_.trying([&] { takeOver(what, rep, *evidence, keptBefore); });
            }
        },
        [this](const std::exception_ptr& error) {
            end();
            problems_.tell(error);
        },
        [this](double share) {
            if (searching_) {
                emit progress(share);
            }
        });
}

void LandmarkSearch::takeOver(const QString& what, model::RepId rep,
                              const track::Evidence& evidence, std::optional<int> keptBefore) {
    const auto stored = library_.rep(rep);
    if (!stored) {
        return; // removed meanwhile
    }
    const auto store = [this, rep](const std::vector<std::uint8_t>& bytes,
                                   const model::LandmarkTrack& machine) {
        library_.setEvidence(rep, bytes);
        library_.setMachineLandmarks(rep, machine);
        library_.setBodyTurns(rep, {});
        library_.setFoundPositions(rep, {});
        if (!bytes.empty()) {
            prepare::findViewAnew(library_, judging_.patientSources(), library_.rep(rep)->clipId);
            prepare::weighAnew(library_, judging_.patientSources(), rep);
        }
    };
    const model::LandmarkTrack marks = stored->landmarks;
    edits_.apply({.name = what,
                  .apply =
                      [=, this, bytes = track::toBytes(evidence)] {
                          store(bytes, {});
                          if (keptBefore) {
                              keepLandmarksBefore(rep, *keptBefore, marks);
                          }
                      },
                  .revert = [=, before = library_.evidence(rep)] { store(before, marks); }});
}

void LandmarkSearch::keepLandmarksBefore(model::RepId rep, int frame,
                                         const model::LandmarkTrack& old) {
    model::LandmarkTrack landmarks = library_.rep(rep)->landmarks;
    landmarks.erase(landmarks.begin(), landmarks.lower_bound(frame));
    landmarks.insert(old.begin(), old.lower_bound(frame));
    library_.setMachineLandmarks(rep, landmarks);
    prepare::findAnew(library_, judging_.patientSources(), rep);
}

void LandmarkSearch::cancel() {
    if (searching_) {
        job_.cancel();
        end();
    }
}

void LandmarkSearch::end() {
    searching_ = false;
    emit progress(std::nullopt);
}

} // namespace kestrel::desk
