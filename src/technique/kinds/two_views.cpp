#include "technique/kinds/two_views.h"

#include "motion/propagation.h"
#include "technique/judge/target_line.h"
#include "technique/kinds/both_films.h"
#include "technique/kinds/constructs.h"
#include "technique/kinds/inputs.h"
#include "technique/kinds/space_inputs.h"
#include "technique/pack/roles.h"

#include <algorithm>
#include <cmath>

namespace kestrel::technique {
namespace {

using Eigen::Vector3d;

constexpr double speedOfSound = 343.0; // m/s, in air of 20 °C
/// How far from the origin of the marked place what was heard may have been, metres. Working
/// figure.
constexpr double heardWithinM = 1.0;

} // namespace

model::SyncOffset lightFromSound(model::SyncOffset heard, const motion::GroundCamera& first,
                                 const motion::GroundCamera& second) {
    heard.seconds -= (second.position.norm() - first.position.norm()) / speedOfSound;
    heard.sd = std::hypot(heard.sd, heardWithinM / speedOfSound);
    return heard;
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
        (measure.unit == model::Unit::bodyHeights && !circumstances.bodyHeight)) {
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
            {places, leading, circumstances.bodyHeight ? circumstances.bodyHeight->value : 0.0,
             directionOf(measure), side});
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
    reading.from = model::ReadFrom::twoFilms;
    reading.uncertainty.placement = placing;
    reading.uncertainty.ground = ofCameras;
    const double outOfStep = motion::standardUncertainty(value, x, inputs.stepSds());
    const double instant = std::hypot(instantSd(circumstances.time, rep, measure.at),
                                      inputs.ownFrames() ? circumstances.second->frameSd : 0.0);
    reading.uncertainty.frames = std::hypot(measure.typicalRate * instant, outOfStep);
    if (auto construct = constructAt(pack, rep, circumstances.hand, measure, measure.at)) {
        construct->label = model::valueOf(read, measure.unit);
        reading.constructs.push_back(std::move(*construct));
    }
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
