#include "technique/kinds/measure_kind.h"

#include "motion/body_segments.h"
#include "motion/geometry.h"
#include "motion/out_of_plane.h"
#include "technique/kinds/course_kinds.h"
#include "technique/kinds/flight.h"
#include "technique/kinds/on_ground.h"
#include "technique/kinds/space_path.h"

#include <algorithm>
#include <array>
#include <cmath>
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

constexpr double perHundred = 100.0;
constexpr std::array<Pair, 1> onePair{{{0, 1}}};
constexpr std::array<Pair, 2> jointPairs{{{1, 0}, {1, 2}}};
constexpr std::array<Pair, 2> twoPairs{{{0, 1}, {2, 3}}};
constexpr std::array<Pair, 1> secondPair{{{2, 3}}};

Degrees tilt(const OutOfPlane& o) {
    return Degrees(o.segmentDeg[0]);
}
Degrees secondTilt(const OutOfPlane& o) {
    return Degrees(o.segmentDeg[1]);
}

/// A reference line through `at`, as long as the line it is compared with.
Segment levelLine(Point2 at, double halfLength, double towards) {
    return {at, {at.x + towards * halfLength, at.y}, Role::reference};
}

Shapes jointShapes(const KindInput& in) {
    const auto p = in.points;
    return {Segment{p[1], p[0]}, Segment{p[1], p[2]}, AngleArc{p[1], p[0], p[2]}};
}

double betweenValue(const KindInput& in) {
    return motion::angleBetween(in.points[0], in.points[1], in.points[2], in.points[3]).value;
}

double betweenOutOfPlane(const KindInput& in, const OutOfPlane& o) {
    return motion::jointAngleRms(Degrees(betweenValue(in)), tilt(o), secondTilt(o)).value;
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

double riseValue(const KindInput& in) {
    return motion::elevationFromRise(motion::heightAbove(in.points[0], in.points[1]),
                                     in.boneFraction * in.bodyHeightPx)
        .value;
}

/// A camera that looks a little up or down shows the segment's depth as height.
double riseOutOfPlane(const KindInput& in, const OutOfPlane&) {
    const double seen =
        model::length(in.points[1] - in.points[0]) / (in.boneFraction * in.bodyHeightPx);
    const double depth = std::sqrt(std::max(0.0, 1.0 - seen * seen));
    const double steepness = std::max(std::cos(toRadians(Degrees(riseValue(in)))), 0.2);
    return model::degreesFromRadians(motion::offsetRms(depth) / steepness).value;
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

double interiorValue(const KindInput& in) {
    return motion::interiorAngle(in.points[0], in.points[1], in.points[2]).value;
}

double flexionValue(const KindInput& in) {
    return motion::flexion(in.points[0], in.points[1], in.points[2]).value;
}

double elevationValue(const KindInput& in) {
    return motion::elevation(in.points[0], in.points[1]).value;
}

double leanValue(const KindInput& in) {
    return motion::lean(in.points[0], in.points[1], in.sign).value;
}

double leanOutOfPlane(const KindInput&, const OutOfPlane& o) {
    return motion::leanRms(tilt(o)).value;
}

double alongValue(const KindInput& in) {
    return motion::offsetAlong(in.points[0], in.points[1], in.sign) / in.bodyHeightPx;
}

double heightValue(const KindInput& in) {
    return motion::heightAbove(in.points[0], in.points[1]) / in.bodyHeightPx;
}

double balanceValue(const KindInput& in) {
    return motion::shareBetween(in.points[0], in.points[1], in.points[2]) * perHundred;
}

/// The three points stand at different depths, which an off-square camera shows as shifts.
double balanceOutOfPlane(const KindInput& in, const OutOfPlane& o) {
    const double base = std::abs(in.points[1].x - in.points[0].x);
    const double shift = motion::offsetRms(o.depthBh) * in.bodyHeightPx;
    const double share = balanceValue(in) / perHundred;
    // Of the point itself, and of the two ends by how much each counts.
    return perHundred * shift / base *
           std::sqrt(1.0 + share * share + (1.0 - share) * (1.0 - share));
}

Shapes balanceShapes(const KindInput& in) {
    const auto p = in.points;
    const double share = motion::shareBetween(p[0], p[1], p[2]);
    const Point2 foot = p[0] + (p[1] - p[0]) * share;
    return {Segment{p[0], p[1], Role::reference}, Gap{foot, p[2]}};
}

/// How far the point farthest from the upright line through the points' mean lies beside it.
double alignmentValue(const KindInput& in) {
    double middle = 0.0;
    for (const Point2& p : in.points) {
        middle += p.x / static_cast<double>(in.points.size());
    }
    double most = 0.0;
    for (const Point2& p : in.points) {
        most = std::max(most, std::abs(p.x - middle));
    }
    return most / in.bodyHeightPx;
}

Shapes alignmentShapes(const KindInput& in) {
    const auto p = in.points;
    double middle = 0.0;
    for (const Point2& point : p) {
        middle += point.x / static_cast<double>(p.size());
    }
    Shapes shapes{Segment{{middle, p.front().y}, {middle, p.back().y}, Role::reference}};
    for (std::size_t i = 1; i < p.size(); ++i) {
        shapes.emplace_back(Segment{p[i - 1], p[i]});
    }
    return shapes;
}

const std::array kinds{
    MeasureKind{.id = "interior_angle",
                .unit = Unit::degrees,
                .pointNames = "points.end_joint_end",
                .pointCount = 3,
                .how = InstantKind{.value = interiorValue,
                                   .shapes = jointShapes,
                                   .segments = jointPairs,
                                   .segmentAngle = SegmentAngle::itself},
                .space = interiorAngleInSpace},
    MeasureKind{.id = "flexion",
                .unit = Unit::degrees,
                .pointNames = "points.end_joint_end",
                .pointCount = 3,
                .how = InstantKind{.value = flexionValue,
                                   .shapes = jointShapes,
                                   .segments = jointPairs,
                                   .segmentAngle = SegmentAngle::supplement},
                .space = flexionInSpace},
    MeasureKind{.id = "elevation",
                .unit = Unit::degrees,
                .pointNames = "points.from_to",
                .pointCount = 2,
                .how = InstantKind{.value = elevationValue,
                                   .outOfPlane = elevationOutOfPlane,
                                   .shapes = elevationShapes,
                                   .segments = onePair},
                .space = elevationInSpace},
    MeasureKind{.id = "elevation_of_bone",
                .unit = Unit::degrees,
                .pointNames = "points.near_joint_far_joint",
                .pointCount = 2,
                .needsBodyHeight = true,
                .how = InstantKind{.value = riseValue,
                                   .outOfPlane = riseOutOfPlane,
                                   .shapes = elevationShapes,
                                   .needsBone = true},
                .space = elevationInSpace},
    MeasureKind{.id = "lean",
                .unit = Unit::degrees,
                .pointNames = "points.bottom_top",
                .pointCount = 2,
                .how = InstantKind{.value = leanValue,
                                   .outOfPlane = leanOutOfPlane,
                                   .shapes = leanShapes,
                                   .segments = onePair},
                .space = leanInSpace},
    MeasureKind{.id = "angle_between",
                .unit = Unit::degrees,
                .pointNames = "points.from_to_from_to",
                .pointCount = 4,
                .how = InstantKind{.value = betweenValue,
                                   .shapes = betweenShapes,
                                   .segments = twoPairs,
                                   .segmentAngle = SegmentAngle::itself},
                .space = angleBetweenInSpace},
    MeasureKind{.id = "lay_back",
                .unit = Unit::degrees,
                .pointNames = "points.elbow_wrist_hip_neck",
                .pointCount = 4,
                .how = InstantKind{.value = layBackValue,
                                   .outOfPlane = betweenOutOfPlane,
                                   .shapes = layBackShapes,
                                   .segments = twoPairs},
                .space = layBackInSpace},
    MeasureKind{.id = "distance",
                .unit = Unit::bodyHeights,
                .pointNames = "points.from_to",
                .pointCount = 2,
                .needsBodyHeight = true,
                .how = InstantKind{.value = distanceValue,
                                   .outOfPlane = distanceOutOfPlane,
                                   .shapes = gapShapes},
                .space = distanceInSpace},
    MeasureKind{.id = "ratio",
                .unit = Unit::ratio,
                .pointNames = "points.from_to_from_to",
                .pointCount = 4,
                .how = InstantKind{.value = ratioValue,
                                   .outOfPlane = ratioOutOfPlane,
                                   .shapes = ratioShapes,
                                   .segments = secondPair},
                .space = ratioInSpace},
    MeasureKind{
        .id = "offset_to_target",
        .unit = Unit::bodyHeights,
        .pointNames = "points.from_to",
        .pointCount = 2,
        .needsBodyHeight = true,
        .how =
            InstantKind{.value = alongValue, .outOfPlane = offsetOutOfPlane, .shapes = alongShapes},
        .space = offsetInSpace},
    MeasureKind{.id = "balance",
                .unit = Unit::percent,
                .pointNames = "points.rear_support_front_support_what_they_carry",
                .pointCount = 3,
                .needsBodyHeight = true,
                .how = InstantKind{.value = balanceValue,
                                   .outOfPlane = balanceOutOfPlane,
                                   .shapes = balanceShapes,
                                   .segments = onePair,
                                   .levelSegments = true},
                .space = balanceInSpace},
    MeasureKind{.id = "height_above",
                .unit = Unit::bodyHeights,
                .pointNames = "points.from_to",
                .pointCount = 2,
                .needsBodyHeight = true,
                .how = InstantKind{.value = heightValue,
                                   .outOfPlane = offsetOutOfPlane,
                                   .shapes = heightShapes},
                .space = heightAboveInSpace},
    MeasureKind{.id = "heading",
                .unit = Unit::degrees,
                .pointNames = "points.trail_end_lead_end",
                .pointCount = 2,
                .needsBodyHeight = true,
                .how = HeadingKind{},
                .space = headingInSpace},
    MeasureKind{.id = "separation",
                .unit = Unit::degrees,
                .pointNames = "points.trail_hip_lead_hip_trail_shoulder_lead_shoulder",
                .pointCount = 4,
                .needsBodyHeight = true,
                .how = HeadingKind{},
                .space = separationInSpace},
    MeasureKind{.id = "peak_speed",
                .unit = Unit::bodyHeightsPerSecond,
                .pointNames = "points.point",
                .pointCount = 1,
                .needsBodyHeight = true,
                .how = CourseKind{.value = peakSpeed}},
    MeasureKind{.id = "peak_after",
                .unit = Unit::milliseconds,
                .pointNames = "points.first_second",
                .pointCount = 2,
                .how = CourseKind{.value = peakAfter}},
    MeasureKind{.id = "speed_gain",
                .unit = Unit::ratio,
                .pointNames = "points.first_second",
                .pointCount = 2,
                .how = CourseKind{.value = speedGain}},
    MeasureKind{.id = "path_straightness",
                .unit = Unit::percent,
                .pointNames = "points.point",
                .pointCount = 1,
                .how = CourseKind{.value = pathStraightness}},
    MeasureKind{.id = "drift",
                .unit = Unit::headDiameters,
                .pointNames = "points.point",
                .pointCount = 1,
                .needsBodyHeight = true,
                .how = CourseKind{.value = drift}},
    MeasureKind{.id = "peak_extension",
                .unit = Unit::degreesPerSecond,
                .pointNames = "points.end_joint_end",
                .pointCount = 3,
                .how = CourseKind{.value = peakExtension}},
    MeasureKind{.id = "extension_ratio",
                .unit = Unit::ratio,
                .pointNames = "points.end_joint_end_end_joint_end",
                .pointCount = 6,
                .how = CourseKind{.value = extensionRatio}},
    MeasureKind{.id = "extension_after",
                .unit = Unit::milliseconds,
                .pointNames = "points.point_then_end_joint_end",
                .pointCount = 4,
                .how = CourseKind{.value = extensionAfter}},
    MeasureKind{.id = "peak_after_extension",
                .unit = Unit::milliseconds,
                .pointNames = "points.end_joint_end_then_point",
                .pointCount = 4,
                .how = CourseKind{.value = peakAfterExtension}},
    MeasureKind{.id = "peak_turning",
                .unit = Unit::degreesPerSecond,
                .pointNames = "points.trail_end_lead_end",
                .pointCount = 2,
                .needsBodyHeight = true,
                .how = TurningKind{peakTurning}},
    MeasureKind{.id = "turning_after",
                .unit = Unit::milliseconds,
                .pointNames = "points.trail_end_lead_end_of_the_first_line_of_the_second",
                .pointCount = 4,
                .needsBodyHeight = true,
                .how = TurningKind{turningAfter}},
    MeasureKind{.id = "path_angle",
                .unit = Unit::degrees,
                .pointNames = "points.point",
                .pointCount = 1,
                .how = CourseKind{.value = pathAngle}},
    MeasureKind{.id = "path_heading",
                .unit = Unit::degrees,
                .pointNames = "points.point",
                .pointCount = 1,
                .how = CourseKind{.value = pathHeading, .onLevelPlane = true}},
    MeasureKind{.id = "path_plane",
                .unit = Unit::degrees,
                .pointNames = "points.point",
                .pointCount = 1,
                .how = SpacePathKind{planeTilt}},
    MeasureKind{.id = "path_difference",
                .unit = Unit::degrees,
                .pointNames = "points.first_second",
                .pointCount = 2,
                .how = CourseKind{.value = pathDifference}},
    MeasureKind{.id = "path_agreement",
                .unit = Unit::bodyHeights,
                .pointNames = "points.implement_ball",
                .pointCount = 2,
                .needsBodyHeight = true,
                .how = CourseKind{.value = pathAgreement}},
    MeasureKind{.id = "speed_share",
                .unit = Unit::percent,
                .pointNames = "points.part_whole",
                .pointCount = 2,
                .how = CourseKind{.value = speedShare}},
    MeasureKind{.id = "mean_acceleration",
                .unit = Unit::bodyHeightsPerSecondSquared,
                .pointNames = "points.point",
                .pointCount = 1,
                .needsBodyHeight = true,
                .how = CourseKind{.value = meanAcceleration}},
    MeasureKind{.id = "even_rise",
                .unit = Unit::percent,
                .pointNames = "points.point",
                .pointCount = 1,
                .how = CourseKind{.value = evenRise}},
    MeasureKind{.id = "ground_distance",
                .unit = Unit::metres,
                .pointNames = "points.from_to",
                .pointCount = 2,
                .how = GroundKind{.value = groundDistance}},
    MeasureKind{.id = "ground_past_line",
                .unit = Unit::metres,
                .pointNames = "points.point",
                .pointCount = 1,
                .how = GroundKind{.value = groundPastLine, .needsLine = true}},
    MeasureKind{.id = "ground_offset",
                .unit = Unit::footLengths,
                .pointNames = "points.from_to",
                .pointCount = 2,
                .how = GroundKind{.value = groundOffsetInFeet}},
    MeasureKind{.id = "ground_heading",
                .unit = Unit::degrees,
                .pointNames = "points.from_to",
                .pointCount = 2,
                .how = GroundKind{.value = groundHeading}},
    MeasureKind{.id = "ball_speed",
                .unit = Unit::kilometresPerHour,
                .pointNames = "points.ball_where_the_player_stands",
                .pointCount = 2,
                .how = FlightKind{ballSpeed}},
    MeasureKind{.id = "launch_angle",
                .unit = Unit::degrees,
                .pointNames = "points.ball_where_the_player_stands",
                .pointCount = 2,
                .how = FlightKind{launchAngle}},
    MeasureKind{.id = "arrival_angle",
                .unit = Unit::degrees,
                .pointNames = "points.ball_where_the_player_stands",
                .pointCount = 2,
                .how = FlightKind{arrivalAngle}},
    MeasureKind{.id = "time_to_target",
                .unit = Unit::milliseconds,
                .pointNames = "points.ball_where_the_player_stands",
                .pointCount = 2,
                .how = FlightKind{timeToTarget}},
    MeasureKind{.id = "time_of_one_metre",
                .unit = Unit::milliseconds,
                .pointNames = "points.ball_where_the_player_stands",
                .pointCount = 2,
                .how = FlightKind{timeOfOneMetre}},
    MeasureKind{.id = "alignment",
                .unit = Unit::bodyHeights,
                .pointNames = "points.five_points_from_below_upwards",
                .pointCount = 5,
                .needsBodyHeight = true,
                .how = InstantKind{.value = alignmentValue,
                                   .outOfPlane = offsetOutOfPlane,
                                   .shapes = alignmentShapes},
                .space = alignmentInSpace},
    MeasureKind{.id = "spin_rate",
                .unit = Unit::turnsPerMinute,
                .pointNames = "",
                .pointCount = 0,
                .how = CountedKind{}},
    MeasureKind{.id = "time_between",
                .unit = Unit::milliseconds,
                .pointNames = "",
                .pointCount = 0,
                .how = TimeKind{}},
};

} // namespace

std::span<const MeasureKind> allKinds() {
    return kinds;
}

const MeasureKind* findKind(std::string_view id) {
    const auto* found =
        std::find_if(kinds.begin(), kinds.end(), [id](const MeasureKind& k) { return k.id == id; });
    return found == kinds.end() ? nullptr : found;
}

} // namespace kestrel::technique
