#pragma once

#include "body/body_problem.h"
#include "body/estimate.h"

#include <cstddef>
#include <functional>
#include <vector>

/// Limbs that lean out of the picture to the other side. Only within this room.
namespace kestrel::body {

/// Whether a limb that a point belongs to is looked at, at an instant.
using Where = std::function<bool(std::size_t instant, std::size_t point)>;
inline bool everywhere(std::size_t /*instant*/, std::size_t /*point*/) {
    return true;
}

/// Seen from one place a limb looks alike whether it leans towards the camera or away from it, so
/// that the nearest smallest sum need not be the smallest. Turns each bone of each limb over, both
/// together, the trunk and the lines through hips and shoulders, wherever they lean out of the
/// picture, and keeps what makes the sum smaller. Whether anything was kept.
bool turnOverWhereBetter(BodyProblem& problem, const Where& where = everywhere);

/// Takes over how another state holds a limb, wherever that makes the sum smaller. Whether anything
/// was taken over.
bool takeWhereBetter(BodyProblem& problem, const State& other);

/// What is nearly as likely as the state, of the same kind: with odds of one to a hundred or more.
/// The state stays.
std::vector<Alternative> alternatives(BodyProblem& problem, const Where& where = everywhere);

} // namespace kestrel::body
