#pragma once

#include "body/seen_rep.h"

/// How long is searched, how finely, and how surely what is found is known. Only within this room.
namespace kestrel::body {

inline constexpr int rounds = 25;

/// Between instants of the whole estimate: arms that strike are followed well enough.
inline constexpr model::Seconds fineStep{1.0 / 30.0};

/// Rounds in which points move freely. Across the view a point that a coach placed hardly moves any
/// more; one that errs for a while does.
inline int freeRounds(const SeenRep& rep) {
    constexpr int placed = 3;
    constexpr int erring = 8;
    return rep.errs() ? erring : placed;
}

/// How much farther a body is off than the estimate says. Where a machine followed landmarks
/// between those that a coach placed: how a network errs from pose to pose is not in the model. Set
/// on eight rendered films of players of their own manner (docs/body.md).
inline constexpr double unmodelled = 1.5;
/// The same where only the key positions are known: how a player does the technique otherwise goes
/// through the whole body, and a limb may be held quite otherwise. Set on 32 films with seeds for
/// setting (`demo body-accuracy --landmarks positions`).
inline constexpr double unmodelledAtPositions = 1.25;

inline double unmodelledIn(const SeenRep& rep) {
    return !rep.showsMotion() ? unmodelledAtPositions : rep.errs() ? unmodelled : 1.0;
}

} // namespace kestrel::body
