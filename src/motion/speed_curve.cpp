#include "motion/speed_curve.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

namespace kestrel::motion {
namespace {

constexpr double reachWidths = 1.0; ///< of the peak, to each side
/// What smoothing still takes off a peak's top, and how far that may be wrong, as shares of what
/// the second smoothing gave back; checked on bursts of known speed (tests/motion).
constexpr double stillFlat = 0.5;
constexpr double flatDoubt = 1.0;
constexpr int fewestAround = 9; ///< samples

std::vector<Sample> alongAxis(std::span<const PlaceSample> places,
                              double model::Point2::*coordinate) {
    std::vector<Sample> samples;
    samples.reserve(places.size());
    for (const PlaceSample& place : places) {
        samples.push_back({place.time, place.px.*coordinate, place.sd});
    }
    return samples;
}

double dot(model::Point2 a, model::Point2 b) {
    return a.x * b.x + a.y * b.y;
}

/// Speed and its growth from velocity and acceleration.
void measureSpeed(SpeedPoint& p) {
    p.speed = length(p.velocity);
    p.gain = p.speed > 0.0 ? dot(p.velocity, p.acceleration) / p.speed : 0.0;
}

/// How much of a curve's gain and speed the samples' scatter makes, between two of its points.
struct ScatterSds {
    double gain = 0.0;
    double speed = 0.0;
};

ScatterSds scatterAt(const SpeedCurve& curve, const PathResponse& response, std::size_t before,
                     double share) {
    double gainSquare = 0.0;
    double speedSquare = 0.0;
    const auto add = [&](const SmoothResponse& of, const std::vector<double>& sds,
                         double model::Point2::*axis) {
        for (std::size_t j = 0; j < sds.size(); ++j) {
            double gain = 0.0;
            double speed = 0.0;
            for (const std::size_t i : {before, before + 1}) {
                const SpeedPoint& p = curve.points[i];
                if (p.speed <= 0.0) {
                    continue;
                }
                const auto row = static_cast<Eigen::Index>(i);
                const auto column = static_cast<Eigen::Index>(j);
                const double weight = i == before ? 1.0 - share : share;
                const double along = p.velocity.*axis / p.speed;
                const double turning = (p.acceleration.*axis - p.gain * along) / p.speed;
                gain += weight * (along * of.bend(row, column) + turning * of.rate(row, column));
                speed += weight * along * of.rate(row, column);
            }
            gainSquare += std::pow(gain * sds[j], 2);
            speedSquare += std::pow(speed * sds[j], 2);
        }
    };
    add(response.x, response.xSds, &model::Point2::x);
    add(response.y, response.ySds, &model::Point2::y);
    return {std::sqrt(gainSquare), std::sqrt(speedSquare)};
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

std::optional<SpeedPeak> peakOf(std::span<const PlaceSample> places, const SpeedCurve& curve,
                                TimeSpan within) {
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
    const ScatterSds scatter = scatterAt(curve, pathResponse(places, curve), before, share);
    peak.timeScatterSd = scatter.gain / steepness;
    peak.speedScatterSd = scatter.speed;
    peak.lasts = timeAboveHalf(p, *top);
    return peak;
}

constexpr double unequally = 1.3; ///< tops of unlike width are flattened unlike, besides noise
/// A top that is no likelier than this to be the highest lies outside of what a 95 % interval says.
constexpr double unlikely = 0.025;

/// Standard deviation that the time of the peak owes to other tops nearly as high: the scatter of a
/// time that is either one or the other, by how likely the other is the higher one. The speeds'
/// deviations count `widened` times.
double doubtBetweenPeaks(const SpeedCurve& curve, const SpeedPeak& peak, TimeSpan within,
                         double widened) {
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
        const double z = (peak.speed - p[i].speed) / (widened * std::hypot(peak.speedSd, p[i].sd));
        const double higher = 0.5 * std::erfc(z / std::numbers::sqrt2);
        square += higher > unlikely ? higher * (1.0 - higher) * apart * apart : 0.0;
    }
    return std::sqrt(square);
}

struct BetweenPeaks {
    double timeSd = 0.0;
    double timeScatterSd = 0.0; ///< see SpeedPeak
};

/// Which of several tops is the highest, by all that is known of their speeds and by scatter alone.
BetweenPeaks doubtBetweenPeaks(const SpeedCurve& curve, const SpeedPeak& peak, TimeSpan within) {
    BetweenPeaks doubt{doubtBetweenPeaks(curve, peak, within, unequally), 0.0};
    if (peak.speedScatterSd > 0.0) {
        const double scattered = peak.speedScatterSd / peak.speedSd;
        doubt.timeScatterSd = doubtBetweenPeaks(curve, peak, within, scattered);
    }
    return doubt;
}

void add(const BetweenPeaks& doubt, SpeedPeak& peak) {
    peak.timeSd = std::hypot(peak.timeSd, doubt.timeSd);
    peak.timeScatterSd = std::hypot(peak.timeScatterSd, doubt.timeScatterSd);
}

} // namespace

namespace {

SpeedCurve speedOf(std::span<const PlaceSample> places, SmoothCurve x, SmoothCurve y) {
    SpeedCurve curve;
    curve.x = std::move(x);
    curve.y = std::move(y);
    curve.cutoffHz = std::max(curve.x.cutoffHz, curve.y.cutoffHz);
    for (std::size_t i = 0; i < places.size(); ++i) {
        const SmoothPoint& px = curve.x.points[i];
        const SmoothPoint& py = curve.y.points[i];
        SpeedPoint point;
        point.time = places[i].time;
        point.px = {px.value, py.value};
        point.pxSd = std::max(px.valueSd, py.valueSd);
        point.velocity = {px.rate, py.rate};
        point.acceleration = {px.bend, py.bend};
        measureSpeed(point);
        const double speed = point.speed;
        // Along the path; where it stands still, of either axis.
        point.sd = speed > 0.0 ? std::hypot(px.rate * px.rateSd, py.rate * py.rateSd) / speed
                               : std::max(px.rateSd, py.rateSd);
        point.gainSd = speed > 0.0 ? std::hypot(px.rate * px.bendSd, py.rate * py.bendSd) / speed
                                   : std::max(px.bendSd, py.bendSd);
        curve.points.push_back(point);
    }
    return curve;
}

/// Adds to a peak's scatter what it owes to the smoothing's strength, which the same samples tell.
void addStrengthScatter(std::span<const PlaceSample> places, const SpeedCurve& curve,
                        TimeSpan within, SpeedPeak& peak) {
    const auto x = alongAxis(places, &model::Point2::x);
    const auto y = alongAxis(places, &model::Point2::y);
    double timeSquare = peak.timeScatterSd * peak.timeScatterSd;
    double speedSquare = peak.speedScatterSd * peak.speedScatterSd;
    for (const bool alongX : {true, false}) {
        const SmoothCurve& of = alongX ? curve.x : curve.y;
        const auto with = [&](double logs) {
            SmoothCurve other = smoothedAs(alongX ? x : y, of, std::exp(logs));
            return peakOf(places,
                          alongX ? speedOf(places, std::move(other), curve.y)
                                 : speedOf(places, curve.x, std::move(other)),
                          within);
        };
        const auto more = with(of.processNoiseLogSd);
        const auto less = with(-of.processNoiseLogSd);
        if (more && less) {
            timeSquare += std::pow(0.5 * (more->time - less->time), 2);
            speedSquare += std::pow(0.5 * (more->speed - less->speed), 2);
        }
    }
    peak.timeScatterSd = std::sqrt(timeSquare);
    peak.speedScatterSd = std::sqrt(speedSquare);
}

} // namespace

SpeedCurve speedCurve(std::span<const PlaceSample> places, Scatter scatter) {
    return speedOf(places, smoothCurve(alongAxis(places, &model::Point2::x), scatter),
                   smoothCurve(alongAxis(places, &model::Point2::y), scatter));
}

PathResponse pathResponse(std::span<const PlaceSample> places, const SpeedCurve& curve) {
    PathResponse response;
    response.x = smoothResponse(alongAxis(places, &model::Point2::x), curve.x);
    response.y = smoothResponse(alongAxis(places, &model::Point2::y), curve.y);
    for (const PlaceSample& place : places) {
        response.xSds.push_back(place.sd * curve.x.scatterShare);
        response.ySds.push_back(place.sd * curve.y.scatterShare);
    }
    return response;
}

SpeedCurve withPlaceOff(SpeedCurve curve, const PathResponse& response, std::size_t place,
                        bool alongX, double by) {
    const SmoothResponse& of = alongX ? response.x : response.y;
    const double off = by * (alongX ? response.xSds : response.ySds)[place];
    double model::Point2::*const axis = alongX ? &model::Point2::x : &model::Point2::y;
    const auto column = static_cast<Eigen::Index>(place);
    for (std::size_t i = 0; i < curve.points.size(); ++i) {
        const auto row = static_cast<Eigen::Index>(i);
        SpeedPoint& p = curve.points[i];
        p.px.*axis += off * of.value(row, column);
        p.velocity.*axis += off * of.rate(row, column);
        p.acceleration.*axis += off * of.bend(row, column);
        measureSpeed(p);
    }
    return curve;
}

std::optional<SpeedPeak> speedPeak(std::span<const PlaceSample> places, const SpeedCurve& whole,
                                   TimeSpan within, Scatter scatter) {
    auto rough = peakOf(places, whole, within);
    if (!rough) {
        return std::nullopt;
    }
    const BetweenPeaks whichOfThem = doubtBetweenPeaks(whole, *rough, within);
    const double reach = reachWidths * rough->lasts;
    const auto first = std::find_if(places.begin(), places.end(), [&](const PlaceSample& p) {
        return p.time >= rough->time - reach;
    });
    const auto last = std::find_if(
        first, places.end(), [&](const PlaceSample& p) { return p.time > rough->time + reach; });
    if (last - first < fewestAround) {
        addStrengthScatter(places, whole, within, *rough);
        add(whichOfThem, *rough);
        return rough;
    }
    const std::span<const PlaceSample> around(first, last);
    const SpeedCurve close = speedCurve(around, scatter);
    auto fine = peakOf(around, close, within);
    if (!fine) {
        add(whichOfThem, *rough);
        return rough;
    }
    add(whichOfThem, *fine);
    addStrengthScatter(around, close, within, *fine);
    const double givenBack = fine->speed - rough->speed;
    fine->speed += stillFlat * givenBack;
    // What was given back scatters along with the peak itself.
    fine->speedScatterSd =
        (1.0 + stillFlat) * fine->speedScatterSd - stillFlat * rough->speedScatterSd;
    fine->speedSd = std::hypot(fine->speedSd, flatDoubt * givenBack);
    return fine;
}
double rateForPeak(const SpeedPeak& peak) {
    constexpr double samples = 5.0;
    return samples / peak.lasts;
}

} // namespace kestrel::motion
