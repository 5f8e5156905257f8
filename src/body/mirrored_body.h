#pragma once

#include "body/fitted_body.h"

/// A left-hander's motion as a right-hander would do it, and the other way round.
namespace kestrel::body {

/// The body in a mirror beside it: left and right are exchanged, and what was to the right of the
/// picture is to its left.
FittedBody mirrored(const FittedBody& body);

} // namespace kestrel::body
