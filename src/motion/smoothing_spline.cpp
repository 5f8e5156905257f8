#include "motion/smoothing_spline.h"

#include "motion/kalman_smoother.h"

#include <Eigen/Core>

#include <boost/math/tools/minima.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <stdexcept>

namespace kestrel::motion {
namespace {

using Estimate = StateEstimate<3, 1>; ///< value, rate, bend
using Covariance = Estimate::Covariance;

const Estimate::Row valueRow = Estimate::Row::Unit(0);

constexpr std::size_t leastSamples = 5;

/// Brings a state on by `dt` seconds, and what the white noise adds meanwhile.
Covariance carrying(double dt) {
    Covariance carry = Covariance::Identity();
    carry(0, 1) = dt;
    carry(0, 2) = dt * dt / 2.0;
    carry(1, 2) = dt;
    return carry;
}

Covariance disturbance(double dt, double processNoise) {
    const double d2 = dt * dt;
    const double d3 = d2 * dt;
    Covariance q;
    q << d3 * d2 / 20.0, d2 * d2 / 8.0, d3 / 6.0, //
        d2 * d2 / 8.0, d3 / 3.0, d2 / 2.0,        //
        d3 / 6.0, d2 / 2.0, dt;
    return q * processNoise;
}

/// What is known before the first sample: nothing. Wide, in units of the samples themselves.
Estimate beforeAll(std::span<const Sample> samples) {
    const auto [low, high] =
        std::minmax_element(samples.begin(), samples.end(),
                            [](const Sample& a, const Sample& b) { return a.value < b.value; });
    const double span = samples.back().time - samples.front().time;
    const double height = std::max(high->value - low->value, samples.front().sd);
    constexpr double wide = 1e3;
    Estimate start;
    start.mean[0] = samples.front().value;
    start.covariance.diagonal() << std::pow(wide * height, 2), std::pow(wide * height / span, 2),
        std::pow(wide * height / (span * span), 2);
    return start;
}

struct Run {
    std::vector<Estimate> filtered;
    std::vector<Estimate> predicted;
    std::vector<Covariance> carries; ///< to each sample from the one before
    double logVariances = 0.0;       ///< sum over the samples
    double misfit = 0.0;             ///< sum of squares in standard deviations
    int count = 0;

    /// Of the deviations' measure, squared: how much more or less the samples scatter than stated.
    [[nodiscard]] double measure(Scatter scatter) const {
        constexpr double least = 0.01;
        return scatter == Scatter::stated ? 1.0 : std::clamp(misfit / count, least, 1.0);
    }
    [[nodiscard]] double logLikelihood(Scatter scatter) const {
        const double square = measure(scatter);
        return -0.5 * (count * std::log(square) + logVariances + misfit / square);
    }
};

/// With `keep` the estimates are kept, else only what the likelihood is made of.
Run filtered(std::span<const Sample> samples, double processNoise, bool keep) {
    Run run;
    Estimate now = beforeAll(samples);
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const double dt = i > 0 ? samples[i].time - samples[i - 1].time : 0.0;
        const Covariance carry = carrying(dt);
        now.moveOn(carry, disturbance(dt, processNoise));
        if (keep) {
            run.predicted.push_back(now);
            run.carries.push_back(carry);
        }
        const auto [residual, variance] =
            now.update(valueRow, Estimate::Value(samples[i].value), samples[i].sd * samples[i].sd);
        // The first samples only say where the curve begins.
        if (i >= 3) {
            run.logVariances += std::log(variance);
            run.misfit += residual.squaredNorm() / variance;
            ++run.count;
        }
        if (keep) {
            run.filtered.push_back(now);
        }
    }
    return run;
}

struct ProcessNoise {
    double value = 0.0;
    double logSd = 0.0;
};

/// The process noise that makes the samples likeliest: coarse steps, then Brent's method.
ProcessNoise likeliest(std::span<const Sample> samples, Scatter scatter) {
    const double span = samples.back().time - samples.front().time;
    const double interval = span / static_cast<double>(samples.size() - 1);
    const auto likelihood = [&](double logNoise) {
        return filtered(samples, std::exp(logNoise), false).logLikelihood(scatter);
    };
    double sd = 0.0;
    for (const Sample& s : samples) {
        sd += s.sd / static_cast<double>(samples.size());
    }
    // From a curve that cannot bend in the whole stretch to one that follows every sample.
    const double least = std::log(sd * sd / std::pow(span, 5)) - 4.0;
    const double most = std::log(sd * sd / std::pow(interval, 5)) + 12.0;
    constexpr int steps = 14;
    double best = least;
    double highest = -std::numeric_limits<double>::infinity();
    for (int i = 0; i <= steps; ++i) {
        const double at = least + (most - least) * i / steps;
        const double value = likelihood(at);
        if (value > highest) {
            highest = value;
            best = at;
        }
    }
    const double step = (most - least) / steps;
    constexpr int bits = 12; // the likelihood is flat at its top
    const double found =
        boost::math::tools::brent_find_minima([&](double at) { return -likelihood(at); },
                                              best - step, best + step, bits)
            .first;
    constexpr double aside = 0.7;
    const double fall =
        2.0 * likelihood(found) - likelihood(found - aside) - likelihood(found + aside);
    constexpr double mostSd = 2.0; // samples that hardly tell it
    const double logSd = fall > 0.0 ? std::min(mostSd, aside / std::sqrt(fall)) : mostSd;
    return {std::exp(found), logSd};
}

/// Of a spline with white noise of that strength in the third derivative and samples of deviation
/// `sd` every `interval` seconds: gain 1 / (1 + (ω/ω₀)⁶) with ω₀⁶ = process noise / (sd² ·
/// interval).
double cutoff(double processNoise, double sd, double interval) {
    return std::pow(processNoise / (sd * sd * interval), 1.0 / 6.0) / (2.0 * std::numbers::pi);
}

} // namespace

SmoothResponse smoothResponse(std::span<const Sample> samples, const SmoothCurve& curve) {
    std::vector<Sample> scattered(samples.begin(), samples.end());
    for (Sample& s : scattered) {
        s.sd *= curve.scatterShare;
    }
    const Run run = filtered(scattered, curve.processNoise, true);
    const std::size_t count = scattered.size();
    const auto size = static_cast<Eigen::Index>(count);
    // The gains do not depend on the samples' values, so one pass forward and one back carry all
    // samples' unit changes at once, a column each.
    using Changes = Eigen::Matrix<double, 3, Eigen::Dynamic>;
    std::vector<Changes> states(count, Changes::Zero(3, size));
    Changes now = Changes::Zero(3, size);
    for (std::size_t i = 0; i < count; ++i) {
        const auto column = static_cast<Eigen::Index>(i);
        // The curve before anything is known starts at the first sample.
        if (i == 0) {
            now(0, 0) = 1.0;
        } else {
            now = run.carries[i] * now;
        }
        const Covariance& covariance = run.predicted[i].covariance;
        const Estimate::Mean gain =
            covariance.col(0) / (covariance(0, 0) + scattered[i].sd * scattered[i].sd);
        Eigen::RowVectorXd residual = -now.row(0);
        residual[column] += 1.0;
        now += gain * residual;
        states[i] = now;
    }
    for (std::size_t i = count - 1; i-- > 0;) {
        const Covariance& carry = run.carries[i + 1];
        states[i] += smootherGain(run.filtered[i], run.predicted[i + 1], carry) *
                     (states[i + 1] - carry * states[i]);
    }
    SmoothResponse response{Eigen::MatrixXd(size, size), Eigen::MatrixXd(size, size),
                            Eigen::MatrixXd(size, size)};
    for (Eigen::Index i = 0; i < size; ++i) {
        const Changes& state = states[static_cast<std::size_t>(i)];
        response.value.row(i) = state.row(0);
        response.rate.row(i) = state.row(1);
        response.bend.row(i) = state.row(2);
    }
    return response;
}

namespace {

/// Forward and back over the samples, with the noise of that strength.
SmoothCurve smoothed(std::span<const Sample> samples, Scatter scatter, double processNoise) {
    SmoothCurve curve;
    const Run run = filtered(samples, processNoise, true);
    const double square = run.measure(scatter);
    curve.processNoise = processNoise * square;
    curve.scatterShare = std::sqrt(square);
    const std::vector<Estimate> estimates = smoothedBack(run.filtered, run.predicted, run.carries);
    double sd = 0.0;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const Estimate& e = estimates[i];
        const auto deviation = [&](int k) {
            return std::sqrt(square * std::max(0.0, e.covariance(k, k)));
        };
        const double shared = samples[i].sd * std::sqrt(1.0 - square);
        curve.points.push_back({samples[i].time, e.mean[0], std::hypot(deviation(0), shared),
                                e.mean[1], deviation(1), e.mean[2], deviation(2)});
        sd += samples[i].sd / static_cast<double>(samples.size());
    }
    curve.cutoffHz = cutoff(processNoise, sd,
                            (samples.back().time - samples.front().time) /
                                static_cast<double>(samples.size() - 1));
    return curve;
}

} // namespace

SmoothCurve smoothCurve(std::span<const Sample> samples, Scatter scatter) {
    if (samples.size() < leastSamples) {
        throw std::invalid_argument("a smooth curve needs at least five samples");
    }
    const ProcessNoise processNoise = likeliest(samples, scatter);
    SmoothCurve curve = smoothed(samples, scatter, processNoise.value);
    curve.processNoiseLogSd = processNoise.logSd;
    return curve;
}

SmoothCurve smoothedAs(std::span<const Sample> samples, const SmoothCurve& curve, double times) {
    std::vector<Sample> scattered(samples.begin(), samples.end());
    for (Sample& s : scattered) {
        s.sd *= curve.scatterShare;
    }
    return smoothed(scattered, Scatter::stated, times * curve.processNoise);
}

} // namespace kestrel::motion
