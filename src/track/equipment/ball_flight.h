#pragma once

#include "model/units.h"

#include <span>

/// Whether what was seen in some pictures went as a ball goes. Only within this room.
namespace kestrel::track {

/// A place on the way that was found.
struct BallSighting {
    double time = 0.0; ///< seconds
    model::Point2 at;
    bool plain = false; ///< looks in every way like the ball, and like nothing of the body
};

/// Whether it goes as what flies goes: far, fast, and bent no more than gravity and drag do; or,
/// where it is mostly plain to see, as what rolls, bounces or comes nearer goes: so for a few
/// pictures at a time. `diameterPx` of the ball, `bodyPx` the standing height, pixels.
bool isFlight(std::span<const BallSighting> piece, double diameterPx, double bodyPx);

} // namespace kestrel::track
