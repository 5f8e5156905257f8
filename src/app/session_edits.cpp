#include "app/session.h"
#include "app/session_open.h"
#include "app/shared/counted.h"

/// The edits of a session: each a named command with its way back.

#include <QDate>

namespace kestrel::app {

void Session::setPosition(const std::string& positionId, std::optional<int> frame) {
    const model::Id rep = open_->rep.id;
    const auto before = open_->rep.positions.find(positionId);
    const std::optional<int> old =
        before == open_->rep.positions.end() ? std::nullopt : std::optional(before->second);
    if (old == frame) {
        return;
    }
    const QString position =
        QString::fromStdString(technique::findPosition(*open_->pack, positionId)->name);
    const auto store = [this, rep, positionId](std::optional<int> to) {
        library_.atomically([&] {
            library_.setPosition(rep, positionId, to);
            findAnew(rep); // others are searched for before or after this one
        });
    };
    edit(
        frame ? tr("Set %1 to frame %2").arg(position).arg(*frame) : tr("Clear %1").arg(position),
        [=] { store(frame); }, [=] { store(old); });
}

void Session::setLandmark(int frame, model::Landmark landmark,
                          const std::optional<model::LandmarkPoint>& point, const QString& what,
                          bool joins) {
    const model::Id rep = open_->rep.id;
    const model::LandmarkPoint* before = model::find(open_->rep.landmarks, frame, landmark);
    const std::optional<model::LandmarkPoint> old = before ? std::optional(*before) : std::nullopt;
    const auto store = [this, rep, frame, landmark](const std::optional<model::LandmarkPoint>& p) {
        library_.atomically([&] {
            library_.setLandmark(rep, frame, landmark, p);
            weighAnew(rep);
        });
    };
    edit(
        tr("%1, frame %2").arg(what).arg(frame), [=] { store(point); }, [=] { store(old); },
        joins ? static_cast<int>(landmark) : -1);
}

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

void Session::confirmLandmarks(int frame, const std::vector<model::Landmark>& landmarks) {
    const model::Id rep = open_->rep.id;
    const auto old = machineMade(open_->rep.landmarks, frame, landmarks);
    if (old.empty()) {
        return;
    }
    const auto store = [=, this](bool confirmed) {
        library_.atomically([&] {
            for (const auto& [landmark, point] : old) {
                library_.setLandmark(rep, frame, landmark, confirmed ? lookedAt(point) : point);
            }
            weighAnew(rep);
        });
    };
    edit(
        tr("Confirm %n landmark(s), frame %1", nullptr, static_cast<int>(old.size())).arg(frame),
        [=] { store(true); }, [=] { store(false); });
}

void Session::confirmPosition(const std::string& positionId,
                              const std::vector<model::Landmark>& landmarks) {
    const model::FoundInstant* found = model::onlyFound(open_->rep, positionId);
    if (found == nullptr) {
        return;
    }
    const model::Id rep = open_->rep.id;
    const int frame = found->frame;
    const auto old = machineMade(open_->rep.landmarks, frame, landmarks);
    const auto store = [=, this](bool confirmed) {
        library_.atomically([&] {
            library_.setPosition(rep, positionId, confirmed ? std::optional(frame) : std::nullopt);
            for (const auto& [landmark, point] : old) {
                library_.setLandmark(rep, frame, landmark, confirmed ? lookedAt(point) : point);
            }
            old.empty() ? findAnew(rep) : weighAnew(rep);
        });
    };
    edit(
        tr("Confirm %1")
            .arg(QString::fromStdString(technique::findPosition(*open_->pack, positionId)->name)),
        [=] { store(true); }, [=] { store(false); });
}

void Session::copyFromBefore(int frame, const std::vector<model::Landmark>& landmarks) {
    const model::Id rep = open_->rep.id;
    const model::LandmarkTrack& track = open_->rep.landmarks;
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
    edit(
        counted(static_cast<int>(fresh.size()), tr("Copy a landmark to frame %2"),
                tr("Copy %1 landmarks to frame %2"))
            .arg(frame),
        [=, this] {
            library_.atomically([&] {
                for (const auto& [landmark, point] : fresh) {
                    library_.setLandmark(rep, frame, landmark, point);
                }
                weighAnew(rep);
            });
        },
        [=, this] {
            library_.atomically([&] {
                for (const auto& [landmark, point] : old) {
                    library_.setLandmark(rep, frame, landmark, point);
                }
                weighAnew(rep);
            });
        });
}

void Session::takeLandmarks(const model::LandmarkTrack& landmarks) {
    const model::Id id = open_->rep.id;
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
        library_.atomically([&] {
            library_.save(rep);
            weighAnew(rep.id); // what was seen in the film goes before what a file says
            findAnew(rep.id);
        });
    };
    edit(
        tr("Take landmarks from a file"), [=] { store(after); }, [=] { store(before); });
}

void Session::swapSides(int frame) {
    const model::Id rep = open_->rep.id;
    const auto here = open_->rep.landmarks.find(frame);
    if (here == open_->rep.landmarks.end()) {
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
        library_.atomically([&] {
            for (const auto& [landmark, point] : old) {
                library_.setLandmark(rep, frame, landmark, std::nullopt);
            }
            for (const auto& [landmark, point] : fresh) {
                library_.setLandmark(rep, frame, landmark, point);
            }
            weighAnew(rep);
        });
    };
    edit(
        tr("Swap left and right, frame %1").arg(frame), [=] { exchange(before, after); },
        [=] { exchange(after, before); });
}

void Session::setObservation(const std::string& id, std::optional<model::Seen> seen) {
    const model::Id rep = open_->rep.id;
    const auto before = open_->rep.observations.find(id);
    const std::optional<model::Seen> old =
        before == open_->rep.observations.end() ? std::nullopt : std::optional(before->second);
    if (old == seen) {
        return;
    }
    edit(
        tr("Answer “%1”")
            .arg(QString::fromStdString(technique::findObservation(*open_->pack, id)->question)),
        [=, this] { library_.setObservation(rep, id, seen); },
        [=, this] { library_.setObservation(rep, id, old); });
}

void Session::setCount(const std::string& measureId, std::optional<double> turns) {
    const model::Id rep = open_->rep.id;
    const auto before = open_->rep.counts.find(measureId);
    const std::optional<double> old =
        before == open_->rep.counts.end() ? std::nullopt : std::optional(before->second);
    if (old == turns) {
        return;
    }
    edit(
        tr("Count for “%1”")
            .arg(QString::fromStdString(technique::findMeasure(*open_->pack, measureId)->name)),
        [=, this] { library_.setCount(rep, measureId, turns); },
        [=, this] { library_.setCount(rep, measureId, old); });
}

void Session::setNearerEnd(const std::string& position, model::BodyLine line,
                           std::optional<model::Side> nearer) {
    const model::Id rep = open_->rep.id;
    std::optional<model::Side> old;
    if (const auto said = open_->rep.nearerEnds.find(position);
        said != open_->rep.nearerEnds.end() && said->second.contains(line)) {
        old = said->second.at(line);
    }
    if (old == nearer) {
        return;
    }
    edit(
        line == model::BodyLine::hips ? tr("Say which hip is nearer")
                                      : tr("Say which shoulder is nearer"),
        [=, this] { library_.setNearerEnd(rep, position, line, nearer); },
        [=, this] { library_.setNearerEnd(rep, position, line, old); });
}

void Session::setLimbFold(const std::string& position, model::Landmark joint,
                          std::optional<model::LimbFold> fold) {
    const model::Id rep = open_->rep.id;
    std::optional<model::LimbFold> old;
    if (const auto said = open_->rep.limbFolds.find(position);
        said != open_->rep.limbFolds.end() && said->second.contains(joint)) {
        old = said->second.at(joint);
    }
    if (old == fold) {
        return;
    }
    edit(
        tr("Say how a limb lies in depth"),
        [=, this] { library_.setLimbFold(rep, position, joint, fold); },
        [=, this] { library_.setLimbFold(rep, position, joint, old); });
}

void Session::setClip(const model::Clip& clip, const QString& what) {
    const model::Clip old = *library_.clip(clip.id);
    if (old == clip) {
        return;
    }
    const auto store = [this](const model::Clip& c) {
        library_.atomically([&] {
            library_.save(c);
            for (const model::Rep& rep : library_.reps(c.id)) {
                weighAnew(rep.id); // time and view count in it
            }
        });
        emit recordsChanged();
    };
    edit(
        what, [=] { store(clip); }, [=] { store(old); });
}

void Session::setGround(const std::optional<model::GroundMarks>& ground, const QString& what) {
    const model::Id id = open_->clip.id;
    const auto old = library_.clip(id)->ground;
    if (old == ground) {
        return;
    }
    const auto store = [this, id](const std::optional<model::GroundMarks>& marks) {
        model::Clip clip = *library_.clip(id);
        clip.ground = marks;
        library_.save(clip);
    };
    edit(
        what, [=] { store(ground); }, [=] { store(old); });
}

void Session::setRep(const model::Rep& rep, const QString& what) {
    const auto old = library_.rep(rep.id);
    if (!old) {
        return;
    }
    const auto store = [this](const model::Rep& from) {
        model::Rep stored = *library_.rep(from.id); // with the marks made meanwhile
        stored.title = from.title;
        stored.variant = from.variant;
        stored.shotType = from.shotType;
        stored.result = from.result;
        stored.span = from.span;
        library_.atomically([&] {
            library_.save(stored);
            findAnew(stored.id);
        });
    };
    edit(
        what, [=] { store(rep); }, [=, old = *old] { store(old); });
}

void Session::setTechnique(const std::string& techniqueId) {
    const std::vector<model::Rep> old = library_.reps(open_->clip.id);
    std::vector<model::Rep> changed = old;
    for (model::Rep& rep : changed) {
        if (rep.techniqueId != techniqueId) {
            rep.techniqueId = techniqueId;
            rep.variant.clear();
            rep.shotType.clear();
            rep.packEdition = 0;
        }
    }
    if (changed == old) {
        return;
    }
    const auto store = [this](const std::vector<model::Rep>& reps) {
        library_.atomically([&] {
            for (const model::Rep& from : reps) {
                model::Rep stored = *library_.rep(from.id); // with the marks made meanwhile
                stored.techniqueId = from.techniqueId;
                stored.variant = from.variant;
                stored.shotType = from.shotType;
                stored.packEdition = from.packEdition;
                library_.save(stored);
                findAnew(stored.id);
            }
        });
    };
    library_.setSetting("technique", techniqueId);
    edit(
        tr("Say the technique"), [=] { store(changed); }, [=] { store(old); });
}

std::string Session::usualTechnique(model::Id playerId) {
    for (const model::Clip& clip : library_.clips(playerId)) {
        for (const model::Rep& rep : library_.reps(clip.id)) {
            return packOf(rep).id;
        }
    }
    const std::string said = library_.setting("technique");
    const bool known = std::any_of(packs_.begin(), packs_.end(),
                                   [&](const technique::Pack& p) { return p.id == said; });
    return known ? said : packs_.front().id;
}

void Session::takeProposedReps() {
    const std::vector<model::FrameSpan> spans = proposedReps();
    if (spans.empty()) {
        return;
    }
    const model::Rep& first = open_->reps.front();
    const bool untouched = open_->reps.size() == 1 && !first.span && first.positions.empty() &&
                           first.landmarks.empty() && first.observations.empty();
    std::vector<model::Rep> changed;
    for (const model::FrameSpan& span : spans) {
        model::Rep rep = untouched && changed.empty() ? first : model::Rep{};
        rep.clipId = open_->clip.id;
        rep.techniqueId = open_->rep.techniqueId;
        rep.variant = open_->rep.variant;
        rep.span = span;
        const std::size_t number = changed.size() + 1 + (untouched ? 0 : open_->reps.size());
        rep.title = tr("Rep %1").arg(number).toStdString();
        changed.push_back(std::move(rep));
    }
    auto ids = std::make_shared<std::vector<model::Id>>();
    edit(
        tr("Take the proposed reps"),
        [=, this] {
            library_.atomically([&] {
                for (std::size_t i = 0; i < changed.size(); ++i) {
                    model::Rep rep = changed[i];
                    if (i < ids->size()) {
                        rep.id = (*ids)[i]; // the same number again after undo and redo
                    }
                    const model::Id id = library_.save(rep);
                    if (i >= ids->size()) {
                        ids->push_back(id);
                    }
                }
            });
        },
        [=, this] {
            library_.atomically([&] {
                for (std::size_t i = untouched ? 1 : 0; i < ids->size(); ++i) {
                    library_.removeRep((*ids)[i]);
                }
                if (untouched) {
                    library_.save(first);
                }
            });
        });
}

void Session::addRep(const model::FrameSpan& span) {
    model::Rep rep;
    rep.clipId = open_->clip.id;
    rep.techniqueId = open_->rep.techniqueId;
    rep.variant = open_->rep.variant;
    rep.span = span;
    rep.title = tr("Rep %1").arg(open_->reps.size() + 1).toStdString();
    auto id = std::make_shared<model::Id>(0);
    edit(
        tr("Add %1").arg(QString::fromStdString(rep.title)),
        [=, this] {
            model::Rep stored = rep;
            stored.id = *id;
            *id = library_.save(stored);
        },
        [=, this] { library_.removeRep(*id); });
    openRep(*id);
}

void Session::removeRep(model::Id repId) {
    const auto rep = library_.rep(repId);
    if (!rep || open_->reps.size() < 2) {
        return;
    }
    const model::ReviewScript script = library_.reviewScript(repId);
    const std::vector<std::uint8_t> evidence = library_.evidence(repId);
    edit(
        tr("Remove %1").arg(QString::fromStdString(rep->title)),
        [=, this] { library_.removeRep(repId); },
        [=, this, rep = *rep] {
            library_.atomically([&] {
                library_.save(rep);
                library_.save(repId, script);
                library_.setEvidence(repId, evidence);
            });
        });
}

void Session::setAsFields(bool asFields) {
    if (open_->clip.asFields == asFields) {
        return;
    }
    const auto moved = [asFields](int frame) { return asFields ? frame * 2 : frame / 2; };
    std::vector<model::Rep> after = open_->reps;
    for (model::Rep& rep : after) {
        for (auto& [position, frame] : rep.positions) {
            frame = moved(frame);
        }
        rep.found.clear();
        model::LandmarkTrack landmarks;
        for (const auto& [frame, points] : rep.landmarks) {
            landmarks[moved(frame)].insert(points.begin(), points.end());
        }
        rep.landmarks = std::move(landmarks);
        if (rep.span) {
            rep.span = model::FrameSpan{moved(rep.span->first), moved(rep.span->last)};
        }
    }
    model::Clip clip = open_->clip;
    clip.asFields = asFields;
    for (model::SpeedStretch& stretch : clip.speeds) {
        stretch.fromFrame = moved(stretch.fromFrame);
    }
    // The camera took as many frames a second as it says; fields come twice as often.
    if (clip.captureRate) {
        clip.captureRate = *clip.captureRate * (asFields ? 2.0 : 0.5);
    }
    // What the machine saw speaks of whole frames or of fields; it is of no use for the other.
    std::map<model::Id, std::vector<std::uint8_t>> evidence;
    for (const model::Rep& rep : open_->reps) {
        evidence[rep.id] = library_.evidence(rep.id);
    }
    const auto store = [this](const model::Clip& c, const std::vector<model::Rep>& reps,
                              std::map<model::Id, std::vector<std::uint8_t>> seen) {
        library_.atomically([&] {
            library_.save(c);
            library_.removeStudy(c.id);
            for (const model::Rep& rep : reps) {
                library_.save(rep);
                library_.setEvidence(rep.id, seen[rep.id]);
            }
        });
    };
    edit(
        asFields ? tr("Read the film as fields") : tr("Read the film in whole frames"),
        [=] { store(clip, after, {}); },
        [=, oldClip = open_->clip, before = open_->reps] { store(oldClip, before, evidence); });
}

void Session::setPlayer(const model::Player& player, const QString& what) {
    const model::Player old = *library_.player(player.id);
    if (old == player) {
        return;
    }
    const bool otherHand = player.hand != old.hand;
    const bool otherHeight = player.height != old.height;
    const model::IsoDate day = QDate::currentDate().toString(Qt::ISODate).toStdString();
    const auto heights = library_.heights(player.id);
    const auto before = heights.find(day);
    const auto heightBefore =
        before == heights.end() ? std::nullopt : std::optional(before->second);
    const auto store = [this, otherHand, otherHeight,
                        day](const model::Player& p, const std::optional<model::Metres>& measured) {
        library_.atomically([&] {
            library_.save(p);
            if (otherHeight) {
                library_.setHeight(p.id, day, measured);
            }
            for (const model::Clip& clip :
                 otherHand ? library_.clips(p.id) : std::vector<model::Clip>{}) {
                for (const model::Rep& rep : library_.reps(clip.id)) {
                    findAnew(rep.id); // lead and trail have changed places
                }
            }
        });
        emit recordsChanged();
    };
    edit(
        what, [=] { store(player, player.height); }, [=] { store(old, heightBefore); });
}

model::Id Session::addPlayer(const model::Player& player) {
    auto id = std::make_shared<model::Id>(0);
    edit(
        tr("Add %1").arg(QString::fromStdString(player.name)),
        [=, this] {
            model::Player stored = player;
            stored.id = *id; // the same number again after undo and redo
            *id = library_.save(stored);
            library_.setHeight(*id, QDate::currentDate().toString(Qt::ISODate).toStdString(),
                               player.height);
            emit recordsChanged();
        },
        [=, this] {
            library_.removePlayer(*id);
            emit recordsChanged();
        });
    return *id;
}

void Session::addFilm(model::Id playerId, const records::StoredFilm& film, const std::string& title,
                      const std::string& techniqueId) {
    if (const auto known = library_.clipByHash(playerId, film.sha256)) {
        openClip(known->id); // this player has this very film
        return;
    }
    auto id = std::make_shared<model::Id>(0);
    edit(
        tr("Bring in %1").arg(QString::fromStdString(title)),
        [=, this] {
            *id = records::addClip(library_, playerId, film, title, techniqueId).id;
            emit recordsChanged();
            openClip(*id);
        },
        [=, this] {
            if (open_ && open_->clip.id == *id) {
                open_.reset();
                emit clipClosed();
            }
            library_.removeClip(*id);
            emit recordsChanged();
        });
}

} // namespace kestrel::app
