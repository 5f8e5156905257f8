#pragma once

#include <Eigen/Core>

#include <functional>
#include <optional>
#include <utility>

namespace kestrel::motion {

/// A sum of squares that is to be smallest over the states that `changed` reaches.
template <class State> struct LeastSquares {
    /// Misses over their deviations; nothing where the state is impossible.
    std::function<std::optional<Eigen::VectorXd>(const State&)> residuals;
    /// The state moved by a change of `freedom` numbers.
    std::function<State(const State&, const Eigen::VectorXd&)> changed;
    Eigen::Index freedom = 0;
    double nudge = 1e-6; ///< of each number, for the derivatives
    int mostRounds = 25;
    double enough = 1e-9; ///< a round that gains less, and less of the sum, is the last
    /// Before each round, with the state it begins from: to weigh the residuals anew.
    std::function<void(const State&)> beforeRound = {};
};

template <class State> struct Solved {
    State state;
    Eigen::VectorXd residuals;
    Eigen::MatrixXd jacobian; ///< of the residuals by the change, where the last round began
};

/// The change that makes the sum of squares smaller where the residuals are linear, the shorter the
/// more it is damped.
Eigen::VectorXd dampedStep(const Eigen::MatrixXd& jacobian, const Eigen::VectorXd& residuals,
                           double damping);

/// How the change scatters where each residual scatters by one.
Eigen::MatrixXd covarianceFrom(const Eigen::MatrixXd& jacobian);

/// Lower triangular root of a covariance: it makes independent errors of one into such as these.
Eigen::MatrixXd spreadFrom(const Eigen::MatrixXd& covariance);

/// The derivatives of the residuals at `state`, by differences; nothing where one cannot be told.
template <class State>
std::optional<Eigen::MatrixXd> jacobianOf(const LeastSquares<State>& problem, const State& state,
                                          const Eigen::VectorXd& residuals) {
    Eigen::MatrixXd jacobian(residuals.size(), problem.freedom);
    for (Eigen::Index i = 0; i < problem.freedom; ++i) {
        const Eigen::VectorXd change = problem.nudge * Eigen::VectorXd::Unit(problem.freedom, i);
        const auto moved = problem.residuals(problem.changed(state, change));
        if (!moved) {
            return std::nullopt;
        }
        jacobian.col(i) = (*moved - residuals) / problem.nudge;
    }
    return jacobian;
}

/// The nearest smallest sum from `start`, by Levenberg (1944) and Marquardt (1963). Nothing where
/// `start`, or what lies next to a state on the way, is impossible.
template <class State>
std::optional<Solved<State>> solved(const LeastSquares<State>& problem, State start) {
    auto residuals = problem.residuals(start);
    if (!residuals) {
        return std::nullopt;
    }
    Solved<State> best{std::move(start), std::move(*residuals), {}};
    double damping = 1e-3;
    for (int round = 0; round < problem.mostRounds; ++round) {
        if (problem.beforeRound) {
            problem.beforeRound(best.state);
            best.residuals = *problem.residuals(best.state);
        }
        auto jacobian = jacobianOf(problem, best.state, best.residuals);
        if (!jacobian) {
            return std::nullopt;
        }
        best.jacobian = std::move(*jacobian);
        const double cost = best.residuals.squaredNorm();
        double gained = 0.0;
        constexpr double mostDamping = 1e9;
        while (gained <= 0.0 && damping < mostDamping) {
            State next =
                problem.changed(best.state, dampedStep(best.jacobian, best.residuals, damping));
            auto there = problem.residuals(next);
            gained = there ? cost - there->squaredNorm() : 0.0;
            constexpr double bolder = 0.2;
            constexpr double moreCareful = 6.0;
            damping *= gained > 0.0 ? bolder : moreCareful;
            if (gained > 0.0) {
                best.state = std::move(next);
                best.residuals = std::move(*there);
            }
        }
        if (gained < problem.enough * (cost + 1.0)) {
            break;
        }
    }
    return best;
}

} // namespace kestrel::motion
