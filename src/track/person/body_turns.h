#pragma once

#include "model/body_turn.h"
#include "track/person/evidence.h"

namespace kestrel::track {

/// What the network's depths say of hips and shoulders in each frame, the mean of it and the two
/// frames to each side. Of evidence whose sides are settled (sides.h).
model::BodyTurns bodyTurns(const Evidence& evidence);

} // namespace kestrel::track
