#include "motion/out_of_plane.h"

#include "motion/normal_quadrature.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kestrel::motion {
namespace {

using model::Degrees;

} // namespace

Degrees jointAngleRms(Degrees seen, Degrees first, Degrees second) {
    const double cosSeen = std::cos(toRadians(seen));
    double sum = 0.0;
    for (const QuadratureNode& one : fivePointRule) {
        for (const QuadratureNode& other : fivePointRule) {
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
    for (const QuadratureNode& node : fivePointRule) {
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
    for (const QuadratureNode& node : fivePointRule) {
        const double shortening = 1.0 - std::cos(toRadians(sd * node.at));
        sum += node.weight * shortening * shortening;
    }
    return std::sqrt(sum);
}

} // namespace kestrel::motion
