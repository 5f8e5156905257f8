#include "motion/ball_flight.h"

#include "motion/least_squares.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>
#include <vector>

namespace kestrel::motion {
namespace {

/// Longest step of the integration, seconds: at 60 m/s a baseball's path is then right to 0.1 mm.
constexpr double longestStep = 0.01;

Eigen::Vector2d acceleration(const Eigen::Vector2d& velocity, double drag) {
    return Eigen::Vector2d(0.0, -gravity) - drag * velocity.norm() * velocity;
}

BallState advanced(const BallState& from, double drag, double seconds) {
    const auto steps = std::max(1, static_cast<int>(std::ceil(std::abs(seconds) / longestStep)));
    const double h = seconds / steps;
    BallState now = from;
    for (int i = 0; i < steps; ++i) {
        const Eigen::Vector2d k1 = acceleration(now.velocity, drag);
        const Eigen::Vector2d v2 = now.velocity + 0.5 * h * k1;
        const Eigen::Vector2d k2 = acceleration(v2, drag);
        const Eigen::Vector2d v3 = now.velocity + 0.5 * h * k2;
        const Eigen::Vector2d k3 = acceleration(v3, drag);
        const Eigen::Vector2d v4 = now.velocity + h * k3;
        const Eigen::Vector2d k4 = acceleration(v4, drag);
        now.place += h / 6.0 * (now.velocity + 2.0 * v2 + 2.0 * v3 + v4);
        now.velocity += h / 6.0 * (k1 + 2.0 * k2 + 2.0 * k3 + k4);
    }
    return now;
}

/// Sample places minus the flight's, each over its deviation.
Eigen::VectorXd residualsOf(std::span<const BallSample> samples, const BallFlight& flight) {
    Eigen::VectorXd residuals(static_cast<Eigen::Index>(2 * samples.size()));
    BallState state{flight.place, flight.velocity};
    double time = flight.time;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        state = advanced(state, flight.drag, samples[i].time - time);
        time = samples[i].time;
        residuals.segment<2>(static_cast<Eigen::Index>(2 * i)) =
            (samples[i].place - state.place) / samples[i].sd;
    }
    return residuals;
}

/// A straight and level start for the search: the mean velocity without drag.
BallFlight roughly(std::span<const BallSample> samples, double drag, double time) {
    double meanTime = 0.0;
    Eigen::Vector2d mean = Eigen::Vector2d::Zero();
    for (const BallSample& s : samples) {
        meanTime += s.time;
        mean += s.place;
    }
    meanTime /= static_cast<double>(samples.size());
    mean /= static_cast<double>(samples.size());
    double square = 0.0;
    Eigen::Vector2d product = Eigen::Vector2d::Zero();
    for (const BallSample& s : samples) {
        square += (s.time - meanTime) * (s.time - meanTime);
        product += (s.time - meanTime) * (s.place - mean);
    }
    BallFlight flight;
    flight.time = meanTime;
    flight.drag = drag;
    flight.place = mean;
    flight.velocity = product / square;
    const BallState start = after(flight, time - meanTime);
    flight.time = time;
    flight.place = start.place;
    flight.velocity = start.velocity;
    return flight;
}

} // namespace

double dragPerMetre(double massKg, double diameterM, double dragCoefficient) {
    const double area = std::numbers::pi * diameterM * diameterM / 4.0;
    return 0.5 * airDensity * area * dragCoefficient / massKg;
}

std::optional<BallFlight> fitFlight(std::span<const BallSample> samples, double drag, double time) {
    if (samples.size() < fewestFlightSamples) {
        return std::nullopt;
    }
    const auto [first, last] =
        std::minmax_element(samples.begin(), samples.end(),
                            [](const auto& a, const auto& b) { return a.time < b.time; });
    constexpr double shortest = 1e-3; // seconds
    if (last->time - first->time < shortest) {
        return std::nullopt;
    }
    std::vector<BallSample> inOrder(samples.begin(), samples.end());
    std::sort(inOrder.begin(), inOrder.end(),
              [](const auto& a, const auto& b) { return a.time < b.time; });
    LeastSquares<BallFlight> problem;
    problem.residuals = [&](const BallFlight& tried) {
        return std::optional(residualsOf(inOrder, tried));
    };
    problem.changed = [](const BallFlight& tried, const Eigen::VectorXd& change) {
        return changedFlight(tried, Eigen::Vector4d(change));
    };
    constexpr Eigen::Index freedomOfStart = 4;
    problem.freedom = freedomOfStart;
    problem.nudge = 1e-4; // metres and metres a second
    auto found = solved(problem, roughly(inOrder, drag, time));
    BallFlight flight = found->state; // every flight is possible, so there is one
    const Eigen::VectorXd& residuals = found->residuals;
    const auto freedom = static_cast<double>(residuals.size() - freedomOfStart);
    const double variance = residuals.squaredNorm() / freedom;
    flight.scatter = std::sqrt(residuals.squaredNorm() / static_cast<double>(residuals.size()));
    flight.covariance = covarianceFrom(found->jacobian) * std::max(1.0, variance);
    return flight;
}

BallFlight changedFlight(BallFlight flight, const Eigen::Vector4d& change) {
    flight.place += change.head<2>();
    flight.velocity += change.tail<2>();
    return flight;
}

BallState after(const BallFlight& flight, double seconds) {
    return advanced({flight.place, flight.velocity}, flight.drag, seconds);
}

std::optional<double> timeToGo(const BallFlight& flight, double distance) {
    constexpr double longest = 10.0; // seconds
    const double wanted = flight.place.x() + distance;
    BallState state{flight.place, flight.velocity};
    for (double time = 0.0; time < longest; time += longestStep) {
        const BallState next = advanced(state, flight.drag, longestStep);
        if (next.place.x() >= wanted) {
            if (state.place.x() >= wanted) {
                return time;
            }
            // Over so short a step the ball goes straight.
            return time +
                   longestStep * (wanted - state.place.x()) / (next.place.x() - state.place.x());
        }
        state = next;
    }
    return std::nullopt;
}

} // namespace kestrel::motion
