#include "desk/clip_edits.h"

#include "prepare/marks_anew.h"

#include <map>
#include <memory>

namespace kestrel::desk {

void ClipEdits::setClip(const model::Clip& clip, const QString& what) {
    const model::Clip old = *library_.clip(clip.id);
    if (old == clip) {
        return;
    }
    const auto store = [this](model::Clip c) {
        const model::Clip now = *library_.clip(c.id);
        c.foundView = now.foundView; // what a machine found meanwhile
        library_.save(c);
        if (now.captureRate != c.captureRate || now.speeds != c.speeds) {
            prepare::findViewAnew(library_, judging_.patientSources(),
                                  c.id); // by how fast one moves
        }
        for (const model::Rep& rep : library_.reps(c.id)) {
            prepare::weighAnew(library_, judging_.patientSources(),
                               rep.id); // time and view count in it
        }
    };
    edits_.apply({.name = what,
                  .apply = [=] { store(clip); },
                  .revert = [=] { store(old); },
                  .touches = Touches::records});
}

void ClipEdits::setGround(const std::optional<model::GroundMarks>& ground, const QString& what) {
    const model::ClipId id = open_.clip().id;
    const auto old = library_.clip(id)->ground;
    if (old == ground) {
        return;
    }
    const auto store = [this, id](const std::optional<model::GroundMarks>& marks) {
        model::Clip clip = *library_.clip(id);
        clip.ground = marks;
        library_.save(clip);
    };
    edits_.apply(
        what, [=] { store(ground); }, [=] { store(old); });
}

void ClipEdits::setRep(const model::Rep& rep, const QString& what) {
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
        library_.save(stored);
        prepare::findAnew(library_, judging_.patientSources(), stored.id);
    };
    edits_.apply(
        what, [=] { store(rep); }, [=, old = *old] { store(old); });
}

void ClipEdits::setTechnique(const std::string& techniqueId) {
    const std::vector<model::Rep> old = library_.reps(open_.clip().id);
    std::vector<model::Rep> changed = old;
    for (model::Rep& rep : changed) {
        if (rep.techniqueId != techniqueId) {
            rep.techniqueId = techniqueId;
            rep.variant.clear();
            rep.shotType.clear();
            rep.packEdition = {};
        }
    }
    if (changed == old) {
        return;
    }
    const auto store = [this](const std::vector<model::Rep>& reps) {
        for (const model::Rep& from : reps) {
            model::Rep stored = *library_.rep(from.id); // with the marks made meanwhile
            stored.techniqueId = from.techniqueId;
            stored.variant = from.variant;
            stored.shotType = from.shotType;
            stored.packEdition = from.packEdition;
            library_.save(stored);
        }
        prepare::findViewAnew(library_, judging_.patientSources(), reps.front().clipId);
        for (const model::Rep& rep : reps) {
            prepare::findAnew(library_, judging_.patientSources(), rep.id);
        }
    };
    edits_.apply(
        tr("Say the technique"),
        [=, this] {
            store(changed);
            library_.setSetting("technique", techniqueId); // what the next clip will show
        },
        [=] { store(old); });
}

void ClipEdits::takeProposedReps() {
    const std::vector<model::FrameSpan> spans = open_.proposedReps();
    if (spans.empty()) {
        return;
    }
    const model::Rep& first = open_.reps().front();
    const bool untouched = open_.reps().size() == 1 && !first.span && first.positions.empty() &&
                           first.landmarks.empty() && first.observations.empty();
    std::vector<model::Rep> changed;
    for (const model::FrameSpan& span : spans) {
        model::Rep rep = untouched && changed.empty() ? first : model::Rep{};
        rep.clipId = open_.clip().id;
        rep.techniqueId = open_.rep().techniqueId;
        rep.variant = open_.rep().variant;
        rep.span = span;
        const std::size_t number = changed.size() + 1 + (untouched ? 0 : open_.reps().size());
        rep.title = tr("Rep %1").arg(number).toStdString();
        changed.push_back(std::move(rep));
    }
    auto ids = std::make_shared<std::vector<model::RepId>>();
    edits_.apply(
        tr("Take the proposed reps"),
        [=, this] {
            for (std::size_t i = 0; i < changed.size(); ++i) {
                model::Rep rep = changed[i];
                if (i < ids->size()) {
                    rep.id = (*ids)[i]; // the same number again after undo and redo
                }
                const model::RepId id = library_.save(rep);
                if (i >= ids->size()) {
                    ids->push_back(id);
                }
            }
        },
        [=, this] {
            for (std::size_t i = untouched ? 1 : 0; i < ids->size(); ++i) {
                library_.removeRep((*ids)[i]);
            }
            if (untouched) {
                library_.save(first);
            }
        });
}

void ClipEdits::addRep(const model::FrameSpan& span) {
    model::Rep rep;
    rep.clipId = open_.clip().id;
    rep.techniqueId = open_.rep().techniqueId;
    rep.variant = open_.rep().variant;
    rep.span = span;
    rep.title = tr("Rep %1").arg(open_.reps().size() + 1).toStdString();
    auto id = std::make_shared<model::RepId>();
    const bool added = edits_.apply(
        tr("Add %1").arg(QString::fromStdString(rep.title)),
        [=, this] {
            model::Rep stored = rep;
            stored.id = *id;
            *id = library_.save(stored);
        },
        [=, this] { library_.removeRep(*id); });
    if (added) {
        open_.openRep(*id);
    }
}

void ClipEdits::removeRep(model::RepId repId) {
    const auto rep = library_.rep(repId);
    if (!rep || open_.reps().size() < 2) {
        return;
    }
    const model::ReviewScript script = library_.reviewScript(repId);
    const std::vector<std::uint8_t> evidence = library_.evidence(repId);
    edits_.apply(
        tr("Remove %1").arg(QString::fromStdString(rep->title)),
        [=, this] { library_.removeRep(repId); },
        [=, this, rep = *rep] {
            library_.save(rep);
            library_.save(repId, script);
            library_.setEvidence(repId, evidence);
        });
}

void ClipEdits::setAsFields(bool asFields) {
    if (open_.clip().asFields == asFields) {
        return;
    }
    const auto moved = [asFields](int frame) { return asFields ? frame * 2 : frame / 2; };
    std::vector<model::Rep> after = open_.reps();
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
    model::Clip clip = open_.clip();
    clip.asFields = asFields;
    for (model::SpeedStretch& stretch : clip.speeds) {
        stretch.fromFrame = moved(stretch.fromFrame);
    }
    // The camera took as many frames a second as it says; fields come twice as often.
    if (clip.captureRate) {
        clip.captureRate = *clip.captureRate * (asFields ? 2.0 : 0.5);
    }
    // What the machine saw speaks of whole frames or of fields; it is of no use for the other.
    std::map<model::RepId, std::vector<std::uint8_t>> evidence;
    for (const model::Rep& rep : open_.reps()) {
        evidence[rep.id] = library_.evidence(rep.id);
    }
    const auto store = [this](const model::Clip& c, const std::vector<model::Rep>& reps,
                              std::map<model::RepId, std::vector<std::uint8_t>> seen) {
        library_.save(c);
        library_.removeStudy(c.id);
        for (const model::Rep& rep : reps) {
            library_.save(rep);
            library_.setEvidence(rep.id, seen[rep.id]);
        }
    };
    edits_.apply(
        asFields ? tr("Read the film as fields") : tr("Read the film in whole frames"),
        [=] { store(clip, after, {}); },
        [=, oldClip = open_.clip(), before = open_.reps()] { store(oldClip, before, evidence); });
}

void ClipEdits::setSchool(const technique::SchoolQuestion& question, const std::string& option,
                          ForWhom forWhom) {
    const auto chosen = [&](std::set<std::string> schools, bool add) {
        for (const technique::SchoolOption& o : question.options) {
            schools.erase(o.id);
        }
        if (add) {
            schools.insert(option);
        }
        return schools;
    };
    struct State {
        model::Player player;
        std::vector<model::Clip> clips;
        std::vector<model::Rep> reps;
    };
    State before;
    before.player = open_.player();
    for (const model::Clip& c : library_.clips(before.player.id)) {
        const bool ofVisit = c.id == open_.clip().id || c.filmed == open_.clip().filmed;
        if (forWhom == ForWhom::player || (forWhom == ForWhom::visit && ofVisit)) {
            before.clips.push_back(c);
            const auto reps = library_.reps(c.id);
            before.reps.insert(before.reps.end(), reps.begin(), reps.end());
        }
    }
    if (forWhom == ForWhom::rep) {
        before.reps.push_back(open_.rep());
    }
    State after = before;
    if (forWhom == ForWhom::player) {
        after.player.schools = chosen(before.player.schools, true);
    }
    for (model::Clip& c : after.clips) {
        c.schools = chosen(c.schools, forWhom == ForWhom::visit);
    }
    for (model::Rep& r : after.reps) {
        r.schools = chosen(r.schools, forWhom == ForWhom::rep);
    }
    const auto put = [this](const State& state) {
        library_.save(state.player);
        for (const model::Clip& c : state.clips) {
            library_.save(c);
        }
        for (const model::Rep& r : state.reps) {
            library_.setSchools(r.id, r.schools);
        }
    };
    edits_.apply(
        tr("Judge by “%1”")
            .arg(QString::fromStdString(technique::findSchool(open_.pack(), option)->name)),
        [put, after] { put(after); }, [put, before] { put(before); });
}

void ClipEdits::takeNewerEdition() {
    const technique::Pack* newest = shelf_.newest(open_.rep().techniqueId);
    if (newest == nullptr) {
        return;
    }
    const model::RepId rep = open_.rep().id;
    edits_.apply(
        tr("Judge by the newest pack"),
        [this, rep, id = newest->id, text = newest->text] {
            library_.setEdition(rep, library_.keepEdition(id, text));
        },
        [this, rep, before = open_.rep().packEdition] { library_.setEdition(rep, before); });
}

void ClipEdits::setSecondView(std::optional<model::ClipId> otherId) {
    const model::ClipId clipId = open_.clip().id;
    const auto before = library_.pairOf(clipId);
    const auto theirs = otherId ? library_.pairOf(*otherId) : std::nullopt;
    if (before == otherId) {
        return;
    }
    edits_.apply(
        tr("Say the second view"), [this, clipId, otherId] { library_.setPair(clipId, otherId); },
        [this, clipId, before, otherId, theirs] {
            library_.setPair(clipId, before);
            if (otherId && theirs) {
                library_.setPair(*otherId, theirs); // it was another clip's second view
            }
        });
}

void ClipEdits::setSyncOffset(const std::optional<model::SyncOffset>& step) {
    const model::ClipId clipId = open_.clip().id;
    const auto before = library_.syncOffset(clipId);
    if (before == step) {
        return;
    }
    edits_.apply(
        step ? tr("Match the films by their sound") : tr("Match the films by key positions"),
        [this, clipId, step] { library_.setSyncOffset(clipId, step); },
        [this, clipId, before] { library_.setSyncOffset(clipId, before); });
}

} // namespace kestrel::desk
