#pragma once

#include "body/estimate.h"
#include "body/fitted_body.h"
#include "body/seen_rep.h"

#include <vector>

/// From where a search ended to where the next one begins. Only within this room.
namespace kestrel::body {

/// What is kept of an estimate beside its places. `sum` is its sum of squares.
SearchEnd searchEnd(const Estimate& estimate, double distanceInformation, double sum);

/// The estimate's state at the instants it was of.
State stateAt(const FittedParts& parts, const SearchEnd& end);

/// Its other answers at other instants: those that such an instant lies in.
std::vector<Alternative> answersAt(const std::vector<model::Seconds>& times, const SearchEnd& end,
                                   const std::vector<model::Seconds>& others);

/// The other places where its search ended, at other instants.
std::vector<OtherEnd> endsAt(const std::vector<model::Seconds>& times, const SearchEnd& end,
                             const std::vector<model::Seconds>& others);

} // namespace kestrel::body
