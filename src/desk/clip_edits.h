#pragma once

#include "desk/edit_stack.h"
#include "desk/judging.h"
#include "desk/open_clip.h"
#include "desk/shelf.h"

#include <QCoreApplication>

#include <optional>
#include <string>

namespace kestrel::desk {

/// Whom a choice of schools is for.
enum class ForWhom { rep, visit, player };

/// Edits of the open clip, of the reps in it and of how they are judged. Only while a clip is open.
class ClipEdits {
    Q_DECLARE_TR_FUNCTIONS(kestrel::desk::ClipEdits)
  public:
    ClipEdits(records::Library& library, OpenClip& open, const Shelf& shelf, const Judging& judging,
              EditStack& edits)
        : library_(library), open_(open), shelf_(shelf), judging_(judging), edits_(edits) {}

    void setClip(const model::Clip& clip, const QString& what);
    /// Says what is marked on the ground; nothing: nothing is.
    void setGround(const std::optional<model::GroundMarks>& ground, const QString& what);
    /// Says which technique the clip shows, for all of its reps. Marks stay as they are; start and
    /// shot type, which belong to the technique, are forgotten.
    void setTechnique(const std::string& techniqueId);
    /// Reads interlaced film as fields, or as whole frames again; marks stay at their instants.
    void setAsFields(bool asFields);
    /// Says which clip shows the motion from another place; nothing: none.
    void setSecondView(std::optional<model::ClipId> otherId);
    /// How the films go together, as heard; nothing: as the key positions say.
    void setSyncOffset(const std::optional<model::SyncOffset>& step);

    /// Title, start type, shot type, result and span of a rep; its marks are left as they are.
    void setRep(const model::Rep& rep, const QString& what);
    /// Takes the proposed reps over: the clip's one rep becomes the first of them as long as
    /// nothing is marked on it and it has no span; the others are added.
    void takeProposedReps();
    void addRep(const model::FrameSpan& span);
    /// Removes a rep with its marks; a clip keeps at least one.
    void removeRep(model::RepId repId);

    /// Chooses the answer to a pack's question of schools for the open rep, all clips of its visit,
    /// or the player; nearer choices of the same question are forgotten.
    void setSchool(const technique::SchoolQuestion& question, const std::string& option,
                   ForWhom forWhom);
    /// Judges the open rep with the newest edition of its pack from now on.
    void takeNewerEdition();

  private:
    records::Library& library_;
    OpenClip& open_;
    const Shelf& shelf_;
    const Judging& judging_;
    EditStack& edits_;
};

} // namespace kestrel::desk
