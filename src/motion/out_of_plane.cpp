#include "motion/out_of_plane.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kestrel::motion {
namespace {

using model::Degrees;

/// Five-point Gauss–Hermite rule for a standard normal variable (Abramowitz & Stegun 1964,
/// table 25.10, rescaled): nodes in standard deviations and weights that sum to 1.
struct Node {
    double at;
    double weight;
};
constexpr std::array<Node, 5> normalNodes{{{-2.856970, 0.0112574},
                                           {-1.355626, 0.2220759},
                                           {0.0, 0.5333333},
                                           {1.355626, 0.2220759},
                                           {2.856970, 0.0112574}}};

} // namespace

Degrees jointAngleRms(Degrees seen, Degrees first, Degrees second) {
    const double cosSeen = std::cos(toRadians(seen));
    double sum = 0.0;
    for (const Node& one : normalNodes) {
        for (const Node& other : normalNodes) {
            const double a = toRadians(first * one.at);
            const double b = toRadians(second * other.at);
            const double cosine = std::cos(a) * std::cos(b) * cosSeen + std::sin(a) * std::sin(b);
            const Degrees real =
                model::degreesFromRadians(std::acos(std::clamp(cosine, -1.0, 1.0)));
            const double error = (real - seen).value;
            sum += one.weight * other.weight * error * error;
        }
    }
    return Degrees(std::sqrt(sum));
}

Degrees elevationRms(Degrees seen, Degrees sd) {
    double sum = 0.0;
    for (const Node& node : normalNodes) {
        const double sine = std::sin(toRadians(seen)) * std::cos(toRadians(sd * node.at));
        const double error = (model::degreesFromRadians(std::asin(sine)) - seen).value;
        sum += node.weight * error * error;
    }
    // The shortening only ever lowers what is seen; a camera that looks a little down or aside
    // moves it both ways.
    const double parallax = leanRms(sd).value;
    return Degrees(std::hypot(std::sqrt(sum), parallax));
}

Degrees leanRms(Degrees sd) {
    return model::degreesFromRadians(
        std::atan(std::tan(toRadians(sd)) * std::tan(toRadians(offSquareSd))));
}

double offsetRms(double depthSd) {
    return depthSd * std::tan(toRadians(offSquareSd));
}

double distanceRelativeRms(Degrees sd) {
    double sum = 0.0;
    for (const Node& node : normalNodes) {
        const double shortening = 1.0 - std::cos(toRadians(sd * node.at));
        sum += node.weight * shortening * shortening;
    }
    return std::sqrt(sum);
}

} // namespace kestrel::motion
