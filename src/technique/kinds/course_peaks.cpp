#include "technique/kinds/course_peaks.h"

#include "motion/geometry.h"

#include <algorithm>
#include <cmath>

namespace kestrel::technique {
namespace {

/// Why a peak shorter than the film's frames can show is not told.
model::Message tooShort(std::string_view id, const CoursePoint& of, const motion::SpeedPeak& peak,
                        double frameRate) {
    return model::message(id, of.name, model::Figure{model::milliseconds * peak.lasts},
                          model::Figure{frameRate},
                          model::Figure{std::ceil(motion::rateForPeak(peak))});
}

struct JointAngle {
    CoursePoint angle; ///< interior angle as a point on a line, degrees
    /// By sample of `angle`: both segments look at least so long as to show the angle.
    std::vector<bool> shows;
};

/// The joint's angle in the frames that have all three of its points.
JointAngle jointAngle(const CourseInput& input, std::size_t first) {
    const CoursePoint& a = input.points[first];
    const CoursePoint& v = input.points[first + 1];
    const CoursePoint& b = input.points[first + 2];
    JointAngle joint;
    CoursePoint& angle = joint.angle;
    angle.name = v.name;
    angle.scatter = v.scatter;
    std::vector<std::pair<double, double>> lengths;
    for (const motion::PlaceSample& middle : v.places) {
        const auto at = [&](const CoursePoint& point) {
            return std::find_if(point.places.begin(), point.places.end(),
                                [&](const auto& p) { return p.time == middle.time; });
        };
        const auto from = at(a);
        const auto to = at(b);
        if (from == a.places.end() || to == b.places.end()) {
            continue;
        }
        const double upper = length(from->px - middle.px);
        const double lower = length(to->px - middle.px);
        constexpr double shortest = 2.0; // pixels; below, a segment has no direction
        if (upper < shortest || lower < shortest) {
            continue;
        }
        const double sd = std::hypot(std::hypot(from->sd / upper, to->sd / lower),
                                     middle.sd * std::hypot(1.0 / upper, 1.0 / lower));
        angle.places.push_back({middle.time,
                                {motion::interiorAngle(from->px, middle.px, to->px).value, 0.0},
                                model::degreesFromRadians(sd).value});
        lengths.emplace_back(upper, lower);
    }
    // A segment that looks shorter than cos 45° of its longest points more along the view than
    // across it, and the angle in the picture is no longer the joint's.
    constexpr double across = 0.707;
    double longestUpper = 0.0;
    double longestLower = 0.0;
    for (const auto& [upper, lower] : lengths) {
        longestUpper = std::max(longestUpper, upper);
        longestLower = std::max(longestLower, lower);
    }
    for (const auto& [upper, lower] : lengths) {
        joint.shows.push_back(upper >= across * longestUpper && lower >= across * longestLower);
    }
    return joint;
}

} // namespace

const motion::SpeedCurve& curveOf(CoursePoint& point, motion::TimeSpan within) {
    if (!point.curve) {
        point.curve = motion::speedCurve(point.places, point.scatter);
        for (const motion::SpeedPoint& p : point.curve->points) {
            if (p.time >= within.from && p.time <= within.to) {
                point.path.push_back(p.px);
            }
        }
    }
    return *point.curve;
}

FoundPeak peakOf(CourseInput& input, std::size_t which) {
    CoursePoint& point = input.points[which];
    const motion::SpeedCurve& curve = curveOf(point, input.within);
    FoundPeak found;
    found.peak = motion::speedPeak(point.places, curve, input.within, point.scatter);
    if (!found.peak) {
        found.refusal = model::message("peak.none", point.name);
        return found;
    }
    if (motion::rateForPeak(*found.peak) > input.frameRate) {
        found.refusal = tooShort("peak.too_short", point, *found.peak, input.frameRate);
        found.peak.reset();
        return found;
    }
    const auto next = std::find_if(curve.points.begin(), curve.points.end(),
                                   [&](const auto& p) { return p.time >= found.peak->time; });
    found.at = next->px;
    return found;
}

FoundPeak fastestTurn(CourseInput& input, std::size_t which) {
    FoundPeak found = peakOf(input, which);
    if (!found.peak) {
        return found;
    }
    // Working figure; on the synthetic players no wrong order is then told (test_sequence).
    constexpr double distorted = 0.25;
    const auto& points = input.points[which].curve->points;
    for (std::size_t i = 1; i + 1 < points.size(); ++i) {
        const motion::SpeedPoint& p = points[i];
        const bool inside = p.time >= input.within.from && p.time <= input.within.to;
        const bool top = p.speed > points[i - 1].speed && p.speed >= points[i + 1].speed;
        if (inside && top && p.speed > (1.0 - distorted) * found.peak->speed) {
            found.peak->timeSd = std::hypot(found.peak->timeSd, 0.5 * (p.time - found.peak->time));
        }
    }
    return found;
}

std::optional<Opening> openingOf(const CourseInput& input, std::size_t first) {
    JointAngle joint = jointAngle(input, first);
    Opening opening{std::move(joint.angle), {}, std::move(joint.shows)};
    constexpr std::size_t fewest = 7;
    if (opening.angle.places.size() < fewest) {
        return std::nullopt;
    }
    opening.speed = motion::speedCurve(opening.angle.places, opening.angle.scatter);
    auto& points = opening.speed.points;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const std::size_t before = i == 0 ? 0 : i - 1;
        const std::size_t next = std::min(i + 1, points.size() - 1);
        if (points[next].px.x < points[before].px.x) {
            points[i].speed = 0.0; // it closes there
        }
    }
    return opening;
}

FoundPeak extensionOf(const CourseInput& input, std::size_t first) {
    FoundPeak found;
    const auto opening = openingOf(input, first);
    if (!opening) {
        found.refusal = model::message("opening.joint_not_seen", input.points[first + 1].name);
        return found;
    }
    const CoursePoint& angle = opening->angle;
    found.peak = motion::speedPeak(angle.places, opening->speed, input.within, angle.scatter);
    if (!found.peak) {
        found.refusal = model::message("opening.none", angle.name);
        return found;
    }
    if (motion::rateForPeak(*found.peak) > input.frameRate) {
        found.refusal = tooShort("opening.too_short", angle, *found.peak, input.frameRate);
        found.peak.reset();
        return found;
    }
    const auto there = std::find_if(angle.places.begin(), angle.places.end(),
                                    [&](const auto& p) { return p.time >= found.peak->time; });
    if (there != angle.places.end() &&
        !opening->shows[static_cast<std::size_t>(there - angle.places.begin())]) {
        found.refusal = model::message("opening.out_of_plane", angle.name);
        found.peak.reset();
        return found;
    }
    const auto& joint = input.points[first + 1].places;
    const auto next = std::find_if(joint.begin(), joint.end(),
                                   [&](const auto& p) { return p.time >= found.peak->time; });
    found.at = next == joint.end() ? joint.back().px : next->px;
    return found;
}

} // namespace kestrel::technique
