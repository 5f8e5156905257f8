#include "body/body_problem.h"

#include "body/depth_start.h"
#include "body/ground_contact.h"
#include "body/process_noise.h"
#include "body/residuals.h"

#include <ceres/ceres.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>
#include <vector>

namespace kestrel::body {
namespace {

using model::Landmark;

// Working figures, where no source is named.
constexpr double trunkWander = 0.012; ///< spine bent and stretched, shoulders lifted
constexpr double neckWander = 0.012;
constexpr double hipsTiltSd = 0.25;
constexpr double shouldersTiltSd = 0.35;
constexpr double twistSd = 0.6;
constexpr double kneeBehindSd = 0.015;
constexpr double kneeBesideSd = 0.03;
constexpr double footTurnUsual = 0.2;
constexpr double footTurnSd = 0.8;
/// A posture lasts: how unusual it is counts once in so many seconds.
constexpr double postureLasts = 2.0;
constexpr double standingHeightSd = 0.015;
constexpr double slideBhS = 0.2;   ///< what a standing foot may move, standing heights a second
constexpr double groundSd = 0.015; ///< ends of feet above the ground they stand on
constexpr double errorLasts = 0.5; ///< seconds that errors of tracked landmarks stay alike
constexpr double wildPointSds = 3.0;
constexpr double usualDistanceLogSd = 0.5;
constexpr double nearestBh = 1.6; ///< 3 m from a tall player, who then hardly fits the picture
constexpr double nearestLogSd = 0.05;
constexpr double usualPitchSd = 0.13;
/// A player is rarely seen quite upright and square: taller than it looks, logarithms.
constexpr double tallerThanSeen = 0.03;
constexpr double heightLogSd = 0.05;
constexpr double distortionSd = 0.03; ///< of phones' lenses
constexpr double centreShare = 0.03;  ///< of the picture's width that its middle may be off by

/// A laptop's cores; more gain little on problems of this size.
constexpr int threads = 2;

/// Errors that stay alike for a while are spread over the instants of that while.
double thinned(double sd, double lasts, double step) {
    return sd * std::sqrt(std::max(1.0, lasts / std::max(step, 1e-6)));
}

} // namespace

BodyProblem::BodyProblem(const SeenRep& rep, State start, model::Seconds depthZero)
    : rep_(rep), state_(std::move(start)) {
    state_.landmarkErrors.assign(2 * pointCount * errorNodes(), 0.0);
    for (std::size_t i = 0; i < count(); ++i) {
        for (std::size_t p = 0; p < pointCount; ++p) {
            problem_.AddParameterBlock(point(i, p), 3);
        }
    }
    addPicture();
    addBones();
    addShape();
    addMotion();
    addGround();
    addUsual(depthZero);
}

void BodyProblem::setState(const State& state) {
    std::copy(state.points.begin(), state.points.end(), state_.points.begin());
    std::copy(state.landmarkErrors.begin(), state.landmarkErrors.end(),
              state_.landmarkErrors.begin());
    state_.logLengths = state.logLengths;
    state_.camera = state.camera;
    state_.gravity = state.gravity;
    state_.ground = state.ground;
    state_.logHeight = state.logHeight;
}

double BodyProblem::step(std::size_t i) const {
    const std::size_t a = i == 0 ? 0 : i - 1;
    const std::size_t b = std::min(i + 1, count() - 1);
    return (rep_.instants[b].time - rep_.instants[a].time).value / static_cast<double>(b - a);
}

template <int Residuals, int... Sizes, class Cost, class... Blocks>
void BodyProblem::add(ceres::LossFunction* loss, const Cost& cost, Blocks... blocks) {
    problem_.AddResidualBlock(
        new ceres::AutoDiffCostFunction<Cost, Residuals, Sizes...>(new Cost(cost)), loss,
        blocks...);
}

void BodyProblem::addPicture() {
    bool errs = false;
    for (std::size_t i = 0; i < count(); ++i) {
        for (const auto& [landmark, seen] : rep_.instants[i].points) {
            if (indexOf(landmark) >= pointCount) {
                continue;
            }
            const std::size_t p = indexOf(landmark);
            ceres::LossFunction* loss =
                seen.trusted ? nullptr : new ceres::CauchyLoss(wildPointSds);
            if (seen.lastingPx <= 0.0) {
                add<2, 3, cameraSize>(loss,
                                      PicturePoint{state_.unitPx, seen.px.x, seen.px.y, seen.sdPx},
                                      point(i, p), state_.camera.data());
                continue;
            }
            const double at =
                (rep_.instants[i].time - rep_.instants.front().time).value / errorLasts;
            const auto node = static_cast<std::size_t>(at);
            add<2, 3, cameraSize, 2, 2>(
                loss,
                PicturePointOff{state_.unitPx, seen.px.x, seen.px.y, seen.sdPx, seen.lastingPx,
                                at - static_cast<double>(node)},
                point(i, p), state_.camera.data(), state_.landmarkError(node, p),
                state_.landmarkError(node + 1, p));
            errs = true;
        }
        addNearer(i);
    }
    if (!errs) {
        state_.landmarkErrors.clear();
        return;
    }
    for (std::size_t p = 0; p < pointCount; ++p) {
        for (std::size_t node = 0; node < errorNodes(); ++node) {
            if (node == 0) {
                add<2, 2>(nullptr, ErrorAsUsual{}, state_.landmarkError(0, p));
            } else {
                add<2, 2, 2>(nullptr, ErrorGoesOn{std::exp(-1.0)},
                             state_.landmarkError(node - 1, p), state_.landmarkError(node, p));
            }
        }
    }
}

std::size_t BodyProblem::errorNodes() const {
    const double filmed = (rep_.instants.back().time - rep_.instants.front().time).value;
    return static_cast<std::size_t>(filmed / errorLasts) + 2;
}

/// What a machine says of depth.
void BodyProblem::addNearer(std::size_t i) {
    const auto& points = rep_.instants[i].points;
    // Errors that fade by e in a time are worth one independent error in twice that time.
    const double sd = thinned(rep_.nearerSdBh, 2.0 * rep_.nearerErrorLasts.value, step(i));
    for (const auto& [landmark, seen] : points) {
        const std::size_t p = indexOf(landmark);
        if (p < pointCount && p != hipPair.left && p != hipPair.right && seen.nearerBh) {
            add<1, 3, 3, 3>(nullptr, Nearer{*seen.nearerBh, sd}, point(i, p),
                            point(i, hipPair.left), point(i, hipPair.right));
        }
    }
    const auto left = points.find(Landmark::leftHip);
    const auto right = points.find(Landmark::rightHip);
    if (left != points.end() && right != points.end() && left->second.nearerBh &&
        right->second.nearerBh) {
        add<1, 3, 3>(
            nullptr,
            NearerThan{*left->second.nearerBh - *right->second.nearerBh, std::sqrt(2.0) * sd},
            point(i, hipPair.left), point(i, hipPair.right));
    }
}

void BodyProblem::addBones() {
    for (std::size_t i = 0; i < count(); ++i) {
        for (const Bone& bone : bones()) {
            add<1, 3, 3, 1, 1>(nullptr, BoneLength{bone.wander}, point(i, indexOf(bone.from)),
                               point(i, indexOf(bone.to)), length(bone.part), &state_.logHeight);
        }
        add<1, 3, 3, 3, 3, 1, 1>(nullptr, TrunkLength{trunkWander}, point(i, hipPair.left),
                                 point(i, hipPair.right), point(i, shoulderPair.left),
                                 point(i, shoulderPair.right), length(Part::trunk),
                                 &state_.logHeight);
        add<1, 3, 3, 3, 1, 1>(nullptr, NeckLength{neckWander}, point(i, shoulderPair.left),
                              point(i, shoulderPair.right), point(i, indexOf(Landmark::head)),
                              length(Part::neck), &state_.logHeight);
    }
}

void BodyProblem::addShape() {
    for (std::size_t i = 0; i < count(); ++i) {
        const double few = thinned(1.0, postureLasts, step(i));
        double* hips[] = {point(i, hipPair.left), point(i, hipPair.right)};
        double* shoulders[] = {point(i, shoulderPair.left), point(i, shoulderPair.right)};
        add<3, 3, 3, 3, 3>(nullptr,
                           TrunkShape{few * hipsTiltSd, few * shouldersTiltSd, few * twistSd},
                           hips[0], hips[1], shoulders[0], shoulders[1]);
        for (const bool left : {true, false}) {
            const auto of = [&](Pair pair) { return point(i, left ? pair.left : pair.right); };
            add<2, 3, 3, 3, 3, 3>(nullptr, KneeHinge{kneeBehindSd, few * kneeBesideSd}, of(hipPair),
                                  of(kneePair), of(anklePair), of(heelPair), of(toePair));
            add<1, 3, 3, 3, 3, 3, 3>(
                nullptr, FootTurn{left ? 1.0 : -1.0, footTurnUsual, few * footTurnSd}, hips[0],
                hips[1], shoulders[0], shoulders[1], of(heelPair), of(toePair));
        }
    }
}

void BodyProblem::addMotion() {
    const auto sds = accelerations(rep_, state_.unitPx);
    for (std::size_t i = 1; i + 1 < count(); ++i) {
        const double before = (rep_.instants[i].time - rep_.instants[i - 1].time).value;
        const double after = (rep_.instants[i + 1].time - rep_.instants[i].time).value;
        for (std::size_t p = 0; p < pointCount; ++p) {
            const double density = sds[i][p] * sds[i][p] * 2.0 * accelerationLasts;
            add<3, 3, 3, 3, cameraSize>(
                nullptr, Smoothness{before, after, std::sqrt(density * 0.5 * (before + after))},
                point(i - 1, p), point(i, p), point(i + 1, p), state_.camera.data());
        }
    }
}

void BodyProblem::addGround() {
    for (const Contact& contact : contacts(rep_, state_.unitPx)) {
        const std::size_t p = indexOf(contact.end);
        // How far an end is off the ground stays as it is while it stands.
        const double stands =
            (rep_.instants[contact.last].time - rep_.instants[contact.first].time).value;
        const double few = thinned(1.0, stands, step(contact.first));
        for (std::size_t i = contact.first; i <= contact.last; ++i) {
            const bool toe = p == toePair.left || p == toePair.right; // heels are often held up
            if (toe) {
                add<1, 3, gravitySize, 1>(new ceres::CauchyLoss(1.0), OnGround{few * groundSd},
                                          point(i, p), state_.gravity.data(), &state_.ground);
            }
            if (i > contact.first && !rep_.feetGlide) {
                add<3, 3, 3>(
                    new ceres::CauchyLoss(1.0),
                    Standing{slideBhS * (rep_.instants[i].time - rep_.instants[i - 1].time).value},
                    point(i - 1, p), point(i, p));
            }
        }
    }
}

void BodyProblem::addUsual(model::Seconds depthZero) {
    for (std::size_t part = 0; part < partCount; ++part) {
        add<1, 1>(nullptr, Usual{std::log(rep_.lengths[part].mean), rep_.lengths[part].relativeSd},
                  &state_.logLengths[part]);
    }
    add<1, 1, 1, 1, 1, 1>(nullptr, StandingHeight{ankleHeight, standingHeightSd},
                          length(Part::shank), length(Part::thigh), length(Part::trunk),
                          length(Part::neck), length(Part::head));
    const KnownCamera& known = rep_.camera;
    const double centreSd = centreShare * rep_.width;
    add<cameraSize, cameraSize>(
        nullptr,
        UsualValues<cameraSize>{{std::log(known.distanceBh.value_or(usualDistanceBh)),
                                 (rep_.width - 1) / 2.0, (rep_.height - 1) / 2.0, 0.0},
                                {known.distanceBh ? known.distanceRelativeSd : usualDistanceLogSd,
                                 centreSd, centreSd, distortionSd}},
        state_.camera.data());
    add<1, cameraSize>(nullptr, NotNearer{std::log(nearestBh), nearestLogSd}, state_.camera.data());
    add<gravitySize, gravitySize>(
        nullptr,
        UsualValues<gravitySize>{{model::toRadians(known.roll),
                                  known.pitch ? model::toRadians(*known.pitch) : usualPitch},
                                 {model::toRadians(known.rollSd),
                                  known.pitch ? model::toRadians(known.pitchSd) : usualPitchSd}},
        state_.gravity.data());
    add<1, 1>(nullptr, Usual{tallerThanSeen, heightLogSd}, &state_.logHeight);
    constexpr double anywhere = 10.0;
    add<1, 1>(nullptr, Usual{0.0, anywhere}, &state_.ground);
    const auto nearest = std::min_element(
        rep_.instants.begin(), rep_.instants.end(), [&](const auto& a, const auto& b) {
            return std::abs((a.time - depthZero).value) < std::abs((b.time - depthZero).value);
        });
    const auto zero = static_cast<std::size_t>(nearest - rep_.instants.begin());
    constexpr double exactly = 0.001;
    add<1, 3, 3>(nullptr, AtDepthZero{exactly}, point(zero, hipPair.left),
                 point(zero, hipPair.right));
}

namespace {

ceres::Solver::Options solverOptions(int mostRounds) {
    ceres::Solver::Options options;
    options.linear_solver_type = ceres::SPARSE_NORMAL_CHOLESKY;
    options.sparse_linear_algebra_library_type = ceres::SUITE_SPARSE;
    options.num_threads = threads;
    options.max_num_iterations = mostRounds;
    options.function_tolerance = 1e-4;
    options.logging_type = ceres::SILENT;
    return options;
}

} // namespace

void BodyProblem::hold(Held held) {
    held_ = held;
    for (double* block : {state_.camera.data(), state_.gravity.data(), &state_.ground}) {
        held == Held::all ? problem_.SetParameterBlockConstant(block)
                          : problem_.SetParameterBlockVariable(block);
    }
    problem_.SetManifold(state_.camera.data(), held == Held::distance
                                                   ? new ceres::SubsetManifold(cameraSize, {0})
                                                   : nullptr);
}

namespace {

/// A point on the sight from the camera through it; it moves by its depth.
class AlongSight : public ceres::Manifold {
  public:
    /// `logDistance` is the camera's, wherever it stands now.
    explicit AlongSight(const double* logDistance) : logDistance_(logDistance) {}

    [[nodiscard]] int AmbientSize() const override { return 3; }
    [[nodiscard]] int TangentSize() const override { return 1; }
    bool Plus(const double* x, const double* delta, double* moved) const override {
        const double share = 1.0 - *delta / toCamera(x);
        moved[0] = share * x[0];
        moved[1] = share * x[1];
        moved[2] = x[2] + *delta;
        return true;
    }
    bool PlusJacobian(const double* x, double* jacobian) const override {
        jacobian[0] = -x[0] / toCamera(x);
        jacobian[1] = -x[1] / toCamera(x);
        jacobian[2] = 1.0;
        return true;
    }
    bool Minus(const double* y, const double* x, double* delta) const override {
        *delta = y[2] - x[2];
        return true;
    }
    bool MinusJacobian(const double* /*x*/, double* jacobian) const override {
        jacobian[0] = 0.0;
        jacobian[1] = 0.0;
        jacobian[2] = 1.0;
        return true;
    }

  private:
    [[nodiscard]] double toCamera(const double* x) const { return std::exp(*logDistance_) - x[2]; }

    const double* logDistance_;
};

} // namespace

void BodyProblem::letMove(Points points) {
    ceres::Manifold* along =
        points == Points::alongSight ? new AlongSight(state_.camera.data()) : nullptr;
    for (std::size_t i = 0; i < count(); ++i) {
        for (std::size_t p = 0; p < pointCount; ++p) {
            problem_.SetManifold(point(i, p), along);
        }
    }
}

void BodyProblem::setLogDistance(double logDistance) {
    const double before = std::exp(-state_.camera[0]);
    const double after = std::exp(-logDistance);
    for (std::size_t i = 0; i < count(); ++i) {
        for (std::size_t p = 0; p < pointCount; ++p) {
            double* place = point(i, p);
            const double share = (1.0 - place[2] * after) / (1.0 - place[2] * before);
            place[0] *= share;
            place[1] *= share;
        }
    }
    state_.camera[0] = logDistance;
}

double BodyProblem::evidence() {
    double sum = 0.0;
    const Estimate::Factor factor(information(sum));
    return factor.info() == Eigen::Success ? sum + factor.logDeterminant()
                                           : std::numeric_limits<double>::infinity();
}

void BodyProblem::solve(int mostRounds) {
    ceres::Solver::Summary summary;
    ceres::Solve(solverOptions(mostRounds), &problem_, &summary);
}

double BodyProblem::solveFor(std::span<const PointRef> points, int mostRounds) {
    std::vector<double*> blocks;
    problem_.GetParameterBlocks(&blocks);
    for (double* block : blocks) {
        problem_.SetParameterBlockConstant(block);
    }
    for (const PointRef& ref : points) {
        problem_.SetParameterBlockVariable(point(ref.instant, ref.point));
    }
    ceres::Solver::Options options = solverOptions(mostRounds);
    options.num_threads = 1;
    ceres::Solver::Summary summary;
    ceres::Solve(options, &problem_, &summary);
    for (double* block : blocks) {
        problem_.SetParameterBlockVariable(block);
    }
    hold(held_);
    return 2.0 * summary.final_cost; // Ceres halves it
}

double BodyProblem::cost() {
    double half = 0.0;
    problem_.Evaluate({}, &half, nullptr, nullptr, nullptr);
    return 2.0 * half;
}

Eigen::SparseMatrix<double> BodyProblem::information(double& sum) {
    ceres::Problem::EvaluateOptions options;
    options.num_threads = threads;
    for (std::size_t i = 0; i < count(); ++i) {
        for (std::size_t p = 0; p < pointCount; ++p) {
            options.parameter_blocks.push_back(point(i, p));
        }
    }
    for (double& logLength : state_.logLengths) {
        options.parameter_blocks.push_back(&logLength);
    }
    options.parameter_blocks.push_back(state_.camera.data());
    options.parameter_blocks.push_back(state_.gravity.data());
    options.parameter_blocks.push_back(&state_.ground);
    options.parameter_blocks.push_back(&state_.logHeight);
    for (std::size_t i = 0; i < state_.landmarkErrors.size(); i += 2) {
        options.parameter_blocks.push_back(&state_.landmarkErrors[i]);
    }
    double half = 0.0;
    ceres::CRSMatrix rows;
    problem_.Evaluate(options, &half, nullptr, nullptr, &rows);
    sum = 2.0 * half; // Ceres halves it
    const Eigen::Map<const Eigen::SparseMatrix<double, Eigen::RowMajor>> jacobian(
        rows.num_rows, rows.num_cols, static_cast<Eigen::Index>(rows.values.size()),
        rows.rows.data(), rows.cols.data(), rows.values.data());
    const Eigen::SparseMatrix<double> byColumns = jacobian;
    return Eigen::SparseMatrix<double>(byColumns.transpose()) * byColumns;
}

std::shared_ptr<Estimate> BodyProblem::estimate() {
    letMove(Points::free);
    hold(Held::nothing); // the derivatives are those of all parameters
    const auto result = std::make_shared<Estimate>();
    double sum = 0.0;
    result->factor.compute(information(sum));
    if (result->factor.info() != Eigen::Success) {
        return nullptr;
    }
    result->state = state_;
    for (const SeenInstant& instant : rep_.instants) {
        result->times.push_back(instant.time);
    }
    return result;
}

} // namespace kestrel::body
