#include "desk/squad_edits.h"

#include "prepare/marks_anew.h"

#include <memory>

namespace kestrel::desk {

void SquadEdits::setPlayer(const model::Player& player, const QString& what) {
    const model::Player old = *library_.player(player.id);
    if (old == player) {
        return;
    }
    const bool otherHand = player.hand != old.hand;
    const bool otherHeight = player.height != old.height;
    const model::Day day = clock_();
    const auto heights = library_.heights(player.id);
    const auto before = heights.find(day);
    const auto heightBefore =
        before == heights.end() ? std::nullopt : std::optional(before->second);
    const auto store = [this, otherHand, otherHeight,
                        day](const model::Player& p, const std::optional<model::Metres>& measured) {
        library_.save(p);
        if (otherHeight) {
            library_.setHeight(p.id, day, measured);
        }
        for (const model::Clip& clip :
             otherHand ? library_.clips(p.id) : std::vector<model::Clip>{}) {
            for (const model::Rep& rep : library_.reps(clip.id)) {
                prepare::findAnew(library_, judging_.patientSources(),
                                  rep.id); // lead and trail have changed places
            }
        }
    };
    edits_.apply({.name = what,
                  .apply = [=] { store(player, player.height); },
                  .revert = [=] { store(old, heightBefore); },
                  .touches = Touches::records});
}

model::PlayerId SquadEdits::addPlayer(const model::Player& player) {
    auto id = std::make_shared<model::PlayerId>();
    const bool added = edits_.apply({.name = tr("Add %1").arg(QString::fromStdString(player.name)),
                                     .apply =
                                         [=, this, day = clock_()] {
                                             model::Player stored = player;
                                             stored.id =
                                                 *id; // the same number again after undo and redo
                                             *id = library_.save(stored);
                                             library_.setHeight(*id, day, player.height);
                                         },
                                     .revert = [=, this] { library_.removePlayer(*id); },
                                     .touches = Touches::records});
    return added ? *id : model::PlayerId();
}

std::string SquadEdits::usualTechnique(model::PlayerId playerId) const {
    for (const model::Clip& clip : library_.clips(playerId)) {
        for (const model::Rep& rep : library_.reps(clip.id)) {
            return shelf_.packOf(rep).id;
        }
    }
    const std::string said = library_.setting("technique");
    return shelf_.newest(said) == nullptr ? shelf_.packs().front().id : said;
}

void SquadEdits::addFilm(model::PlayerId playerId, const records::StoredFilm& film,
                         const std::string& title, const std::string& techniqueId) {
    if (const auto known = library_.clipByHash(playerId, film.sha256)) {
        open_.open(known->id); // this player has this very film
        return;
    }
    auto id = std::make_shared<model::ClipId>();
    edits_.apply(
        {.name = tr("Bring in %1").arg(QString::fromStdString(title)),
         .apply =
             [=, this] { *id = records::addClip(library_, playerId, film, title, techniqueId).id; },
         // An open clip that is gone closes by itself.
         .revert = [=, this] { library_.removeClip(*id); },
         .touches = Touches::records,
         .then = [=, this] { open_.open(*id); }});
}

} // namespace kestrel::desk
