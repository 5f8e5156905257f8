#include "body/along_sight.h"
#include "body/body_problem.h"
#include "body/residuals.h"

#include <SuiteSparse_config.h>
#include <ceres/ceres.h>
#include <dlfcn.h>
#include <glog/logging.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <mutex>
#include <vector>

/// Of OpenMP's run-time library, which CHOLMOD brings along; its header comes with some compilers
/// only.
extern "C" {
void omp_set_max_active_levels(int levels);
int omp_get_max_active_levels();
}

/// How the problem moves to its smallest sum, and what is known there.
namespace kestrel::body {
namespace {

/// How much of the narrowness of the smallest sum counts as evidence. By Laplace's approximation it
/// would be all; but what a film's errors make of depths is less than the errors allowed for, and a
/// bone in the picture's plane is surer than its derivatives say. With all of it cameras are taken
/// to be half as far again as they are, with none of it too near. Set on films of the synthetic
/// player with seeds for setting.
constexpr double narrownessShare = 0.3;

/// Several searches run at once, each on a core of its own.
constexpr int threads = 1;

/// CHOLMOD shares out even small blocks among threads of OpenMP, which then wait for one another.
class WithoutOpenMp {
  public:
    WithoutOpenMp() { omp_set_max_active_levels(0); }
    ~WithoutOpenMp() { omp_set_max_active_levels(levels_); }
    WithoutOpenMp(const WithoutOpenMp&) = delete;
    WithoutOpenMp& operator=(const WithoutOpenMp&) = delete;
    WithoutOpenMp(WithoutOpenMp&&) = delete;
    WithoutOpenMp& operator=(WithoutOpenMp&&) = delete;

  private:
    int levels_ = omp_get_max_active_levels();
};

/// Threads of OpenBLAS wait for one another as well: several searches with two of them each take
/// four times as long as with one. Which BLAS there is, is the system's choice; others have no such
/// function. (OpenBLAS without any threads is no way out: it may not be called from several at
/// once, and then computes wrong numbers, not the same ones each time.)
void keepBlasToOneThread() {
    using SetThreads = void (*)(int);
    if (void* function = dlsym(RTLD_DEFAULT, "openblas_set_num_threads")) {
        reinterpret_cast<SetThreads>(function)(1);
    }
}

/// Solves with CHOLMOD as quietly as possible: where a step makes no positive definite matrix Ceres
/// takes a shorter one, and CHOLMOD's word on it would stand in the program's output.
ceres::Solver::Summary solved(const ceres::Solver::Options& options, ceres::Problem& problem) {
    static std::once_flag once;
    std::call_once(once, [] {
        SuiteSparse_config.printf_func = nullptr;
        keepBlasToOneThread();
    });
    const WithoutOpenMp alone;
    ceres::Solver::Summary summary;
    ceres::Solve(options, &problem, &summary);
    return summary;
}

/// Ends what will not become worth having: a limb turned over the wrong way is so much worse after
/// a few rounds that no more of them help.
class EndsWhenHopeless : public ceres::IterationCallback {
  public:
    explicit EndsWhenHopeless(double mostSum) : mostSum_(mostSum) {}

    ceres::CallbackReturnType operator()(const ceres::IterationSummary& round) override {
        constexpr int early = 2;
        constexpr double muchWorse = 60.0;
        constexpr int later = 4;
        constexpr double worse = 20.0;
        const double above = 2.0 * round.cost - mostSum_; // Ceres halves it
        const bool hopeless = (round.iteration >= early && above > muchWorse) ||
                              (round.iteration >= later && above > worse);
        return hopeless ? ceres::SOLVER_TERMINATE_SUCCESSFULLY : ceres::SOLVER_CONTINUE;
    }

  private:
    double mostSum_;
};

/// Steps that cannot be made are part of the method, which then makes smaller ones; Ceres would
/// tell of each on the error stream.
void keepQuietOfFailedSteps() {
    static std::once_flag once;
    std::call_once(once, [] { FLAGS_minloglevel = google::GLOG_ERROR; });
}

ceres::Solver::Options solverOptions(int mostRounds) {
    keepQuietOfFailedSteps();
    ceres::Solver::Options options;
    options.linear_solver_type = ceres::SPARSE_NORMAL_CHOLESKY;
    // Its dense blocks are several times as quick as Eigen's columns.
    options.sparse_linear_algebra_library_type = ceres::SUITE_SPARSE;
    options.num_threads = threads;
    options.max_num_iterations = mostRounds;
    options.function_tolerance = 1e-4;
    options.logging_type = ceres::SILENT;
    return options;
}

} // namespace

void BodyProblem::setState(const State& state) {
    std::copy(state.points.begin(), state.points.end(), state_.points.begin());
    std::copy(state.landmarkErrors.begin(), state.landmarkErrors.end(),
              state_.landmarkErrors.begin());
    state_.logLengths = state.logLengths;
    state_.camera = state.camera;
    state_.gravity = state.gravity;
    state_.ground = state.ground;
    state_.logHeight = state.logHeight;
    state_.azimuth = state.azimuth;
    state_.lean = state.lean;
}

void BodyProblem::hold(Held held) {
    held_ = held;
    const auto set = [&](double* block, bool constant) {
        constant ? problem_.SetParameterBlockConstant(block)
                 : problem_.SetParameterBlockVariable(block);
    };
    for (double* block : {state_.camera.data(), state_.gravity.data(), &state_.ground}) {
        set(block, held == Held::camera);
    }
    for (std::size_t k = 0; k < usualSizes_.size(); ++k) {
        set(size(k), held == Held::sizes);
    }
    problem_.SetManifold(state_.camera.data(), held == Held::distance || held == Held::sizes
                                                   ? new ceres::SubsetManifold(cameraSize, {0})
                                                   : nullptr);
}

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
    const InformationFactor factor(information(sum));
    return factor.info() == Eigen::Success ? sum + narrownessShare * factor.logDeterminant()
                                           : std::numeric_limits<double>::infinity();
}

void BodyProblem::setSlopes(const Sizes& slopes) {
    for (std::size_t k = 0; k < slopes.size(); ++k) {
        // A straight slope beside a parabola is the parabola elsewhere.
        sizeMeans_[k] = usualSizes_[k] - 0.5 * slopes[k] * sizeSds_[k] * sizeSds_[k];
    }
}

BodyProblem::Sizes BodyProblem::narrowing() {
    const Held held = held_;
    hold(Held::nothing);
    double sum = 0.0;
    const Eigen::SparseMatrix<double> all = information(sum);
    // The order that State has, with one number a point.
    const auto points = static_cast<Eigen::Index>(count() * pointCount);
    const auto others = points + static_cast<Eigen::Index>(partCount);
    const Eigen::Index height = others + cameraSize + gravitySize + 1;
    std::vector<Eigen::Triplet<double>> ones;
    for (Eigen::Index k = 0; k < all.cols(); ++k) {
        if ((k < points || k >= others) && k != height) {
            ones.emplace_back(k, static_cast<Eigen::Index>(ones.size()), 1.0);
        }
    }
    Eigen::SparseMatrix<double> chosen(all.cols(), static_cast<Eigen::Index>(ones.size()));
    chosen.setFromTriplets(ones.begin(), ones.end());
    const auto ofOthers = [&](const Eigen::SparseMatrix<double>& whole) {
        return Eigen::SparseMatrix<double>(chosen.transpose() * whole * chosen);
    };
    const InformationFactor factor(ofOthers(all));
    const State state = state_;
    Sizes slopes{};
    constexpr double step = 0.01;
    for (std::size_t k = 0; k < slopes.size() && factor.info() == Eigen::Success; ++k) {
        const Eigen::Index column = k < partCount ? points + static_cast<Eigen::Index>(k) : height;
        const Eigen::VectorXd coupling = chosen.transpose() * Eigen::VectorXd(all.col(column));
        const Eigen::VectorXd along = chosen * Eigen::VectorXd(factor.solve(coupling));
        *size(k) += step;
        const AlongSight sight(state_.camera.data());
        for (Eigen::Index p = 0; p < points; ++p) {
            double* place = &state_.points[static_cast<std::size_t>(3 * p)];
            const double nearer = -step * along[p];
            std::array<double, 3> moved{};
            sight.Plus(place, &nearer, moved.data());
            std::copy(moved.begin(), moved.end(), place);
        }
        double unused = 0.0;
        const InformationFactor there(ofOthers(information(unused)));
        if (there.info() == Eigen::Success) {
            slopes[k] = narrownessShare * (there.logDeterminant() - factor.logDeterminant()) / step;
        }
        setState(state);
    }
    hold(held);
    return slopes;
}

double BodyProblem::plainCost() {
    double sum = cost();
    for (std::size_t k = 0; k < usualSizes_.size(); ++k) {
        const auto square = [&](double mean) {
            return std::pow((*size(k) - mean) / sizeSds_[k], 2);
        };
        sum += square(usualSizes_[k]) - square(sizeMeans_[k]);
    }
    return sum;
}

void BodyProblem::solve(int mostRounds) {
    ceres::Solver::Options options = solverOptions(mostRounds);
    // What the slopes add to the sum says nothing of how near its smallest is.
    options.function_tolerance *= plainCost() / std::max(cost(), tiny);
    solved(options, problem_);
}

std::vector<std::size_t> BodyProblem::termsAround(std::span<const PointRef> points) const {
    std::vector<std::size_t> around;
    for (const PointRef& ref : points) {
        const auto& terms = termsOfPoint_[ref.instant * pointCount + ref.point];
        around.insert(around.end(), terms.begin(), terms.end());
    }
    std::sort(around.begin(), around.end());
    around.erase(std::unique(around.begin(), around.end()), around.end());
    return around;
}

double BodyProblem::costAround(std::span<const PointRef> points) const {
    double sum = 0.0;
    std::vector<double> residuals;
    for (const std::size_t t : termsAround(points)) {
        const Term& term = terms_[t];
        residuals.resize(static_cast<std::size_t>(term.cost->num_residuals()));
        term.cost->Evaluate(term.blocks.data(), residuals.data(), nullptr);
        double square = 0.0;
        for (const double r : residuals) {
            square += r * r;
        }
        if (term.loss != nullptr) {
            std::array<double, 3> robust{};
            term.loss->Evaluate(square, robust.data());
            square = robust[0];
        }
        sum += square;
    }
    return sum;
}

ceres::Problem BodyProblem::heldAround(std::span<const PointRef> points) {
    ceres::Problem::Options shared;
    shared.cost_function_ownership = ceres::DO_NOT_TAKE_OWNERSHIP;
    shared.loss_function_ownership = ceres::DO_NOT_TAKE_OWNERSHIP;
    ceres::Problem part(shared);
    for (const std::size_t t : termsAround(points)) {
        const Term& term = terms_[t];
        part.AddResidualBlock(term.cost, term.loss, term.blocks);
    }
    std::vector<double*> blocks;
    part.GetParameterBlocks(&blocks);
    for (double* block : blocks) {
        part.SetParameterBlockConstant(block);
    }
    return part;
}

double BodyProblem::solveAround(std::span<const PointRef> points, int mostRounds, double mostSum) {
    ceres::Problem part = heldAround(points);
    for (const PointRef& ref : points) {
        double* place = point(ref.instant, ref.point);
        part.SetParameterBlockVariable(place);
        part.SetManifold(place, new AlongSight(state_.camera.data()));
    }
    ceres::Solver::Options options = solverOptions(mostRounds);
    EndsWhenHopeless hopeless(mostSum);
    options.callbacks.push_back(&hopeless);
    return 2.0 * solved(options, part).final_cost; // Ceres halves it
}

void BodyProblem::solveFreelyAround(std::span<const PointRef> points, int mostRounds) {
    ceres::Problem part = heldAround(points);
    for (const PointRef& ref : points) {
        part.SetParameterBlockVariable(point(ref.instant, ref.point));
    }
    solved(solverOptions(mostRounds), part);
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
    options.parameter_blocks.push_back(&state_.azimuth);
    options.parameter_blocks.push_back(state_.lean.data());
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

std::shared_ptr<Estimate> BodyProblem::estimate(double distanceInformation) {
    letMove(Points::free);
    hold(Held::nothing); // the derivatives are those of all parameters
    auto result = std::make_shared<Estimate>();
    double sum = 0.0;
    Eigen::SparseMatrix<double> known = information(sum);
    result->factor.compute(known);
    const auto distance = static_cast<Eigen::Index>(state_.points.size() + partCount);
    if (result->factor.info() == Eigen::Success) {
        const Eigen::VectorXd only = Eigen::VectorXd::Unit(known.cols(), distance);
        const double told = 1.0 / result->factor.solve(only)[distance];
        if (told > distanceInformation) {
            known.coeffRef(distance, distance) -= told - distanceInformation;
            result->factor.compute(known);
        }
    }
    if (result->factor.info() != Eigen::Success) {
        return nullptr;
    }
    result->state = state_;
    result->targetKnown = !rep_.instants.front().usual.empty();
    for (const SeenInstant& instant : rep_.instants) {
        result->times.push_back(instant.time);
    }
    return result;
}

} // namespace kestrel::body
