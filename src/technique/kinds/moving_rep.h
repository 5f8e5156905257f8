#pragma once

#include "model/record.h"
#include "technique/pack/pack.h"

#include <string>

/// A measure of one instant read in every frame of a film. Only within this room.
namespace kestrel::technique {

/// A rep with one more position, which is moved from frame to frame; all others stay where they
/// are, and with them the body height and what a measure compares with.
class MovingRep {
  public:
    /// The id of the position; no pack's id has blanks.
    static constexpr const char* position = "this frame";

    MovingRep(const Pack& pack, const model::Rep& rep);

    /// The pack with that position.
    [[nodiscard]] const Pack& pack() const { return pack_; }

    /// The rep as it stands: the position where `at` last put it.
    [[nodiscard]] const model::Rep& rep() const { return rep_; }

    /// The rep with the position at that frame. Where the coach has said at a position of this
    /// frame which end is nearer, that holds.
    const model::Rep& at(int frame);

  private:
    Pack pack_;
    model::Rep rep_;
};

} // namespace kestrel::technique
