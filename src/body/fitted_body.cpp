#include "body/fitted_body.h"

#include "body/estimate.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

namespace kestrel::body {
namespace {

/// Rows: right, away from the camera and up, all level, in the camera's axes.
Eigen::Matrix3d levelAxes(const double* gravity) {
    const Eigen::Vector3d up = upward(gravity);
    const Eigen::Vector3d right = (Eigen::Vector3d::UnitX() - up.x() * up).normalized();
    Eigen::Matrix3d rows;
    rows.row(0) = right;
    rows.row(1) = up.cross(right);
    rows.row(2) = up;
    return rows;
}

/// The difference of two values of a quantity, the short way round.
double difference(double a, double b, double period) {
    const double d = a - b;
    return period > 0.0 ? std::remainder(d, period) : d;
}

/// The alternatives that have a say on these places, by limb.
std::vector<std::vector<const Alternative*>> choices(const Estimate& estimate,
                                                     std::span<const PlaceRef> places) {
    std::map<std::size_t, std::vector<const Alternative*>> byLimb;
    for (const Alternative& other : estimate.alternatives) {
        const bool counts = std::any_of(places.begin(), places.end(), [&](const PlaceRef& ref) {
            return other.place(ref.instant, indexOf(ref.landmark)).has_value();
        });
        if (counts) {
            byLimb[other.limb].push_back(&other);
        }
    }
    std::vector<std::vector<const Alternative*>> all;
    for (auto& [limb, others] : byLimb) {
        all.push_back(std::move(others));
    }
    return all;
}

/// One of them by its odds, or null for the state itself.
const Alternative* drawn(const std::vector<const Alternative*>& others, std::mt19937& random) {
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

} // namespace

FittedBody::FittedBody(std::shared_ptr<const Estimate> estimate) : estimate_(std::move(estimate)) {}

std::span<const model::Seconds> FittedBody::times() const {
    return estimate_->times;
}

std::size_t FittedBody::instantAt(model::Seconds time) const {
    const auto& times = estimate_->times;
    const auto after = std::lower_bound(times.begin(), times.end(), time);
    if (after == times.begin()) {
        return 0;
    }
    if (after == times.end() || time - *(after - 1) < *after - time) {
        return static_cast<std::size_t>(after - times.begin()) - 1;
    }
    return static_cast<std::size_t>(after - times.begin());
}

Eigen::Vector3d FittedBody::place(PlaceRef ref) const {
    return std::exp(-estimate_->state.logHeight) * levelAxes(estimate_->state.gravity.data()) *
           at(estimate_->state.point(ref.instant, indexOf(ref.landmark)));
}

double FittedBody::length(Part part) const {
    return std::exp(estimate_->state.logLengths[static_cast<std::size_t>(part)]);
}

double FittedBody::distanceBh() const {
    return std::exp(estimate_->state.camera[0] - estimate_->state.logHeight);
}

SpaceValue FittedBody::value(std::span<const PlaceRef> places,
                             const std::function<double(std::span<const Eigen::Vector3d>)>& of,
                             double period) const {
    const State& state = estimate_->state;
    const auto points = static_cast<Eigen::Index>(places.size());
    // The numbers that the quantity depends on: three a place, gravity, the standing height.
    const Eigen::Index size = 3 * points + gravitySize + 1;
    std::vector<Eigen::Index> rows;
    Eigen::VectorXd mean(size);
    for (const PlaceRef& ref : places) {
        const std::size_t index = indexOf(ref.landmark);
        for (Eigen::Index i = 0; i < 3; ++i) {
            mean[static_cast<Eigen::Index>(rows.size())] = state.point(ref.instant, index)[i];
            rows.push_back(state.indexOfPoint(ref.instant, index) + i);
        }
    }
    for (Eigen::Index i = 0; i < gravitySize; ++i) {
        mean[static_cast<Eigen::Index>(rows.size())] = state.gravity[static_cast<std::size_t>(i)];
        rows.push_back(state.indexOfGravity() + i);
    }
    mean[size - 1] = state.logHeight;
    rows.push_back(state.indexOfHeight());
    Eigen::MatrixXd units = Eigen::MatrixXd::Zero(state.size(), size);
    for (Eigen::Index i = 0; i < size; ++i) {
        units(rows[static_cast<std::size_t>(i)], i) = 1.0;
    }
    Eigen::MatrixXd columns;
    {
        const std::scoped_lock lock(estimate_->solving);
        columns = estimate_->factor.solve(units);
    }
    Eigen::MatrixXd covariance(size, size);
    for (Eigen::Index i = 0; i < size; ++i) {
        covariance.row(i) = columns.row(rows[static_cast<std::size_t>(i)]);
    }
    covariance = 0.5 * (covariance + covariance.transpose()).eval();
    const Eigen::MatrixXd spread = covariance.llt().matrixL();

    std::vector<Eigen::Vector3d> level(places.size());
    const auto valueAt = [&](const Eigen::VectorXd& x) {
        const Eigen::Matrix3d axes = levelAxes(x.data() + 3 * points);
        for (Eigen::Index i = 0; i < points; ++i) {
            level[static_cast<std::size_t>(i)] =
                std::exp(-x[size - 1]) * axes * x.segment<3>(3 * i);
        }
        return of(level);
    };
    const std::vector<std::vector<const Alternative*>> others = choices(*estimate_, places);
    const auto otherwise = [&](std::mt19937& random) {
        Eigen::VectorXd x = mean;
        for (const std::vector<const Alternative*>& ofLimb : others) {
            const Alternative* other = drawn(ofLimb, random);
            for (Eigen::Index i = 0; other != nullptr && i < points; ++i) {
                const PlaceRef& ref = places[static_cast<std::size_t>(i)];
                if (const auto place = other->place(ref.instant, indexOf(ref.landmark))) {
                    x.segment<3>(3 * i) = *place;
                }
            }
        }
        return x;
    };
    SpaceValue result{valueAt(mean), 0.0};
    constexpr int draws = 200;
    std::mt19937 random(1);
    std::normal_distribution<double> normal;
    double square = 0.0;
    for (int draw = 0; draw < draws; ++draw) {
        Eigen::VectorXd error(size);
        for (double& e : error) {
            e = normal(random);
        }
        const double miss =
            difference(valueAt(otherwise(random) + spread * error), result.value, period);
        square += miss * miss / draws;
    }
    result.sd = std::sqrt(square);
    return result;
}

} // namespace kestrel::body
