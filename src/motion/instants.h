#pragma once

#include "motion/local_fit.h"

#include <vector>

/// Instants of a sampled signal: where it turns and where it passes a level.
namespace kestrel::motion {

/// A stretch of time, seconds; both ends belong to it.
struct TimeSpan {
    double from = 0.0;
    double to = 0.0;
};

struct Instant {
    double time = 0.0;  ///< seconds, between samples where the curve says so
    double sd = 0.0;    ///< standard deviation of `time` from the scatter of the samples, seconds
    double value = 0.0; ///< of the smoothed signal then
    double scatterSd = 0.0; ///< standard error of `value` from the scatter of the samples
    double statedSd = 0.0;  ///< what the samples state there, errors that neighbours share included
};

/// Peaks of the signal inside `within`, the highest first. The curve is a parabola over
/// `halfWidth` seconds to both sides. An end of the stretch is no peak.
std::vector<Instant> peaks(std::span<const Sample> samples, TimeSpan within, double halfWidth);

/// Instants inside `within` at which the smoothed signal rises through `level`, in order of time.
std::vector<Instant> rises(std::span<const Sample> samples, TimeSpan within, double halfWidth,
                           double level);

/// Lowest and highest value of the smoothed signal inside `within`; nothing when no curve can be
/// laid there.
struct Extent {
    double low = 0.0;
    double high = 0.0;
};
std::optional<Extent> extent(std::span<const Sample> samples, TimeSpan within, double halfWidth);

/// The same signal upside down: its peaks are the troughs, its rises the falls (through −level).
std::vector<Sample> upsideDown(std::span<const Sample> samples);

} // namespace kestrel::motion
