#include "motion/speed_curve.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kestrel::motion {
namespace {

constexpr double reachWidths = 1.0; ///< of the peak, to each side
/// What smoothing still takes off a peak's top, and how far that may be wrong, as shares of what
/// the second smoothing gave back; checked on bursts of known speed (tests/motion).
constexpr double stillFlat = 0.5;
constexpr double flatDoubt = 1.0;
constexpr int fewestAround = 9; ///< samples

SmoothCurve axis(std::span<const PlaceSample> places, double model::Point2::*coordinate,
                 Scatter scatter) {
    std::vector<Sample> samples;
    samples.reserve(places.size());
    for (const PlaceSample& place : places) {
        samples.push_back({place.time, place.px.*coordinate, place.sd});
    }
    return smoothCurve(samples, scatter);
}

/// The time at which the speed passes `level` between a sample and its neighbour.
double passing(const SpeedPoint& above, const SpeedPoint& below, double level) {
    const double share = (above.speed - level) / (above.speed - below.speed);
    return above.time + share * (below.time - above.time);
}

/// How long the speed stays above half of that at `top`.
double timeAboveHalf(const std::vector<SpeedPoint>& points, std::size_t top) {
    const double half = 0.5 * points[top].speed;
    double from = points.front().time;
    for (std::size_t i = top; i > 0; --i) {
        if (points[i - 1].speed <= half) {
            from = passing(points[i], points[i - 1], half);
            break;
        }
    }
    double to = points.back().time;
    for (std::size_t i = top; i + 1 < points.size(); ++i) {
        if (points[i + 1].speed <= half) {
            to = passing(points[i], points[i + 1], half);
            break;
        }
    }
    return to - from;
}

std::optional<SpeedPeak> peakOf(const SpeedCurve& curve, TimeSpan within) {
    const auto& p = curve.points;
    std::optional<std::size_t> top;
    for (std::size_t i = 0; i < p.size(); ++i) {
        if (p[i].time >= within.from && p[i].time <= within.to &&
            (!top || p[i].speed > p[*top].speed)) {
            top = i;
        }
    }
    if (!top || *top == 0 || *top + 1 == p.size()) {
        return std::nullopt;
    }
    // The speed turns on one side of its highest sample.
    const std::size_t before = p[*top].gain > 0.0 ? *top : *top - 1;
    const SpeedPoint& a = p[before];
    const SpeedPoint& b = p[before + 1];
    if (a.gain < 0.0 || b.gain > 0.0 || a.gain == b.gain) {
        return std::nullopt;
    }
    const double share = a.gain / (a.gain - b.gain);
    const double interval = b.time - a.time;
    const double steepness = (a.gain - b.gain) / interval;
    SpeedPeak peak;
    peak.time = a.time + share * interval;
    if (peak.time < within.from || peak.time > within.to) {
        return std::nullopt;
    }
    peak.timeSd = (a.gainSd + share * (b.gainSd - a.gainSd)) / steepness;
    // Between the samples the speed follows its own growth.
    peak.speed = a.speed + 0.5 * a.gain * share * interval;
    peak.speedSd = a.sd + share * (b.sd - a.sd);
    peak.lasts = timeAboveHalf(p, *top);
    return peak;
}

constexpr double unequally = 1.3; ///< tops of unlike width are flattened unlike, besides noise

/// Standard deviation that the time of the peak owes to other tops nearly as high: the scatter of a
/// time that is either one or the other, by how likely the other is the higher one.
double doubtBetweenPeaks(const SpeedCurve& curve, const SpeedPeak& peak, TimeSpan within) {
    const auto& p = curve.points;
    double square = 0.0;
    for (std::size_t i = 1; i + 1 < p.size(); ++i) {
        const bool top = p[i].gain > 0.0 ? p[i + 1].gain <= 0.0 && p[i].speed >= p[i + 1].speed
                                         : p[i - 1].gain > 0.0 && p[i].speed > p[i - 1].speed;
        const bool inside = p[i].time >= within.from && p[i].time <= within.to;
        const double apart = p[i].time - peak.time;
        if (!top || !inside || std::abs(apart) <= p[i + 1].time - p[i - 1].time) {
            continue;
        }
        const double z =
            (peak.speed - p[i].speed) / (unequally * std::hypot(peak.speedSd, p[i].sd));
        const double higher = 0.5 * std::erfc(z / std::numbers::sqrt2);
        square += higher * (1.0 - higher) * apart * apart;
    }
    return std::sqrt(square);
}

} // namespace

SpeedCurve speedCurve(std::span<const PlaceSample> places, Scatter scatter) {
    const SmoothCurve x = axis(places, &model::Point2::x, scatter);
    const SmoothCurve y = axis(places, &model::Point2::y, scatter);
    SpeedCurve curve;
    curve.cutoffHz = std::max(x.cutoffHz, y.cutoffHz);
    for (std::size_t i = 0; i < places.size(); ++i) {
        const SmoothPoint& px = x.points[i];
        const SmoothPoint& py = y.points[i];
        const double speed = std::hypot(px.rate, py.rate);
        // Along the path; where it stands still, of either axis.
        const double sd = speed > 0.0 ? std::hypot(px.rate * px.rateSd, py.rate * py.rateSd) / speed
                                      : std::max(px.rateSd, py.rateSd);
        const double gain = speed > 0.0 ? (px.rate * px.bend + py.rate * py.bend) / speed : 0.0;
        const double gainSd = speed > 0.0
                                  ? std::hypot(px.rate * px.bendSd, py.rate * py.bendSd) / speed
                                  : std::max(px.bendSd, py.bendSd);
        curve.points.push_back({places[i].time,
                                speed,
                                sd,
                                gain,
                                gainSd,
                                {px.value, py.value},
                                std::max(px.valueSd, py.valueSd)});
    }
    return curve;
}

std::optional<SpeedPeak> speedPeak(std::span<const PlaceSample> places, const SpeedCurve& whole,
                                   TimeSpan within, Scatter scatter) {
    auto rough = peakOf(whole, within);
    if (!rough) {
        return std::nullopt;
    }
    const double whichOfThem = doubtBetweenPeaks(whole, *rough, within);
    const double reach = reachWidths * rough->lasts;
    const auto first = std::find_if(places.begin(), places.end(), [&](const PlaceSample& p) {
        return p.time >= rough->time - reach;
    });
    const auto last = std::find_if(
        first, places.end(), [&](const PlaceSample& p) { return p.time > rough->time + reach; });
    if (last - first < fewestAround) {
        rough->timeSd = std::hypot(rough->timeSd, whichOfThem);
        return rough;
    }
    auto fine = peakOf(speedCurve({first, last}, scatter), within);
    if (!fine) {
        rough->timeSd = std::hypot(rough->timeSd, whichOfThem);
        return rough;
    }
    fine->timeSd = std::hypot(fine->timeSd, whichOfThem);
    const double givenBack = fine->speed - rough->speed;
    fine->speed += stillFlat * givenBack;
    fine->speedSd = std::hypot(fine->speedSd, flatDoubt * givenBack);
    return fine;
}
double rateForPeak(const SpeedPeak& peak) {
    constexpr double samples = 5.0;
    return samples / peak.lasts;
}

} // namespace kestrel::motion
