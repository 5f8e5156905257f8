#pragma once

#include "body/estimate.h"
#include "body/seen_rep.h"

#include <span>

/// From some instants to others. Only within this room.
namespace kestrel::body {

/// The state of instants at `times` at those of `rep`: on the cubic through them (Catmull and Rom
/// 1974). Before the first and after the last it stays as it is there. Of two instants or more.
State between(std::span<const model::Seconds> times, const State& known, const SeenRep& rep);

/// Moves points across the view to where their landmarks are seen, if they are farther off than so
/// many standard deviations; not those that are seen with an error that lasts.
void putWhereSeen(State& state, const SeenRep& rep, double beyondSds);

/// Whether a landmark is seen farther off than so many standard deviations, its lasting errors
/// included, at any point of an instant.
bool isSeenElsewhere(const State& state, const SeenInstant& instant, std::size_t i,
                     double beyondSds);

} // namespace kestrel::body
