#include "technique/kinds/level_plane.h"

#include "motion/propagation.h"
#include "technique/kinds/inputs.h"
#include "technique/kinds/on_ground.h"

#include <cmath>
#include <limits>

namespace kestrel::technique {
namespace {

using model::MissingReason;
using model::Point2;

constexpr Eigen::Index cameraErrors = 8;
/// What is known no better than this is not told, degrees.
constexpr double mostSd = 10.0;

double radians(double degrees) {
    return model::toRadians(model::Degrees(degrees));
}

/// By how much a path's heading in the plane is off when it rises so steeply: what it gains in
/// height is seen as a way along the line of sight.
double offByRise(const LevelPlane& plane, Point2 seen, double heading, double rise) {
    const Eigen::Vector3d sight = plane.camera.directionAt(seen);
    const Eigen::Vector2d way(std::cos(radians(heading)), std::sin(radians(heading)));
    const Eigen::Vector2d looks =
        way - std::tan(radians(rise)) * sight.head<2>() / sight.z(); // sight.z() < 0
    return model::degreesFromRadians(
               std::atan2(way.x() * looks.y() - way.y() * looks.x(), way.dot(looks)))
        .value;
}

} // namespace

std::optional<LevelPlane> levelPlane(const Circumstances& circumstances, const Measure& measure,
                                     model::Reading& reading) {
    if (!circumstances.ground) {
        refuseForGround(circumstances, reading);
        return std::nullopt;
    }
    if (!circumstances.bodyHeight) {
        reading.missing = MissingReason{MissingReason::Kind::noBodyHeight,
                                        model::message("height.for_level_plane")};
        return std::nullopt;
    }
    return LevelPlane{circumstances.ground->fit.camera,
                      measure.heightBh * circumstances.bodyHeight->value,
                      circumstances.hand == model::Hand::right ? -1 : 1}; // y points to the left
}

void addPlaneDoubt(const Circumstances& circumstances, const Measure& measure, CourseInput& input,
                   model::Reading& reading) {
    const LevelPlane plane = *input.plane;
    const motion::GroundFit& fit = circumstances.ground->fit;
    const auto valueOn = [&](const LevelPlane& other) {
        input.plane = other;
        const CourseValue found = measure.kind->as<CourseKind>()->value(input);
        input.plane = plane;
        return found.value.value_or(std::numeric_limits<double>::quiet_NaN());
    };
    const auto withCamera = [&](const Eigen::VectorXd& errors) {
        LevelPlane other = plane;
        other.camera = motion::changed(fit.camera, motion::CameraChange(fit.spread * errors));
        return valueOn(other);
    };
    reading.uncertainty.ground =
        motion::standardUncertainty(withCamera, Eigen::VectorXd::Zero(cameraErrors),
                                    Eigen::VectorXd::Ones(cameraErrors), motion::nearby);
    const auto atHeight = [&](double higherBh) {
        LevelPlane other = plane;
        other.heightM += higherBh * circumstances.bodyHeight->value;
        return valueOn(other);
    };
    const double ofHeight = 0.5 * (atHeight(measure.depthBh) - atHeight(-measure.depthBh));
    const Point2 end = input.points[0].path.back();
    const double heading = plane.closedSide * *reading.value;
    const double up = offByRise(plane, end, heading, measure.outOfPlaneDeg);
    const double down = offByRise(plane, end, heading, -measure.outOfPlaneDeg);
    reading.uncertainty.outOfPlane = std::hypot(ofHeight, std::sqrt(0.5 * (up * up + down * down)));

    if (const double sd = reading.uncertainty.combined(); !std::isfinite(sd) || sd > mostSd) {
        reading.value.reset();
        reading.uncertainty = {};
        reading.constructs.clear();
        reading.missing = MissingReason{MissingReason::Kind::groundUnknown,
                                        model::message("ground.way_too_unsure")};
        return;
    }
    // Which way the target lies, from where the path ends.
    const auto place = plane.camera.onGround(end, plane.heightM);
    constexpr double shown = 0.5; // metres
    const auto ahead = plane.camera.inPicture({place->x() + shown, place->y(), plane.heightM});
    if (ahead && !reading.constructs.empty()) {
        model::Construct& construct = reading.constructs.back();
        construct.shapes.emplace_back(model::Segment{
            drawnIn(circumstances, construct.frame, end),
            drawnIn(circumstances, construct.frame, *ahead), model::Role::reference});
    }
}

} // namespace kestrel::technique
