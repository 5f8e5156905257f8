#include "motion/heading.h"

#include "motion/normal_quadrature.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <numbers>

namespace kestrel::motion {
namespace {

using model::Landmark;

/// A line that is steeper than this has no heading to speak of: share of its length that is level.
constexpr double leastLevel = 0.3;

/// Mean and spread of `angle` over what the errors of the line's ratio allow.
Heading over(const SeenLine& line, Branch branch, const std::function<double(double)>& angle,
             const std::function<double(double)>& mirror) {
    const double steep =
        std::min(std::abs(line.rise) / line.fullPx, std::sqrt(1.0 - leastLevel * leastLevel));
    const double level = line.fullPx * std::sqrt(1.0 - steep * steep);
    const double ratio = line.along / level;
    // Of the extent, of the breadth, and of the rise by how much it shortens the level length.
    const double sd =
        std::sqrt(std::pow(line.sd / level, 2) + std::pow(ratio * line.fullRelativeSd, 2) +
                  std::pow(ratio * line.rise * line.sd / (level * level), 2));
    double mean = 0.0;
    double square = 0.0;
    const auto add = [&](double value, double weight) {
        mean += weight * value;
        square += weight * value * value;
    };
    for (const QuadratureNode& node : ninePointRule) {
        const double a = angle(std::clamp(ratio + sd * node.at, -1.0, 1.0));
        switch (branch) {
        case Branch::first:
            add(a, node.weight);
            break;
        case Branch::second:
            add(mirror(a), node.weight);
            break;
        case Branch::unknown:
            add(a, 0.5 * node.weight);
            add(mirror(a), 0.5 * node.weight);
            break;
        }
    }
    return {model::degreesFromRadians(mean),
            model::degreesFromRadians(std::sqrt(std::max(0.0, square - mean * mean)))};
}

} // namespace

std::optional<double> breadthFraction(Landmark a, Landmark b) {
    const auto is = [&](Landmark x, Landmark y) {
        return (a == x && b == y) || (a == y && b == x);
    };
    if (is(Landmark::leftHip, Landmark::rightHip)) {
        return 0.191;
    }
    if (is(Landmark::leftShoulder, Landmark::rightShoulder)) {
        return 0.259;
    }
    return std::nullopt;
}

Heading headingFromCosine(const SeenLine& line, Branch branch) {
    return over(
        line, branch, [](double ratio) { return std::acos(ratio); },
        [](double angle) { return -angle; });
}

Heading headingFromSine(const SeenLine& line, Branch branch) {
    return over(
        line, branch, [](double ratio) { return std::asin(ratio); },
        [](double angle) { return std::numbers::pi - angle; });
}

} // namespace kestrel::motion
