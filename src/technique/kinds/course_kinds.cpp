#include "technique/kinds/course_kinds.h"

#include "technique/kinds/course_peaks.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <numbers>
#include <span>

namespace kestrel::technique {
namespace {

using model::Point2;

constexpr double perHundred = 100.0;

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

/// The points of a curve inside the stretch.
std::vector<motion::SpeedPoint> inside(const motion::SpeedCurve& curve, motion::TimeSpan within) {
    std::vector<motion::SpeedPoint> points;
    for (const motion::SpeedPoint& p : curve.points) {
        if (p.time >= within.from && p.time <= within.to) {
            points.push_back(p);
        }
    }
    return points;
}

struct TimedPlace {
    double time = 0.0;
    Point2 at;
};

/// How fast places move along the straight line that fits them: each counts by how far in time it
/// lies from their middle.
Point2 slopeOf(std::span<const TimedPlace> places) {
    double middle = 0.0;
    for (const TimedPlace& p : places) {
        middle += p.time / static_cast<double>(places.size());
    }
    double square = 0.0;
    Point2 slope;
    for (const TimedPlace& p : places) {
        square += (p.time - middle) * (p.time - middle);
        slope = slope + p.at * (p.time - middle);
    }
    return slope * (1.0 / square);
}

/// The straight line that fits a stretch of smoothed path: its direction and how sure that is.
struct Direction {
    Point2 way;      ///< from the stretch's beginning to its end, of length 1
    double sd = 0.0; ///< degrees
};

std::optional<Direction> directionOf(CoursePoint& point, motion::TimeSpan within) {
    const auto path = inside(curveOf(point, within), within);
    constexpr std::size_t fewest = 3;
    if (path.size() < fewest) {
        return std::nullopt;
    }
    std::vector<TimedPlace> places;
    double sd = 0.0;
    for (const auto& p : path) {
        places.push_back({p.time, p.px});
        sd = std::max(sd, p.pxSd);
    }
    const Point2 slope = slopeOf(places);
    const double speed = length(slope);
    const double chord = speed * (path.back().time - path.front().time);
    if (chord < 2.0 * sd || chord <= 0.0) {
        return std::nullopt;
    }
    // Neighbours on a smoothed path share their errors: as if its two ends were known so well.
    return Direction{slope * (1.0 / speed),
                     model::degreesFromRadians(std::atan2(sd * std::numbers::sqrt2, chord)).value};
}

CourseValue noDirection(const CoursePoint& point) {
    return {std::nullopt, 0.0, model::message("course.no_direction", point.name), {}};
}

/// Angle between two lines, 0…90.
double betweenLines(Point2 a, Point2 b) {
    const double cosine = std::abs(a.x * b.x + a.y * b.y);
    return model::degreesFromRadians(std::acos(std::min(1.0, cosine))).value;
}

CourseValue ratioOf(const FoundPeak& first, const FoundPeak& second) {
    if (!first.peak || !second.peak) {
        return {std::nullopt, 0.0, first.peak ? second.refusal : first.refusal, {}};
    }
    const double gain = second.peak->speed / first.peak->speed;
    const auto both = [&](double motion::SpeedPeak::*sd) {
        return gain * std::hypot(*first.peak.*sd / first.peak->speed,
                                 *second.peak.*sd / second.peak->speed);
    };
    return {gain,
            both(&motion::SpeedPeak::speedSd),
            {},
            {second.at, first.at},
            both(&motion::SpeedPeak::speedScatterSd)};
}

CourseValue timeBetween(const FoundPeak& first, const FoundPeak& second) {
    if (!first.peak || !second.peak) {
        return {std::nullopt, 0.0, first.peak ? second.refusal : first.refusal, {}};
    }
    return {model::milliseconds * (second.peak->time - first.peak->time),
            model::milliseconds * std::hypot(first.peak->timeSd, second.peak->timeSd),
            {},
            {second.at, first.at},
            model::milliseconds *
                std::hypot(first.peak->timeScatterSd, second.peak->timeScatterSd)};
}

} // namespace

CourseValue peakSpeed(CourseInput& input) {
    const FoundPeak found = peakOf(input, 0);
    if (!found.peak) {
        return {std::nullopt, 0.0, found.refusal, {}};
    }
    return {found.peak->speed / input.bodyHeightPx,
            found.peak->speedSd / input.bodyHeightPx,
            {},
            {found.at},
            found.peak->speedScatterSd / input.bodyHeightPx};
}

CourseValue peakAfter(CourseInput& input) {
    return timeBetween(peakOf(input, 0), peakOf(input, 1));
}

CourseValue speedGain(CourseInput& input) {
    return ratioOf(peakOf(input, 0), peakOf(input, 1));
}

CourseValue peakExtension(CourseInput& input) {
    const FoundPeak found = extensionOf(input, 0);
    if (!found.peak) {
        return {std::nullopt, 0.0, found.refusal, {}};
    }
    return {found.peak->speed, found.peak->speedSd, {}, {found.at}, found.peak->speedScatterSd};
}

CourseValue peakTurning(CourseInput& input) {
    const FoundPeak found = fastestTurn(input, 0);
    if (!found.peak) {
        return {std::nullopt, 0.0, found.refusal, {}};
    }
    return {found.peak->speed, found.peak->speedSd, {}, {found.at}, found.peak->speedScatterSd};
}

CourseValue turningAfter(CourseInput& input) {
    return timeBetween(fastestTurn(input, 0), fastestTurn(input, 1));
}

CourseValue extensionRatio(CourseInput& input) {
    return ratioOf(extensionOf(input, 0), extensionOf(input, 3));
}

CourseValue extensionAfter(CourseInput& input) {
    return timeBetween(peakOf(input, 0), extensionOf(input, 1));
}

CourseValue peakAfterExtension(CourseInput& input) {
    return timeBetween(extensionOf(input, 0), peakOf(input, 3));
}

CourseValue pathAngle(CourseInput& input) {
    const auto direction = directionOf(input.points[0], input.within);
    if (!direction) {
        return noDirection(input.points[0]);
    }
    const double angle =
        model::degreesFromRadians(std::atan2(-direction->way.y, std::abs(direction->way.x))).value;
    return {angle, direction->sd, {}, {input.points[0].path.back()}};
}

CourseValue pathHeading(CourseInput& input) {
    const auto seen = directionOf(input.points[0], input.within);
    if (!seen) {
        return noDirection(input.points[0]);
    }
    const auto path = inside(curveOf(input.points[0], input.within), input.within);
    std::vector<TimedPlace> places;
    for (const motion::SpeedPoint& p : path) {
        const auto place = input.plane->camera.onGround(p.px, input.plane->heightM);
        if (!place) {
            return {std::nullopt,
                    0.0,
                    model::message("course.above_horizon", input.points[0].name),
                    {}};
        }
        places.push_back({p.time, {place->x(), place->y()}});
    }
    const Point2 way = slopeOf(places);
    // As sure as the direction in the picture: what looks shortened is so in both alike, and where
    // the plane lies too flat for that, the camera's own doubt says so.
    return {input.plane->closedSide * model::degreesFromRadians(std::atan2(way.y, way.x)).value,
            seen->sd,
            {},
            {input.points[0].path.back()}};
}

CourseValue pathDifference(CourseInput& input) {
    const auto first = directionOf(input.points[0], input.within);
    const auto second = directionOf(input.points[1], input.within);
    if (!first || !second) {
        return noDirection(input.points[first ? 1 : 0]);
    }
    return {betweenLines(first->way, second->way),
            std::hypot(first->sd, second->sd),
            {},
            {input.points[0].path.back(), input.points[1].path.back()}};
}

CourseValue pathAgreement(CourseInput& input) {
    const auto wanted = directionOf(input.points[1], input.within);
    if (!wanted) {
        return noDirection(input.points[1]);
    }
    constexpr double agreeing = 8.0; // degrees
    const auto path = inside(curveOf(input.points[0], input.within), input.within);
    double sd = wanted->sd;        // of either direction against the other, degrees
    std::vector<double> ways{0.0}; // along the path, from its beginning
    std::vector<double> apart;     // of the directions, degrees
    for (std::size_t i = 0; i < path.size(); ++i) {
        const motion::SpeedPoint& p = path[i];
        if (i > 0) {
            ways.push_back(ways.back() + length(p.px - path[i - 1].px));
        }
        constexpr double square = 90.0; // a point at rest goes along with nothing
        apart.push_back(p.speed > 0.0 ? betweenLines(p.velocity * (1.0 / p.speed), wanted->way)
                                      : square);
        if (p.speed > 0.0) {
            const double ofBat = std::atan2(p.sd, p.speed);
            sd = std::max(sd, std::hypot(wanted->sd, model::degreesFromRadians(ofBat).value));
        }
    }
    const double whole = ways.back();
    // How far along the directions part, between a frame where they agree and its neighbour.
    const auto parting = [&](std::size_t agrees, std::size_t parts) {
        const double share = (agreeing - apart[agrees]) / (apart[parts] - apart[agrees]);
        return ways[agrees] + share * (ways[parts] - ways[agrees]);
    };
    double best = 0.0;
    std::vector<Point2> marks;
    for (std::size_t i = 0; i < path.size(); ++i) {
        if (apart[i] > agreeing) {
            continue;
        }
        std::size_t last = i;
        while (last + 1 < path.size() && apart[last + 1] <= agreeing) {
            ++last;
        }
        const double from = i == 0 ? 0.0 : parting(i, i - 1);
        const double to = last + 1 == path.size() ? whole : parting(last, last + 1);
        if (to - from > best) {
            best = to - from;
            marks = {path[last].px, path[i].px};
        }
        i = last;
    }
    if (path.size() < 3 || whole <= 0.0) {
        return noDirection(input.points[0]);
    }
    // The window ends where the directions part by so much: how far that is off follows from how
    // quickly the path turns there, and from the frames' spacing.
    const auto step = [&](std::size_t i) { return path[i].px - path[i - 1].px; };
    const Point2 first = step(1);
    const Point2 last = step(path.size() - 1);
    const double turned = betweenLines(first * (1.0 / length(first)), last * (1.0 / length(last)));
    const double perDegree = whole / std::max(turned, agreeing);
    const double frame = whole / static_cast<double>(path.size() - 1);
    constexpr double uniformSd = 0.289; // of a width of one
    // The smoothed directions of neighbours go off together, so a spike at an end counts more.
    constexpr double together = 1.5;
    const double end = together * std::hypot(perDegree * sd, uniformSd * frame);
    return {best / input.bodyHeightPx, end * std::numbers::sqrt2 / input.bodyHeightPx, {}, marks};
}

CourseValue speedShare(CourseInput& input) {
    const auto first = inside(curveOf(input.points[0], input.within), input.within);
    const auto second = inside(curveOf(input.points[1], input.within), input.within);
    double along = 0.0;
    double whole = 0.0;
    double ofPart = 0.0;
    double ofWhole = 0.0;
    for (std::size_t i = 1; i < second.size(); ++i) {
        const auto same = [&](const motion::SpeedPoint& p) { return p.time == second[i].time; };
        const auto p = std::find_if(first.begin(), first.end(), same);
        if (p == first.end() || p == first.begin()) {
            continue;
        }
        const Point2 step = second[i].px - second[i - 1].px;
        const Point2 other = p->px - std::prev(p)->px;
        const double way = length(step);
        if (way <= 0.0) {
            continue;
        }
        along += (step.x * other.x + step.y * other.y) / way;
        whole += way;
        ofPart = std::max(ofPart, p->pxSd);
        ofWhole = std::max(ofWhole, second[i].pxSd);
    }
    if (whole <= 0.0) {
        return {
            std::nullopt,
            0.0,
            model::message("course.too_few_show_both", input.points[0].name, input.points[1].name),
            {}};
    }
    // The steps add up to the way between two ends, each known so well.
    const double share = along / whole;
    const double sd = std::numbers::sqrt2 * std::hypot(ofPart, share * ofWhole) / whole;
    return {perHundred * share, perHundred * sd, {}, {second.back().px, first.back().px}};
}

namespace {

/// Even broad peaks are told no better than this (tests/technique/test_course_kinds.cpp).
constexpr double peakRelativeSd = 0.025;

/// Speed without what noise adds to the speed of a point at rest.
double moving(const motion::SpeedPoint& p) {
    return std::sqrt(std::max(0.0, p.speed * p.speed - p.sd * p.sd));
}

} // namespace

CourseValue meanAcceleration(CourseInput& input) {
    const FoundPeak found = peakOf(input, 0);
    if (!found.peak) {
        return {std::nullopt, 0.0, found.refusal, {}};
    }
    double way = 0.0;
    double square = 0.0;
    const auto path =
        inside(curveOf(input.points[0], input.within), {input.within.from, found.peak->time});
    for (std::size_t i = 1; i < path.size(); ++i) {
        const double step = path[i].time - path[i - 1].time;
        way += step * 0.5 * (moving(path[i]) + moving(path[i - 1]));
        square += std::pow(path[i].sd * step, 2);
    }
    if (way <= 0.0) {
        return {std::nullopt,
                0.0,
                model::message("course.still_before_peak", input.points[0].name),
                {}};
    }
    const double value = found.peak->speed * found.peak->speed / (2.0 * way);
    const double ofPeak = std::hypot(found.peak->speedSd / found.peak->speed, peakRelativeSd);
    const double relative = std::hypot(2.0 * ofPeak, std::sqrt(square) / way);
    const double ofScatter = 2.0 * found.peak->speedScatterSd / found.peak->speed;
    return {value / input.bodyHeightPx,
            value * relative / input.bodyHeightPx,
            {},
            {found.at},
            value * std::hypot(ofScatter, std::sqrt(square) / way) / input.bodyHeightPx};
}

CourseValue evenRise(CourseInput& input) {
    const auto path = inside(curveOf(input.points[0], input.within), input.within);
    const auto top = std::max_element(
        path.begin(), path.end(), [](const auto& a, const auto& b) { return a.speed < b.speed; });
    constexpr std::ptrdiff_t fewest = 5;
    if (top - path.begin() < fewest) {
        return {
            std::nullopt, 0.0, model::message("course.gain_too_short", input.points[0].name), {}};
    }
    std::vector<double> ways{0.0};
    for (auto p = path.begin() + 1; p <= top; ++p) {
        ways.push_back(ways.back() +
                       (p->time - (p - 1)->time) * 0.5 * (moving(*p) + moving(*(p - 1))));
    }
    const double most = moving(*top);
    if (most <= 0.0 || ways.back() <= 0.0) {
        return {std::nullopt, 0.0, model::message("course.still", input.points[0].name), {}};
    }
    double gap = 0.0;
    double sd = 0.0;
    Point2 where = path.front().px;
    for (std::size_t i = 0; i < ways.size(); ++i) {
        const double share = moving(path[i]) / most;
        const double off = std::abs(share * share - ways[i] / ways.back());
        if (off > gap) {
            gap = off;
            where = path[i].px;
            sd = std::hypot(2.0 * share * std::hypot(path[i].sd, share * top->sd) / most,
                            2.0 * share * share * peakRelativeSd);
        }
    }
    return {perHundred * (1.0 - gap), perHundred * sd, {}, {top->px, where}};
}

CourseValue pathStraightness(CourseInput& input) {
    CoursePoint& point = input.points[0];
    const motion::SpeedCurve& curve = curveOf(point, input.within);
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
        return {std::nullopt, 0.0, model::message("course.still_in_stretch", point.name), {}};
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
    const motion::SpeedCurve& curve = curveOf(point, input.within);
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
        return {std::nullopt, 0.0, model::message("course.too_few_show", point.name), {}};
    }
    const double head = headShare * input.bodyHeightPx;
    return {length(to->px - from->px) / head,
            std::hypot(from->sd, to->sd) / head,
            {},
            {to->px, from->px},
            std::hypot(from->sd, to->sd) / head};
}

} // namespace kestrel::technique
