#include "technique/kinds/two_views.h"

#include "motion/propagation.h"
#include "technique/kinds/both_films.h"
#include "technique/kinds/inputs.h"
#include "technique/kinds/space_inputs.h"
#include "technique/pack/roles.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kestrel::technique {
namespace {

using Eigen::Vector3d;
using model::Point2;

double degrees(double radians) {
    return model::degreesFromRadians(radians).value;
}

double angleOf(const Vector3d& a, const Vector3d& b) {
    return degrees(std::atan2(a.cross(b).norm(), a.dot(b)));
}

/// −180…180.
double wrapped(double angle) {
    constexpr double turn = 360.0;
    return angle - turn * std::round(angle / turn);
}

double headingOf(const Vector3d& trail, const Vector3d& lead, int leading) {
    const Vector3d way = lead - trail;
    return degrees(std::atan2(leading * way.y(), way.x()));
}

constexpr double speedOfSound = 343.0; // m/s, in air of 20 °C
/// How far from the origin of the marked place what was heard may have been, metres. Working
/// figure.
constexpr double heardWithinM = 1.0;

model::Construct drawn(const Pack& pack, const model::Rep& rep, const Circumstances& c,
                       const Measure& measure, double value) {
    model::Construct construct;
    construct.frame = *model::frameOf(rep, measure.at);
    std::vector<Point2> points;
    for (const PointExpression& expression : measure.points) {
        const std::string& at = expression.position.empty() ? measure.at : expression.position;
        const int frame = *model::frameOf(rep, at);
        Point2 px;
        for (const auto& [role, weight] : expression.terms) {
            const auto landmark = landmarkForRole(pack, role, c.hand);
            px = px + model::find(rep.landmarks, frame, *landmark)->px * weight;
        }
        points.push_back(px);
        construct.shapes.emplace_back(model::Dot{px});
    }
    const bool pairs = points.size() == 4; // two lines, else one way through all points
    for (std::size_t i = 1; i < points.size(); i += pairs ? 2 : 1) {
        construct.shapes.emplace_back(model::Segment{points[i - 1], points[i]});
    }
    construct.labelAt = points.size() == 3 ? points[1] : (points[0] + points[1]) * 0.5;
    construct.label = model::valueOf(value, measure.unit);
    return construct;
}

} // namespace

model::SyncOffset lightFromSound(model::SyncOffset heard, const motion::GroundCamera& first,
                                 const motion::GroundCamera& second) {
    heard.seconds -= (second.position.norm() - first.position.norm()) / speedOfSound;
    heard.sd = std::hypot(heard.sd, heardWithinM / speedOfSound);
    return heard;
}

double interiorAngleInSpace(const SpaceInput& input) {
    const auto p = input.places;
    return angleOf(p[0] - p[1], p[2] - p[1]);
}

double flexionInSpace(const SpaceInput& input) {
    constexpr double straight = 180.0;
    return straight - interiorAngleInSpace(input);
}

double angleBetweenInSpace(const SpaceInput& input) {
    const auto p = input.places;
    return angleOf(p[1] - p[0], p[3] - p[2]);
}

double elevationInSpace(const SpaceInput& input) {
    const Vector3d way = input.places[1] - input.places[0];
    return degrees(std::atan2(way.z(), std::hypot(way.x(), way.y())));
}

double distanceInSpace(const SpaceInput& input) {
    return (input.places[1] - input.places[0]).norm() / input.bodyHeightM;
}

double headingInSpace(const SpaceInput& input) {
    return headingOf(input.places[0], input.places[1], input.leading);
}

double separationInSpace(const SpaceInput& input) {
    const auto p = input.places;
    return wrapped(headingOf(p[0], p[1], input.leading) - headingOf(p[2], p[3], input.leading));
}

std::shared_ptr<const motion::CameraPair> bothCameras(const Pack& pack, const model::Rep& rep,
                                                      const Circumstances& circumstances) {
    if (!circumstances.second || !secondViewHindrance(pack, rep, circumstances).empty()) {
        return nullptr;
    }
    const BothFilms films(rep, circumstances);
    return std::make_shared<const motion::CameraPair>(motion::byGroundAndBody(
        films.first.ground.fit, films.second.ground.fit, bodySeenByBoth(films)));
}

bool readInSpace(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 const motion::CameraPair* cameras, const Measure& measure,
                 model::Reading& reading) {
    if (measure.kind->space == nullptr || cameras == nullptr ||
        (measure.kind->space == distanceInSpace && !circumstances.bodyHeight)) {
        return false;
    }
    const BothFilms films(rep, circumstances);
    SpaceInputs inputs(films, *cameras);
    const auto pointsAt =
        [&](const std::string& position) -> std::optional<std::vector<SeenPoint>> {
        std::vector<SeenPoint> points;
        for (const PointExpression& expression : measure.points) {
            SeenPoint terms;
            for (const auto& [role, weight] : expression.terms) {
                const auto landmark = landmarkForRole(pack, role, circumstances.hand);
                if (!landmark ||
                    !inputs.addAt(*landmark,
                                  expression.position.empty() ? position : expression.position,
                                  weight, terms)) {
                    return std::nullopt;
                }
            }
            points.push_back(std::move(terms));
        }
        return points;
    };
    const auto at = pointsAt(measure.at);
    const auto before =
        measure.minus.empty() ? std::optional(std::vector<SeenPoint>()) : pointsAt(measure.minus);
    if (!at || !before) {
        return false;
    }
    const int side = circumstances.hand == model::Hand::right ? -1 : 1; // along y, see GroundInput
    const int leading = leadsWithDominantSide(pack) ? side : -side;
    bool told = true;
    const auto valueOf = [&](const std::vector<SeenPoint>& points, const Eigen::VectorXd& x) {
        std::vector<Vector3d> places;
        for (const auto& terms : points) {
            const auto place = inputs.place(terms, x);
            told = told && place.has_value();
            places.push_back(place.value_or(Vector3d::Zero()));
        }
        return measure.kind->space(
            {places, leading, circumstances.bodyHeight ? circumstances.bodyHeight->value : 0.0});
    };
    const auto value = [&](const Eigen::VectorXd& x) {
        const double v = valueOf(*at, x) - (before->empty() ? 0.0 : valueOf(*before, x));
        return measure.absolute ? std::abs(v) : v;
    };
    const Eigen::VectorXd x = inputs.values();
    const double read = value(x);
    const double placing = motion::standardUncertainty(value, x, inputs.placingSds());
    const double ofCameras =
        motion::standardUncertainty(value, x, inputs.cameraSds(), motion::nearby);
    if (!told || !std::isfinite(read)) {
        return false;
    }
    reading.value = read;
    reading.twoViews = true;
    reading.uncertainty.placement = placing;
    reading.uncertainty.ground = ofCameras;
    const double outOfStep = motion::standardUncertainty(value, x, inputs.stepSds());
    const double instant = std::hypot(instantSd(circumstances.time, rep, measure.at),
                                      inputs.ownFrames() ? circumstances.second->frameSd : 0.0);
    reading.uncertainty.frames = std::hypot(measure.typicalRate * instant, outOfStep);
    reading.constructs.push_back(drawn(pack, rep, circumstances, measure, read));
    return true;
}

model::Message secondViewHindrance(const Pack& pack, const model::Rep& rep,
                                   const Circumstances& circumstances) {
    if (!circumstances.second) {
        return circumstances.secondReason;
    }
    if (!circumstances.ground) {
        return model::message("second.mark_ground");
    }
    if (circumstances.ground->place.id != circumstances.second->ground.place.id) {
        return model::message("second.other_place");
    }
    const bool shared =
        circumstances.second->heard ||
        std::any_of(pack.positions.begin(), pack.positions.end(), [&](const Position& p) {
            return model::frameOf(rep, p.id) && model::frameOf(circumstances.second->rep, p.id);
        });
    return shared ? model::Message() : model::message("second.no_shared_instant");
}

} // namespace kestrel::technique
