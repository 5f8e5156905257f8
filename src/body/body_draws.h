#pragma once

#include "body/estimate.h"
#include "body/fitted_body.h"

/// Bodies as likely as an estimate says. Only within this room.
namespace kestrel::body {

/// The estimate in level axes and standing heights, with draws of what it may be off by: all
/// parameters at once by the factor of the information matrix, limbs in other answers and the whole
/// where the search ended otherwise by their odds.
/// `widening` multiplies how far draws lie beside the estimate.
FittedParts drawnFrom(Estimate& estimate, double widening = 1.0);

/// Places of a state in level axes and standing heights, three numbers each.
std::vector<double> inLevelAxes(const State& state);

} // namespace kestrel::body
