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

/// Where a camera that stands square to the said view has it.
std::optional<TargetLine> bySquareView(const Pack& pack, const Circumstances& circumstances) {
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

/// What is known of the line when the camera stands square, or else anywhere, and the body says
/// where it is to within its deviation: both answers by their odds, as mean and deviation.
TargetLine squareOrNot(const TargetLine& square, const TargetLine& body) {
    // Working figure: how many coaches set up square to the view that they name.
    constexpr double squareShare = 0.7;
    constexpr double wholeTurn = 2.0 * std::numbers::pi;
    const double apart = std::remainder(body.azimuth - square.azimuth, wholeTurn);
    const double spread = std::hypot(square.azimuthSd, body.azimuthSd);
    const double agreeing = squareShare * std::exp(-0.5 * std::pow(apart / spread, 2)) /
                            (spread * std::sqrt(wholeTurn));
    const double odds = agreeing / (agreeing + (1.0 - squareShare) / wholeTurn);
    // Square: both say where it is, by their weights.
    const double weight = std::pow(square.azimuthSd / spread, 2);
    const double both = weight * apart;
    const double bothSd = square.azimuthSd * body.azimuthSd / spread;
    const double mean = odds * both + (1.0 - odds) * apart;
    const double variance =
        odds * (bothSd * bothSd + std::pow(both - mean, 2)) +
        (1.0 - odds) * (body.azimuthSd * body.azimuthSd + std::pow(apart - mean, 2));
    return {square.azimuth + mean, std::sqrt(variance)};
}

} // namespace

std::optional<TargetLine> targetLine(const Pack& pack, const Circumstances& circumstances) {
    if (circumstances.ground) {
        return byGround(circumstances.ground->fit);
    }
    const std::optional<TargetLine> square = bySquareView(pack, circumstances);
    const auto body = circumstances.body ? circumstances.body->target() : std::nullopt;
    if (!body) {
        return square;
    }
    const TargetLine moving{body->radians, body->sd};
    return square && !circumstances.viewIsFound ? squareOrNot(*square, moving) : moving;
}

LevelDirection directionOf(const Measure& measure) {
    const bool aside =
        std::all_of(measure.views.begin(), measure.views.end(), [](model::View view) {
            return view == model::View::front || view == model::View::rear;
        });
    return aside ? LevelDirection::aside : LevelDirection::toTarget;
}

} // namespace kestrel::technique
