#pragma once

#include "model/units.h"

namespace kestrel::synth {

/// Angles of motion sheets and cameras are plain degrees, as their files have them.
inline double radians(double degrees) {
    return model::toRadians(model::Degrees(degrees));
}

} // namespace kestrel::synth
