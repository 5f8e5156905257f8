#pragma once

#include "body/estimate.h"
#include "body/fitted_body.h"

/// Bodies as likely as an estimate says. Only within this room.
namespace kestrel::body {

/// The estimate in level axes and standing heights, with draws of what it may be off by: all
/// parameters at once by the factor of the information matrix, limbs in other answers by their
/// odds.
FittedParts drawnFrom(Estimate& estimate);

} // namespace kestrel::body
