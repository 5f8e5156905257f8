#include "technique/measure_kind.h"

#include "motion/geometry.h"
#include "motion/out_of_plane.h"

#include <algorithm>
#include <array>
#include <utility>

namespace kestrel::technique {
namespace {

using model::AngleArc;
using model::Degrees;
using model::Gap;
using model::Point2;
using model::Role;
using model::Segment;
using model::Shape;
using model::Unit;
using Shapes = std::vector<Shape>;
using Pair = std::pair<std::size_t, std::size_t>;

constexpr std::array<Pair, 1> onePair{{{0, 1}}};
constexpr std::array<Pair, 2> jointPairs{{{1, 0}, {1, 2}}};
constexpr std::array<Pair, 2> twoPairs{{{0, 1}, {2, 3}}};
constexpr std::array<Pair, 1> secondPair{{{2, 3}}};

Degrees tilt(const OutOfPlane& o) {
    return Degrees(o.segmentDeg);
}

/// A reference line through `at`, as long as the line it is compared with.
Segment levelLine(Point2 at, double halfLength, double towards) {
    return {at, {at.x + towards * halfLength, at.y}, Role::reference};
}

double jointOutOfPlane(const KindInput& in, const OutOfPlane& o) {
    return motion::jointAngleRms(motion::interiorAngle(in.points[0], in.points[1], in.points[2]),
                                 tilt(o))
        .value;
}

Shapes jointShapes(const KindInput& in) {
    const auto p = in.points;
    return {Segment{p[1], p[0]}, Segment{p[1], p[2]}, AngleArc{p[1], p[0], p[2]}};
}

double betweenValue(const KindInput& in) {
    return motion::angleBetween(in.points[0], in.points[1], in.points[2], in.points[3]).value;
}

double betweenOutOfPlane(const KindInput& in, const OutOfPlane& o) {
    return motion::jointAngleRms(
               motion::angleBetween(in.points[0], in.points[1], in.points[2], in.points[3]),
               tilt(o))
        .value;
}

Shapes betweenShapes(const KindInput& in) {
    const auto p = in.points;
    const Point2 carried = p[0] + (p[3] - p[2]);
    return {Segment{p[0], p[1]}, Segment{p[2], p[3]}, Segment{p[0], carried, Role::reference},
            AngleArc{p[0], p[1], carried}};
}

double elevationOutOfPlane(const KindInput& in, const OutOfPlane& o) {
    return motion::elevationRms(motion::elevation(in.points[0], in.points[1]), tilt(o)).value;
}

Shapes elevationShapes(const KindInput& in) {
    const auto p = in.points;
    const Segment level =
        levelLine(p[0], model::length(p[1] - p[0]), p[1].x >= p[0].x ? 1.0 : -1.0);
    return {Segment{p[0], p[1]}, level, AngleArc{p[0], p[1], level.to}};
}

Shapes leanShapes(const KindInput& in) {
    const auto p = in.points;
    const Point2 upright{p[0].x, p[0].y - model::length(p[1] - p[0])};
    return {Segment{p[0], p[1]}, Segment{p[0], upright, Role::reference},
            AngleArc{p[0], p[1], upright}};
}

double layBackValue(const KindInput& in) {
    return motion::layBack(in.points[0], in.points[1], in.points[2], in.points[3], in.sign).value;
}

Shapes layBackShapes(const KindInput& in) {
    const auto p = in.points;
    const Point2 trunkUp = p[0] + (p[3] - p[2]) * 0.6;
    return {Segment{p[0], p[1], Role::throwingSide}, Segment{p[2], p[3]},
            Segment{p[0], trunkUp, Role::reference}, AngleArc{p[0], p[1], trunkUp}};
}

double distanceValue(const KindInput& in) {
    return model::length(in.points[1] - in.points[0]) / in.bodyHeightPx;
}

double distanceOutOfPlane(const KindInput& in, const OutOfPlane& o) {
    return distanceValue(in) * motion::distanceRelativeRms(tilt(o));
}

Shapes gapShapes(const KindInput& in) {
    return {Gap{in.points[0], in.points[1]}};
}

double ratioValue(const KindInput& in) {
    return model::length(in.points[1] - in.points[0]) / model::length(in.points[3] - in.points[2]);
}

double ratioOutOfPlane(const KindInput& in, const OutOfPlane& o) {
    return ratioValue(in) * std::numbers::sqrt2 * motion::distanceRelativeRms(tilt(o));
}

Shapes ratioShapes(const KindInput& in) {
    return {Gap{in.points[0], in.points[1]}, Gap{in.points[2], in.points[3]}};
}

double offsetOutOfPlane(const KindInput&, const OutOfPlane& o) {
    return motion::offsetRms(o.depthBh);
}

Shapes alongShapes(const KindInput& in) {
    const auto p = in.points;
    const Point2 corner{p[1].x, p[0].y};
    return {Segment{p[1], corner, Role::reference}, Gap{p[0], corner}};
}

Shapes heightShapes(const KindInput& in) {
    const auto p = in.points;
    const Point2 corner{p[1].x, p[0].y};
    return {Segment{p[0], corner, Role::reference}, Gap{corner, p[1]}};
}

double noValue(const KindInput&) {
    return 0.0;
}
double noOutOfPlane(const KindInput&, const OutOfPlane&) {
    return 0.0;
}
Shapes noShapes(const KindInput&) {
    return {};
}

const std::array kinds{
    MeasureKind{"interior_angle", Unit::degrees, "end, joint, end", 3, false, false,
                [](const KindInput& in) {
                    return motion::interiorAngle(in.points[0], in.points[1], in.points[2]).value;
                },
                jointOutOfPlane, jointShapes, jointPairs},
    MeasureKind{"flexion", Unit::degrees, "end, joint, end", 3, false, false,
                [](const KindInput& in) {
                    return motion::flexion(in.points[0], in.points[1], in.points[2]).value;
                },
                jointOutOfPlane, jointShapes, jointPairs},
    MeasureKind{
        "elevation", Unit::degrees, "from, to", 2, false, false,
        [](const KindInput& in) { return motion::elevation(in.points[0], in.points[1]).value; },
        elevationOutOfPlane, elevationShapes, onePair},
    MeasureKind{
        "lean", Unit::degrees, "bottom, top", 2, false, true,
        [](const KindInput& in) { return motion::lean(in.points[0], in.points[1], in.sign).value; },
        [](const KindInput&, const OutOfPlane& o) { return motion::leanRms(tilt(o)).value; },
        leanShapes, onePair},
    MeasureKind{"angle_between", Unit::degrees, "from, to, from, to", 4, false, false, betweenValue,
                betweenOutOfPlane, betweenShapes, twoPairs},
    MeasureKind{"lay_back", Unit::degrees, "elbow, wrist, hip, neck", 4, false, true, layBackValue,
                betweenOutOfPlane, layBackShapes, twoPairs},
    MeasureKind{"distance",
                Unit::bodyHeights,
                "from, to",
                2,
                true,
                false,
                distanceValue,
                distanceOutOfPlane,
                gapShapes,
                {}},
    MeasureKind{"ratio", Unit::ratio, "from, to, from, to", 4, false, false, ratioValue,
                ratioOutOfPlane, ratioShapes, secondPair},
    MeasureKind{"offset_to_target",
                Unit::bodyHeights,
                "from, to",
                2,
                true,
                true,
                [](const KindInput& in) {
                    return motion::offsetAlong(in.points[0], in.points[1], in.sign) /
                           in.bodyHeightPx;
                },
                offsetOutOfPlane,
                alongShapes,
                {}},
    MeasureKind{"height_above",
                Unit::bodyHeights,
                "from, to",
                2,
                true,
                false,
                [](const KindInput& in) {
                    return motion::heightAbove(in.points[0], in.points[1]) / in.bodyHeightPx;
                },
                offsetOutOfPlane,
                heightShapes,
                {}},
};

const MeasureKind time{"time_between", Unit::milliseconds, "",       0, false, false,
                       noValue,        noOutOfPlane,       noShapes, {}};

} // namespace

std::span<const MeasureKind> pointKinds() {
    return kinds;
}

const MeasureKind& timeKind() {
    return time;
}

const MeasureKind* findKind(std::string_view id) {
    if (id == time.id) {
        return &time;
    }
    const auto* found =
        std::find_if(kinds.begin(), kinds.end(), [id](const MeasureKind& k) { return k.id == id; });
    return found == kinds.end() ? nullptr : found;
}

} // namespace kestrel::technique
