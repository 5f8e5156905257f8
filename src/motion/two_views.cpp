#include "motion/two_views.h"

#include <Eigen/Dense>

#include <cmath>

namespace kestrel::motion {
namespace {

/// The middle of the shortest way between two lines of sight.
std::optional<Eigen::Vector3d> middleOfSights(const Sight& first, const Sight& second) {
    const Eigen::Vector3d a = first.camera.directionAt(first.px).normalized();
    const Eigen::Vector3d b = second.camera.directionAt(second.px).normalized();
    constexpr double leastSine = 0.087; // 5°
    const double cosine = a.dot(b);
    const double square = 1.0 - cosine * cosine;
    if (square < leastSine * leastSine) {
        return std::nullopt;
    }
    const Eigen::Vector3d between = second.camera.position - first.camera.position;
    const double alongA = (between.dot(a) - between.dot(b) * cosine) / square;
    const double alongB = (between.dot(a) * cosine - between.dot(b)) / square;
    if (alongA <= 0.0 || alongB <= 0.0) {
        return std::nullopt;
    }
    return 0.5 * (first.camera.position + alongA * a + second.camera.position + alongB * b);
}

/// Picture misses over their deviations; nothing where the place is behind a camera.
std::optional<Eigen::Vector4d> residuals(const Eigen::Vector3d& place, const Sight& first,
                                         const Sight& second) {
    const auto one = first.camera.inPicture(place);
    const auto other = second.camera.inPicture(place);
    if (!one || !other) {
        return std::nullopt;
    }
    return Eigen::Vector4d((one->x - first.px.x) / first.sd, (one->y - first.px.y) / first.sd,
                           (other->x - second.px.x) / second.sd,
                           (other->y - second.px.y) / second.sd);
}

} // namespace

std::optional<Eigen::Vector3d> placeSeenTwice(const Sight& first, const Sight& second) {
    auto place = middleOfSights(first, second);
    constexpr int rounds = 3; // the start is a centimetre off, and the picture nearly linear there
    for (int round = 0; place && round < rounds; ++round) {
        const auto miss = residuals(*place, first, second);
        if (!miss) {
            return std::nullopt;
        }
        Eigen::Matrix<double, 4, 3> slope;
        constexpr double step = 1e-4; // metres
        for (int axis = 0; axis < 3; ++axis) {
            Eigen::Vector3d moved = *place;
            moved[axis] += step;
            const auto there = residuals(moved, first, second);
            if (!there) {
                return std::nullopt;
            }
            slope.col(axis) = (*there - *miss) / step;
        }
        *place -= (slope.transpose() * slope).ldlt().solve(slope.transpose() * *miss);
    }
    return place;
}

} // namespace kestrel::motion
