#pragma once

#include "model/reading.h"

/// What a reading is uncertain by on its own, and what it has in common with others. Only within
/// this room.
namespace kestrel::coaching {

/// The variances of a reading's own uncertainty, by what they are alike in.
struct OwnVariance {
    double rep = 0.0;
    double film = 0.0;
    double player = 0.0;
};

/// Errors of bodies in space correlate by so much between the reps of a film, and between visits of
/// one player: lengths, the camera and how the player does it otherwise than usual are the same.
/// Measured on synthetic players (docs/body.md).
inline constexpr double alikeInFilm = 0.7;
inline constexpr double alikeInPlayer = 0.35;

inline OwnVariance ownVariance(const model::UncertaintyParts& parts) {
    const auto square = [](double sd) { return sd * sd; };
    const double body = square(parts.body);
    return {square(parts.placement) + square(parts.outOfPlane) + square(parts.frames) +
                square(parts.smoothing) + (1.0 - alikeInFilm) * body,
            square(parts.ground) + (alikeInFilm - alikeInPlayer) * body,
            square(parts.proportion) + alikeInPlayer * body};
}

} // namespace kestrel::coaching
