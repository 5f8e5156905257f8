#pragma once

#include "motion/local_fit.h"

#include <Eigen/Core>

#include <span>
#include <vector>

/// A sampled signal as one smooth curve, with its speed and acceleration and how sure each is.
namespace kestrel::motion {

/// The curve at one sample's time; deviations are standard deviations of the curve there.
struct SmoothPoint {
    double time = 0.0;  ///< seconds
    double value = 0.0; ///< unit of the samples
    double valueSd = 0.0;
    double rate = 0.0; ///< unit per second
    double rateSd = 0.0;
    double bend = 0.0; ///< unit per second squared
    double bendSd = 0.0;
};

/// Whether the samples' deviations are what they scatter by.
enum class Scatter {
    stated, ///< yes: each was set on its own
    /// No: most of each deviation is an error that neighbours share, as of landmarks that a machine
    /// followed. How much they scatter is taken from the samples, at most as stated.
    seen,
};

struct SmoothCurve {
    std::vector<SmoothPoint> points; ///< one a sample, in order
    /// How suddenly the acceleration changes, unit² per second⁵: the smoothing parameter.
    double processNoise = 0.0;
    /// Frequency that the curve still follows at half its size, Hz: the cut-off of the filter that
    /// the spline is (de Boor 1978; Craven and Wahba 1979 for how it is chosen from the data).
    double cutoffHz = 0.0;
    /// What the samples scatter by, as a share of their deviations: 1 with Scatter::stated.
    double scatterShare = 1.0;
    /// How surely the samples tell the process noise: standard deviation of its natural logarithm,
    /// from how quickly their likelihood falls beside the best.
    double processNoiseLogSd = 0.0;
};

/// What one unit more of a sample adds to the curve: rows are points, columns samples.
struct SmoothResponse {
    Eigen::MatrixXd value;
    Eigen::MatrixXd rate; ///< per second
    Eigen::MatrixXd bend; ///< per second squared
};

/// Quintic smoothing spline, weights 1/sd², in ascending times that need not be even. It is the
/// posterior of a signal whose third derivative is white noise (Wahba 1978; Kohn and Ansley 1987),
/// found by a Kalman filter and a Rauch–Tung–Striebel smoother; how strong that noise is, is what
/// makes the samples likeliest. So samples that scatter more, or that state they are less sure,
/// are smoothed more, and no cut-off has to be guessed. With Scatter::seen the deviations' own
/// measure is found along with it, and what the neighbours share adds to valueSd. Throws
/// std::invalid_argument with fewer than five samples.
SmoothCurve smoothCurve(std::span<const Sample> samples, Scatter scatter = Scatter::stated);

/// The samples smoothed anew as if their process noise were so many times what `curve` found.
SmoothCurve smoothedAs(std::span<const Sample> samples, const SmoothCurve& curve, double times);

/// How the samples make the curve that smoothCurve found from them, with the smoothing as strong
/// as it is: the spline is linear in its samples. What the samples' scatter alone does to anything
/// computed from the curve follows from it; the curve's own deviations hold more, how rough the
/// signal may be between the samples. Costs the square of the number of samples.
SmoothResponse smoothResponse(std::span<const Sample> samples, const SmoothCurve& curve);

} // namespace kestrel::motion
