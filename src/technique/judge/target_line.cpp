#include "technique/judge/target_line.h"

#include "motion/out_of_plane.h"
#include "motion/propagation.h"
#include "technique/pack/roles.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kestrel::technique {
namespace {

/// Where the target (x) lies from the picture's right, both level.
double azimuthOf(const motion::GroundCamera& camera) {
    const Eigen::Vector3d right = camera.axes.row(0);
    return std::atan2(-right.y(), right.x());
}

TargetLine byGround(const motion::GroundFit& fit) {
    const double azimuth = azimuthOf(fit.camera);
    const auto changedBy = [&](const Eigen::VectorXd& errors) {
        const auto camera = motion::changed(fit.camera, motion::CameraChange(fit.spread * errors));
        return azimuth + std::remainder(azimuthOf(camera) - azimuth, 2.0 * std::numbers::pi);
    };
    const auto errors = fit.spread.cols();
    return {azimuth, motion::standardUncertainty(changedBy, Eigen::VectorXd::Zero(errors),
                                                 Eigen::VectorXd::Ones(errors), motion::nearby)};
}

} // namespace

std::optional<TargetLine> targetLine(const Pack& pack, const Circumstances& circumstances) {
    if (circumstances.ground) {
        return byGround(circumstances.ground->fit);
    }
    if (!circumstances.view) {
        return std::nullopt;
    }
    const double sd = model::toRadians(motion::offSquareSd);
    switch (*circumstances.view) {
    case model::View::openSide:
    case model::View::closedSide:
        return TargetLine{positiveSign(pack, circumstances.hand, *circumstances.view) > 0
                              ? 0.0
                              : std::numbers::pi,
                          sd};
    case model::View::front:
        return TargetLine{-0.5 * std::numbers::pi, sd};
    case model::View::rear:
        return TargetLine{0.5 * std::numbers::pi, sd};
    case model::View::overhead:
        break; // what is level does not show how it lies to the target
    }
    return std::nullopt;
}

LevelDirection directionOf(const Measure& measure) {
    const bool aside =
        std::all_of(measure.views.begin(), measure.views.end(), [](model::View view) {
            return view == model::View::front || view == model::View::rear;
        });
    return aside ? LevelDirection::aside : LevelDirection::toTarget;
}

} // namespace kestrel::technique
