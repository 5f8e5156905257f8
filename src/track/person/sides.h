#pragma once

#include "track/person/evidence.h"

#include <optional>

namespace kestrel::track {

/// Undoes exchanges of left and right: networks swap a person's legs, or arms, in side views, for
/// a frame or for a stretch. Legs and arms are each looked at as a whole over all frames; the way
/// through them that changes its movement least is kept (frames in which the network sees both
/// limbs in one place may be left out for it), and of the two ways that differ in nothing but the
/// names, the one the network more often said. Networks take a back for a chest now and then;
/// `chestToCamera` says which of the two the camera sees at the beginning, and thereby on which
/// side of the picture the left limbs are; unset when the player does not stand side-on then or it
/// is not known. Frames where `placed` says which side is which decide for their surroundings.
void settleSides(Evidence& evidence, const model::LandmarkTrack& placed,
                 std::optional<bool> chestToCamera);

} // namespace kestrel::track
