#pragma once

#include <optional>
#include <span>

/// A signal that was sampled, seen as a smooth curve around an instant.
namespace kestrel::motion {

/// One sample: seconds, value in any unit, its standard deviation in that unit (above 0).
struct Sample {
    double time = 0.0;
    double value = 0.0;
    double sd = 1.0;
};

/// The parabola that lies best through the samples around an instant.
struct LocalFit {
    double value = 0.0;   ///< at the instant
    double rate = 0.0;    ///< unit per second
    double bend = 0.0;    ///< second derivative, unit per second squared
    double valueSd = 0.0; ///< standard error of value, from how the samples scatter about the curve
    double rateSd = 0.0;  ///< standard error of rate
};

/// Weighted least squares of a parabola through the samples within `halfWidth` seconds of `at`,
/// weights 1/sd² (Savitzky and Golay 1964, Anal. Chem. 36:1627, for uneven times). `samples` are in
/// ascending time. Nothing with fewer than four samples there, or with none on one side of `at`.
std::optional<LocalFit> fitLocally(std::span<const Sample> samples, double at, double halfWidth);

} // namespace kestrel::motion
