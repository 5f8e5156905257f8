#pragma once

#include "model/landmark.h"

#include <random>

/// Errors as a machine's landmarks have them, drawn.
namespace kestrel::study {

/// An error of standard deviation 1 that partly stays alike from instant to instant.
class LastingError {
  public:
    /// `after` seconds past the last call; half as alike for each 0.7 `lasts` seconds.
    double next(double after, double lasts, std::mt19937& random);

  private:
    bool first_ = true;
    double value_ = 0.0;
};

/// Standard deviations, pixels per axis.
struct MachineError {
    double scatterPx = 0.0; ///< differs from frame to frame
    double lastingPx = 0.0; ///< stays alike for a while
};

/// As the network's proposals say of themselves (track/person/body_points.h), at their best, on a
/// player who stands `bodyPx` tall.
MachineError machineError(model::Landmark landmark, double bodyPx);

/// For about so long the network's lasting errors stay alike, seconds.
inline constexpr double machineErrorLastsS = 0.5;

} // namespace kestrel::study
