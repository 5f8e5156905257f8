#include "technique/course_kinds.h"

#include <algorithm>
#include <cmath>

namespace kestrel::technique {
namespace {

using model::Point2;

constexpr double milliseconds = 1000.0;
constexpr double perHundred = 100.0;
constexpr double headShare = 0.130;

std::string rounded(double value) {
    return std::to_string(std::lround(value));
}

/// The point's speed curve; its path inside the stretch is kept for drawing.
motion::SpeedCurve curveOf(CoursePoint& point, motion::TimeSpan within) {
    motion::SpeedCurve curve = motion::speedCurve(point.places, point.scatter);
    for (const motion::SpeedPoint& p : curve.points) {
        if (p.time >= within.from && p.time <= within.to) {
            point.path.push_back(p.px);
        }
    }
    return curve;
}

struct FoundPeak {
    std::optional<motion::SpeedPeak> peak;
    Point2 at;
    std::string refusal;
};

/// The point's peak of speed, or why none can be told.
FoundPeak peakOf(CoursePoint& point, const CourseInput& input) {
    const motion::SpeedCurve curve = curveOf(point, input.within);
    FoundPeak found;
    found.peak = motion::speedPeak(point.places, curve, input.within, point.scatter);
    if (!found.peak) {
        found.refusal = "The speed of the " + point.name + " has no peak in this stretch.";
        return found;
    }
    const double needed = motion::rateForPeak(*found.peak);
    if (needed > input.frameRate) {
        found.refusal = "The " + point.name + " is fast for " +
                        rounded(milliseconds * found.peak->lasts) + " ms only; at " +
                        rounded(input.frameRate) +
                        " frames a second its peak can't be told. Film with at least " +
                        rounded(std::ceil(needed)) + ".";
        found.peak.reset();
        return found;
    }
    const auto next = std::find_if(curve.points.begin(), curve.points.end(),
                                   [&](const auto& p) { return p.time >= found.peak->time; });
    found.at = next->px;
    return found;
}

struct Place {
    Point2 px;
    double sd = 0.0; ///< per axis
};

/// Where the point is at a time, from the frames close by.
std::optional<Place> placeAt(const CoursePoint& point, double time) {
    constexpr double closeBy = 0.04; // seconds to each side
    std::vector<motion::Sample> x;
    std::vector<motion::Sample> y;
    double stated = 0.0;
    for (const motion::PlaceSample& p : point.places) {
        x.push_back({p.time, p.px.x, p.sd});
        y.push_back({p.time, p.px.y, p.sd});
        if (std::abs(p.time - time) <= closeBy) {
            stated = std::max(stated, p.sd);
        }
    }
    const auto alongX = motion::fitLocally(x, time, closeBy);
    const auto alongY = motion::fitLocally(y, time, closeBy);
    if (!alongX || !alongY) {
        return std::nullopt;
    }
    // What a machine followed is off the same way in all of these frames.
    const double sd = point.scatter == motion::Scatter::seen
                          ? stated
                          : std::sqrt(0.5 * (alongX->valueSd * alongX->valueSd +
                                             alongY->valueSd * alongY->valueSd));
    return Place{{alongX->value, alongY->value}, sd};
}

} // namespace

CourseValue peakSpeed(CourseInput& input) {
    const FoundPeak found = peakOf(input.points[0], input);
    if (!found.peak) {
        return {std::nullopt, 0.0, found.refusal, {}};
    }
    return {found.peak->speed / input.bodyHeightPx,
            found.peak->speedSd / input.bodyHeightPx,
            {},
            {found.at}};
}

CourseValue peakAfter(CourseInput& input) {
    const FoundPeak first = peakOf(input.points[0], input);
    const FoundPeak second = peakOf(input.points[1], input);
    if (!first.peak || !second.peak) {
        return {std::nullopt, 0.0, first.peak ? second.refusal : first.refusal, {}};
    }
    return {milliseconds * (second.peak->time - first.peak->time),
            milliseconds * std::hypot(first.peak->timeSd, second.peak->timeSd),
            {},
            {second.at, first.at}};
}

CourseValue speedGain(CourseInput& input) {
    const FoundPeak first = peakOf(input.points[0], input);
    const FoundPeak second = peakOf(input.points[1], input);
    if (!first.peak || !second.peak) {
        return {std::nullopt, 0.0, first.peak ? second.refusal : first.refusal, {}};
    }
    const double gain = second.peak->speed / first.peak->speed;
    return {gain,
            gain * std::hypot(first.peak->speedSd / first.peak->speed,
                              second.peak->speedSd / second.peak->speed),
            {},
            {second.at, first.at}};
}

CourseValue pathStraightness(CourseInput& input) {
    CoursePoint& point = input.points[0];
    const motion::SpeedCurve curve = curveOf(point, input.within);
    double way = 0.0;
    double square = 0.0;
    const motion::SpeedPoint* first = nullptr;
    const motion::SpeedPoint* last = nullptr;
    for (const motion::SpeedPoint& p : curve.points) {
        if (p.time < input.within.from || p.time > input.within.to) {
            continue;
        }
        if (last != nullptr) {
            const double step = p.time - last->time;
            way += 0.5 * (p.speed + last->speed) * step;
            square += std::pow(p.sd * step, 2);
        }
        first = first == nullptr ? &p : first;
        last = &p;
    }
    if (first == nullptr || way <= 0.0) {
        return {std::nullopt, 0.0, "The " + point.name + " does not move in this stretch.", {}};
    }
    const double chord = length(last->px - first->px);
    // Neighbours share their errors as far as the smoothing reaches.
    const double together = std::max(1.0, input.frameRate / (2.0 * curve.cutoffHz));
    const double wayShare = std::sqrt(square * together) / way;
    const double straight = perHundred * std::min(1.0, chord / way);
    return {straight, straight * wayShare, {}, {last->px, first->px}};
}

CourseValue drift(CourseInput& input) {
    CoursePoint& point = input.points[0];
    const motion::SpeedCurve curve = curveOf(point, input.within);
    const motion::SpeedPoint* first = nullptr;
    const motion::SpeedPoint* farthest = nullptr;
    for (const motion::SpeedPoint& p : curve.points) {
        if (p.time < input.within.from || p.time > input.within.to) {
            continue;
        }
        first = first == nullptr ? &p : first;
        if (farthest == nullptr || length(p.px - first->px) > length(farthest->px - first->px)) {
            farthest = &p;
        }
    }
    const auto from = first == nullptr ? std::nullopt : placeAt(point, first->time);
    const auto to = first == nullptr ? std::nullopt : placeAt(point, farthest->time);
    if (!from || !to) {
        return {
            std::nullopt, 0.0, "Too few frames of this stretch show the " + point.name + ".", {}};
    }
    const double head = headShare * input.bodyHeightPx;
    return {length(to->px - from->px) / head,
            std::hypot(from->sd, to->sd) / head,
            {},
            {to->px, from->px}};
}

} // namespace kestrel::technique
