#pragma once

#include "body/fitted_body.h"
#include "body/seen_rep.h"

#include <functional>
#include <optional>

namespace kestrel::body {

/// Called with the share done, 0…1, some ten times; returning false cancels.
using FitProgress = std::function<bool(double share)>;

/// The body in space that explains a film best: one estimate of all places in all instants, of the
/// lengths of the body, the camera and the ground (nonlinear least squares, Ceres). What goes into
/// it: where landmarks are seen; bones that keep their length; points that go on as they went;
/// knees that are hinges, a trunk that turns within limits; feet that stand; what a machine says of
/// depth. Nothing when too little is seen: fewer than four instants, a landmark never, or so
/// little that a part of the estimate stays unknown; nothing, too, when `progress` cancelled.
std::optional<FittedBody> fitBody(const SeenRep& rep, const FitProgress& progress = {});

} // namespace kestrel::body
