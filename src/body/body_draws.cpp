#include "body/body_draws.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <map>
#include <memory>
#include <new>
#include <numbers>
#include <random>

namespace kestrel::body {
namespace {

/// Some players do all of a technique turned to the target otherwise than it is usually done:
/// radians, the standard deviation among synthetic players of their own manner.
constexpr double wholeBodyTurnedSd = 0.1;

/// A standard deviation over so many is right to 6 %.
constexpr Eigen::Index drawCount = 128;

/// The estimate's other answers, by limb.
std::vector<std::vector<const Alternative*>> choices(const Estimate& estimate) {
    std::map<std::size_t, std::vector<const Alternative*>> byLimb;
    for (const Alternative& other : estimate.alternatives) {
        byLimb[other.limb].push_back(&other);
    }
    std::vector<std::vector<const Alternative*>> all;
    all.reserve(byLimb.size());
    for (auto& [limb, others] : byLimb) {
        all.push_back(std::move(others));
    }
    return all;
}

/// One of them by its odds, or null for the state itself.
const Alternative* drawnOf(const std::vector<const Alternative*>& others, std::mt19937& random) {
    double all = 1.0;
    for (const Alternative* other : others) {
        all += other->odds;
    }
    double at = std::uniform_real_distribution<double>(0.0, all)(random) - 1.0;
    for (const Alternative* other : others) {
        if (at < 0.0) {
            break;
        }
        if (at < other->odds) {
            return other;
        }
        at -= other->odds;
    }
    return nullptr;
}

/// Errors of all parameters as the information matrix has them, one draw a column: for A = PᵀLLᵀP
/// and normal z, PᵀL⁻ᵀz has the covariance A⁻¹.
Eigen::MatrixXd errorDraws(Estimate& estimate, std::mt19937& random) {
    std::normal_distribution<double> normal;
    Eigen::MatrixXd z(estimate.state.size(), drawCount);
    for (Eigen::Index draw = 0; draw < drawCount; ++draw) {
        for (double& number : z.col(draw)) {
            number = normal(random);
        }
    }
    return estimate.factor.transposedHalfSolve(z);
}

/// The state moved by a draw's error, each limb in one of its answers.
State moved(const Estimate& estimate, const std::vector<std::vector<const Alternative*>>& others,
            const Eigen::VectorXd& error, std::mt19937& random) {
    State state = estimate.state;
    for (const auto& ofLimb : others) {
        const Alternative* other = drawnOf(ofLimb, random);
        if (other == nullptr) {
            continue;
        }
        for (std::size_t instant = other->first; instant <= other->last; ++instant) {
            for (const std::size_t point : other->points) {
                Eigen::Map<Eigen::Vector3d>(state.point(instant, point)) =
                    *other->place(instant, point);
            }
        }
    }
    for (std::size_t i = 0; i < state.points.size(); ++i) {
        state.points[i] += error[static_cast<Eigen::Index>(i)];
    }
    for (std::size_t i = 0; i < gravitySize; ++i) {
        state.gravity[i] += error[state.indexOfGravity() + static_cast<Eigen::Index>(i)];
    }
    state.logHeight += error[state.indexOfHeight()];
    return state;
}

std::int16_t inSteps(double miss) {
    constexpr double most = std::numeric_limits<std::int16_t>::max();
    return static_cast<std::int16_t>(std::lround(std::clamp(miss / drawStep, -most, most)));
}

struct FreeDense {
    cholmod_common* common;
    void operator()(cholmod_dense* dense) const { cholmod_free_dense(&dense, common); }
};

/// One of the places where the search ended, by its odds, or null for the state itself.
const OtherEnd* endDrawnOf(const std::vector<OtherEnd>& ends, std::mt19937& random) {
    double all = 1.0;
    for (const OtherEnd& end : ends) {
        all += end.odds;
    }
    double at = std::uniform_real_distribution<double>(0.0, all)(random) - 1.0;
    for (const OtherEnd& end : ends) {
        if (at < 0.0) {
            break;
        }
        if (at < end.odds) {
            return &end;
        }
        at -= end.odds;
    }
    return nullptr;
}

} // namespace

std::vector<double> inLevelAxes(const State& state) {
    const Eigen::Matrix3d axes = std::exp(-state.logHeight) * levelAxes(state.gravity.data());
    std::vector<double> level(state.points.size());
    for (std::size_t i = 0; i < level.size(); i += 3) {
        Eigen::Map<Eigen::Vector3d>(level.data() + i) =
            axes * Eigen::Map<const Eigen::Vector3d>(state.points.data() + i);
    }
    return level;
}

Eigen::MatrixXd InformationFactor::transposedHalfSolve(Eigen::MatrixXd b) {
    cholmod_dense view = Eigen::viewAsCholmod(b);
    const FreeDense freeing{&cholmod()};
    using Dense = std::unique_ptr<cholmod_dense, FreeDense>;
    const Dense half(cholmod_solve(CHOLMOD_Lt, m_cholmodFactor, &view, &cholmod()), freeing);
    const Dense whole(half ? cholmod_solve(CHOLMOD_Pt, m_cholmodFactor, half.get(), &cholmod())
                           : nullptr,
                      freeing);
    if (!whole) {
        throw std::bad_alloc();
    }
    return Eigen::Map<const Eigen::MatrixXd>(static_cast<const double*>(whole->x), b.rows(),
                                             b.cols());
}

FittedParts drawnFrom(Estimate& estimate, double widening) {
    const State& state = estimate.state;
    FittedParts parts;
    parts.times = estimate.times;
    const std::vector<double> places = inLevelAxes(state);
    parts.places.assign(places.begin(), places.end());
    std::transform(state.logLengths.begin(), state.logLengths.end(), parts.lengths.begin(),
                   [](double log) { return std::exp(log); });
    parts.distanceBh = std::exp(state.camera[0] - state.logHeight);
    parts.groundBh = state.ground * std::exp(-state.logHeight);
    std::mt19937 random(1); // the same draws each time
    const Eigen::MatrixXd errors = errorDraws(estimate, random);
    if (estimate.targetKnown) {
        const auto row = errors.row(state.indexOfAzimuth());
        const double fitted = widening * row.norm() / std::sqrt(static_cast<double>(row.size()));
        parts.target = {std::remainder(state.azimuth, 2.0 * std::numbers::pi),
                        std::hypot(fitted, wholeBodyTurnedSd)};
    }
    const auto others = choices(estimate);
    for (Eigen::Index draw = 0; draw < errors.cols(); ++draw) {
        std::vector<double> other = inLevelAxes(moved(estimate, others, errors.col(draw), random));
        if (const OtherEnd* end = endDrawnOf(estimate.otherEnds, random)) {
            std::transform(other.begin(), other.end(), end->beside.begin(), other.begin(),
                           std::plus<>());
        }
        std::vector<std::int16_t>& steps = parts.draws.emplace_back(other.size());
        for (std::size_t i = 0; i < other.size(); ++i) {
            steps[i] = inSteps(widening * (other[i] - parts.places[i]));
        }
    }
    return parts;
}

} // namespace kestrel::body
