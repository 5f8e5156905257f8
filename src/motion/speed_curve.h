#pragma once

#include "model/units.h"
#include "motion/instants.h"
#include "motion/smoothing_spline.h"

#include <optional>
#include <span>
#include <vector>

/// How fast a point moves in the picture, and when it is fastest.
namespace kestrel::motion {

/// Where a point was seen: seconds, pixels, standard deviation per axis in pixels (above 0).
struct PlaceSample {
    double time = 0.0;
    model::Point2 px;
    double sd = 1.0;
};

struct SpeedPoint {
    double time = 0.0;
    double speed = 0.0; ///< pixels per second
    double sd = 0.0;
    double gain = 0.0; ///< how the speed grows: acceleration along the path, pixels per second²
    double gainSd = 0.0;
    model::Point2 velocity;     ///< pixels per second
    model::Point2 acceleration; ///< pixels per second²
    model::Point2 px;           ///< of the smooth path
    double pxSd = 0.0;          ///< of `px`, per axis
};

struct SpeedPeak {
    double time = 0.0; ///< seconds, between samples where the curve says so
    double timeSd = 0.0;
    double speed = 0.0; ///< pixels per second
    double speedSd = 0.0;
    /// The parts of timeSd and speedSd that the samples' scatter alone makes.
    double timeScatterSd = 0.0;
    double speedScatterSd = 0.0;
    double lasts = 0.0; ///< how long the speed stays above half of the peak, seconds
};

struct SpeedCurve {
    std::vector<SpeedPoint> points; ///< one a sample
    double cutoffHz = 0.0;          ///< see SmoothCurve
    SmoothCurve x;                  ///< what it was made of, by axis
    SmoothCurve y;
};

/// How the places make a speed curve: see SmoothResponse.
struct PathResponse {
    SmoothResponse x;
    SmoothResponse y;
    std::vector<double> xSds; ///< what each place scatters by, pixels
    std::vector<double> ySds;
};

PathResponse pathResponse(std::span<const PlaceSample> places, const SpeedCurve& curve);

/// The curve as it would be with one coordinate of one place (x where `alongX`) off by its scatter,
/// times `by`. Its deviations stay as they are.
SpeedCurve withPlaceOff(SpeedCurve curve, const PathResponse& response, std::size_t place,
                        bool alongX, double by);

/// The path smoothed in x and y on their own (smoothing_spline.h) and its speed. Throws
/// std::invalid_argument with fewer than five samples.
SpeedCurve speedCurve(std::span<const PlaceSample> places, Scatter scatter = Scatter::stated);

/// The highest speed of a point inside `within` where the curve turns; nothing when it only rises
/// or falls there. The peak is where the acceleration along the path passes zero; its standard
/// deviation in time is that of the acceleration over how fast it passes, and where another top is
/// nearly as high, of the doubt which of them is the highest. A spike much shorter than what the
/// samples tell from noise comes out flatter than it was.
///
/// A burst is more sudden than the rest of the motion and would be flattened by what fits the
/// whole, so the samples around the peak that the whole curve shows are smoothed anew on their own.
///
/// `whole` is speedCurve(places, scatter), which the caller has or makes.
std::optional<SpeedPeak> speedPeak(std::span<const PlaceSample> places, const SpeedCurve& whole,
                                   TimeSpan within, Scatter scatter = Scatter::stated);

/// The frame rate, frames a second, at which a peak that lasts so long shows: five samples above
/// half of it, so that the curve's top is not a guess between two pictures.
double rateForPeak(const SpeedPeak& peak);

} // namespace kestrel::motion
