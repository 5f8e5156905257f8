#include "desk/rep_edits.h"

#include "prepare/marks_anew.h"

#include <algorithm>
#include <map>

namespace kestrel::desk {
namespace {

/// The points of `landmarks` at a frame that a machine set.
std::vector<std::pair<model::Landmark, model::LandmarkPoint>>
machineMade(const model::LandmarkTrack& track, int frame,
            const std::vector<model::Landmark>& landmarks) {
    std::vector<std::pair<model::Landmark, model::LandmarkPoint>> made;
    for (const model::Landmark landmark : landmarks) {
        const model::LandmarkPoint* point = model::find(track, frame, landmark);
        if (point != nullptr && point->source != model::Source::placed) {
            made.emplace_back(landmark, *point);
        }
    }
    return made;
}

/// A machine-made point after a coach found it right.
model::LandmarkPoint lookedAt(model::LandmarkPoint point) {
    point.source = model::Source::placed;
    point.sdPx = std::min(point.sdPx, model::confirmedPointSd);
    return point;
}

} // namespace

int RepEdits::newGesture() {
    return edits_.newGesture();
}

void RepEdits::setPosition(const std::string& positionId, std::optional<int> frame) {
    setPositionOf(open_.rep(), positionId, frame);
}

void RepEdits::setPositionOf(const model::Rep& of, const std::string& positionId,
                             std::optional<int> frame) {
    const model::RepId rep = of.id;
    const auto before = of.positions.find(positionId);
    const std::optional<int> old =
        before == of.positions.end() ? std::nullopt : std::optional(before->second);
    if (old == frame) {
        return;
    }
    const QString position =
        QString::fromStdString(technique::findPosition(open_.pack(), positionId)->name);
    const auto store = [this, rep, positionId](std::optional<int> to) {
        library_.setPosition(rep, positionId, to);
        prepare::findAnew(library_, judging_.patientSources(),
                          rep); // others are searched for before or after this one
    };
    edits_.apply(
        frame ? tr("Set %1 to frame %2").arg(position).arg(*frame) : tr("Clear %1").arg(position),
        [=] { store(frame); }, [=] { store(old); });
}

void RepEdits::setLandmark(int frame, model::Landmark landmark,
                           const std::optional<model::LandmarkPoint>& point, const QString& what,
                           std::optional<int> gesture) {
    const model::RepId rep = open_.rep().id;
    const model::LandmarkPoint* before = model::find(open_.rep().landmarks, frame, landmark);
    const std::optional<model::LandmarkPoint> old = before ? std::optional(*before) : std::nullopt;
    const auto store = [this, rep, frame, landmark](const std::optional<model::LandmarkPoint>& p) {
        library_.setLandmark(rep, frame, landmark, p);
        prepare::weighAnew(library_, judging_.patientSources(), rep);
    };
    Edit edit{.name = tr("%1, frame %2").arg(what).arg(frame),
              .apply = [=] { store(point); },
              .revert = [=] { store(old); }};
    if (gesture) {
        edit.gesture = {rep, frame, landmark, *gesture};
    }
    edits_.apply(std::move(edit));
}

void RepEdits::confirmLandmarks(int frame, const std::vector<model::Landmark>& landmarks) {
    const model::RepId rep = open_.rep().id;
    const auto old = machineMade(open_.rep().landmarks, frame, landmarks);
    if (old.empty()) {
        return;
    }
    const auto store = [=, this](bool confirmed) {
        for (const auto& [landmark, point] : old) {
            library_.setLandmark(rep, frame, landmark, confirmed ? lookedAt(point) : point);
        }
        prepare::weighAnew(library_, judging_.patientSources(), rep);
    };
    edits_.apply(
        tr("Confirm %n landmark(s), frame %1", nullptr, static_cast<int>(old.size())).arg(frame),
        [=] { store(true); }, [=] { store(false); });
}

void RepEdits::confirmPosition(const std::string& positionId,
                               const std::vector<model::Landmark>& landmarks) {
    const model::FoundInstant* found = model::onlyFound(open_.rep(), positionId);
    if (found == nullptr) {
        return;
    }
    const model::RepId rep = open_.rep().id;
    const int frame = found->frame;
    const auto old = machineMade(open_.rep().landmarks, frame, landmarks);
    const auto store = [=, this](bool confirmed) {
        library_.setPosition(rep, positionId, confirmed ? std::optional(frame) : std::nullopt);
        for (const auto& [landmark, point] : old) {
            library_.setLandmark(rep, frame, landmark, confirmed ? lookedAt(point) : point);
        }
        old.empty() ? prepare::findAnew(library_, judging_.patientSources(), rep)
                    : prepare::weighAnew(library_, judging_.patientSources(), rep);
    };
    edits_.apply(
        tr("Confirm %1")
            .arg(QString::fromStdString(technique::findPosition(open_.pack(), positionId)->name)),
        [=] { store(true); }, [=] { store(false); });
}

void RepEdits::copyFromBefore(int frame, const std::vector<model::Landmark>& landmarks) {
    const model::RepId rep = open_.rep().id;
    const model::LandmarkTrack& track = open_.rep().landmarks;
    model::FrameLandmarks fresh;
    std::map<model::Landmark, std::optional<model::LandmarkPoint>> old;
    for (const model::Landmark landmark : landmarks) {
        auto before = track.lower_bound(frame);
        while (before != track.begin()) {
            const auto point = (--before)->second.find(landmark);
            if (point != before->second.end() && !point->second.hidden) {
                fresh[landmark] = lookedAt(point->second);
                const model::LandmarkPoint* here = model::find(track, frame, landmark);
                old[landmark] = here ? std::optional(*here) : std::nullopt;
                break;
            }
        }
    }
    if (fresh.empty()) {
        return;
    }
    edits_.apply(
        tr("Copy %n landmark(s) to frame %1", nullptr, static_cast<int>(fresh.size())).arg(frame),
        [=, this] {
            for (const auto& [landmark, point] : fresh) {
                library_.setLandmark(rep, frame, landmark, point);
            }
            prepare::weighAnew(library_, judging_.patientSources(), rep);
        },
        [=, this] {
            for (const auto& [landmark, point] : old) {
                library_.setLandmark(rep, frame, landmark, point);
            }
            prepare::weighAnew(library_, judging_.patientSources(), rep);
        });
}

void RepEdits::takeLandmarks(const model::LandmarkTrack& landmarks) {
    const model::RepId id = open_.rep().id;
    const model::Rep before = *library_.rep(id);
    model::Rep after = before;
    for (const auto& [frame, points] : landmarks) {
        for (const auto& [landmark, point] : points) {
            const model::LandmarkPoint* here = model::find(before.landmarks, frame, landmark);
            if (point.source == model::Source::placed || here == nullptr ||
                here->source != model::Source::placed) {
                after.landmarks[frame][landmark] = point;
            }
        }
    }
    const auto store = [this](const model::Rep& rep) {
        library_.save(rep);
        prepare::weighAnew(library_, judging_.patientSources(),
                           rep.id); // what was seen in the film goes before what a file says
        prepare::findAnew(library_, judging_.patientSources(), rep.id);
    };
    edits_.apply(
        tr("Take landmarks from a file"), [=] { store(after); }, [=] { store(before); });
}

void RepEdits::swapSides(int frame) {
    const model::RepId rep = open_.rep().id;
    const auto here = open_.rep().landmarks.find(frame);
    if (here == open_.rep().landmarks.end()) {
        return;
    }
    model::FrameLandmarks before;
    model::FrameLandmarks after;
    for (const auto& [landmark, point] : here->second) {
        if (!model::sideOf(landmark)) {
            continue;
        }
        before[landmark] = point;
        model::LandmarkPoint& moved = after[model::mirrored(landmark)] = point;
        if (moved.source != model::Source::placed) {
            moved.source = model::Source::placed;
            moved.sdPx =
                std::min(std::max(moved.sdPx, model::placedPointSd), model::confirmedPointSd);
        }
    }
    const auto exchange = [=, this](const model::FrameLandmarks& old,
                                    const model::FrameLandmarks& fresh) {
        for (const auto& [landmark, point] : old) {
            library_.setLandmark(rep, frame, landmark, std::nullopt);
        }
        for (const auto& [landmark, point] : fresh) {
            library_.setLandmark(rep, frame, landmark, point);
        }
        prepare::weighAnew(library_, judging_.patientSources(), rep);
    };
    edits_.apply(
        tr("Swap left and right, frame %1").arg(frame), [=] { exchange(before, after); },
        [=] { exchange(after, before); });
}

void RepEdits::setObservation(const std::string& id, std::optional<model::Seen> seen) {
    const model::RepId rep = open_.rep().id;
    const auto before = open_.rep().observations.find(id);
    const std::optional<model::Seen> old =
        before == open_.rep().observations.end() ? std::nullopt : std::optional(before->second);
    if (old == seen) {
        return;
    }
    edits_.apply(
        tr("Answer “%1”")
            .arg(QString::fromStdString(technique::findObservation(open_.pack(), id)->question)),
        [=, this] { library_.setObservation(rep, id, seen); },
        [=, this] { library_.setObservation(rep, id, old); });
}

void RepEdits::setCount(const std::string& measureId, std::optional<double> turns) {
    const model::RepId rep = open_.rep().id;
    const auto before = open_.rep().counts.find(measureId);
    const std::optional<double> old =
        before == open_.rep().counts.end() ? std::nullopt : std::optional(before->second);
    if (old == turns) {
        return;
    }
    edits_.apply(
        tr("Count for “%1”")
            .arg(QString::fromStdString(technique::findMeasure(open_.pack(), measureId)->name)),
        [=, this] { library_.setCount(rep, measureId, turns); },
        [=, this] { library_.setCount(rep, measureId, old); });
}

void RepEdits::setNearerEnd(const std::string& position, model::BodyLine line,
                            std::optional<model::Side> nearer) {
    const model::RepId rep = open_.rep().id;
    std::optional<model::Side> old;
    if (const auto said = open_.rep().nearerEnds.find(position);
        said != open_.rep().nearerEnds.end() && said->second.contains(line)) {
        old = said->second.at(line);
    }
    if (old == nearer) {
        return;
    }
    edits_.apply(
        line == model::BodyLine::hips ? tr("Say which hip is nearer")
                                      : tr("Say which shoulder is nearer"),
        [=, this] { library_.setNearerEnd(rep, position, line, nearer); },
        [=, this] { library_.setNearerEnd(rep, position, line, old); });
}

void RepEdits::setLimbFold(const std::string& position, model::Landmark joint,
                           std::optional<model::LimbFold> fold) {
    const model::RepId rep = open_.rep().id;
    std::optional<model::LimbFold> old;
    if (const auto said = open_.rep().limbFolds.find(position);
        said != open_.rep().limbFolds.end() && said->second.contains(joint)) {
        old = said->second.at(joint);
    }
    if (old == fold) {
        return;
    }
    edits_.apply(
        tr("Say how a limb lies in depth"),
        [=, this] { library_.setLimbFold(rep, position, joint, fold); },
        [=, this] { library_.setLimbFold(rep, position, joint, old); });
}

void RepEdits::setReviewScript(const model::ReviewScript& script, const QString& what) {
    const model::RepId rep = open_.rep().id;
    const model::ReviewScript old = library_.reviewScript(rep);
    if (old == script) {
        return;
    }
    edits_.apply(
        what, [=, this] { library_.save(rep, script); }, [=, this] { library_.save(rep, old); });
}

} // namespace kestrel::desk
