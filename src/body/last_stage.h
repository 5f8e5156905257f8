#pragma once

#include "body/body_problem.h"
#include "body/fitted_body.h"
#include "body/seen_rep.h"

#include <optional>
#include <vector>

/// The last stage of a fit: how long and how finely is searched, and how surely what is found is
/// known. Only within this room.
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

/// The body of a problem that is at its smallest sum, with other answers beside it; nothing when
/// what is seen leaves some parameters quite unknown. `distanceInformation`: see
/// BodyProblem::estimate().
std::optional<FittedBody> drawnBody(BodyProblem& whole, double distanceInformation,
                                    std::vector<Alternative> alternatives,
                                    std::vector<OtherEnd> otherEnds);

} // namespace kestrel::body
