#pragma once

#include "desk/edit_stack.h"
#include "desk/judging.h"
#include "desk/open_clip.h"
#include "model/clock.h"
#include "records/clip_store.h"

#include <QCoreApplication>

#include <string>

namespace kestrel::desk {

/// Edits of players, and films brought in for them.
class SquadEdits {
    Q_DECLARE_TR_FUNCTIONS(kestrel::desk::SquadEdits)
  public:
    SquadEdits(records::Library& library, OpenClip& open, const Shelf& shelf,
               const Judging& judging, EditStack& edits, model::Clock clock)
        : library_(library),
          open_(open),
          shelf_(shelf),
          judging_(judging),
          edits_(edits),
          clock_(std::move(clock)) {}

    /// A height that changed is measured today. With another hand, positions are found anew in all
    /// of the player's films: those that are not known yet are waited for.
    void setPlayer(const model::Player& player, const QString& what);
    /// Adds a player; returns the id, not stored when that was refused. Taking it back leaves no
    /// trace.
    model::PlayerId addPlayer(const model::Player& player);
    /// Adds a film already in the clip folder to a player and opens it.
    void addFilm(model::PlayerId playerId, const records::StoredFilm& film,
                 const std::string& title, const std::string& techniqueId);
    /// The technique of the player's newest clip; for a player without, the one said last.
    [[nodiscard]] std::string usualTechnique(model::PlayerId playerId) const;

  private:
    records::Library& library_;
    OpenClip& open_;
    const Shelf& shelf_;
    const Judging& judging_;
    EditStack& edits_;
    model::Clock clock_;
};

} // namespace kestrel::desk
