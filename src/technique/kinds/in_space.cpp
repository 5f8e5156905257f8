#include "technique/kinds/in_space.h"

#include "model/units.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>

namespace kestrel::technique {
namespace {

using Eigen::Vector3d;

constexpr double wholeTurn = 360.0;

double degrees(double radians) {
    return model::degreesFromRadians(radians).value;
}

double angleOf(const Vector3d& a, const Vector3d& b) {
    return degrees(std::atan2(a.cross(b).norm(), a.dot(b)));
}

double headingOf(const Vector3d& trail, const Vector3d& lead, int leading) {
    const Vector3d way = lead - trail;
    return degrees(std::atan2(leading * way.y(), way.x()));
}

double leanOf(const Vector3d& way, const SpaceInput& input) {
    return degrees(std::atan2(input.along(way), way.z()));
}

} // namespace

double interiorAngleInSpace(const SpaceInput& input) {
    const auto p = input.places;
    return angleOf(p[0] - p[1], p[2] - p[1]);
}

double flexionInSpace(const SpaceInput& input) {
    constexpr double straight = 180.0;
    return straight - interiorAngleInSpace(input);
}

double angleBetweenInSpace(const SpaceInput& input) {
    const auto p = input.places;
    return angleOf(p[1] - p[0], p[3] - p[2]);
}

double elevationInSpace(const SpaceInput& input) {
    const Vector3d way = input.places[1] - input.places[0];
    return degrees(std::atan2(way.z(), std::hypot(way.x(), way.y())));
}

double leanInSpace(const SpaceInput& input) {
    return leanOf(input.places[1] - input.places[0], input);
}

double layBackInSpace(const SpaceInput& input) {
    const auto p = input.places;
    constexpr double along = 90.0;
    return along +
           std::remainder(leanOf(p[3] - p[2], input) - leanOf(p[1] - p[0], input), wholeTurn);
}

double distanceInSpace(const SpaceInput& input) {
    return (input.places[1] - input.places[0]).norm() / input.bodyHeight;
}

double ratioInSpace(const SpaceInput& input) {
    const auto p = input.places;
    return (p[1] - p[0]).norm() / (p[3] - p[2]).norm();
}

double offsetInSpace(const SpaceInput& input) {
    return input.along(input.places[1] - input.places[0]) / input.bodyHeight;
}

double balanceInSpace(const SpaceInput& input) {
    const auto p = input.places;
    constexpr double perHundred = 100.0;
    const Eigen::Vector2d base = (p[1] - p[0]).head<2>();
    return perHundred * (p[2] - p[0]).head<2>().dot(base) / base.squaredNorm();
}

double heightAboveInSpace(const SpaceInput& input) {
    return (input.places[1] - input.places[0]).z() / input.bodyHeight;
}

double alignmentInSpace(const SpaceInput& input) {
    double middle = 0.0;
    for (const Vector3d& place : input.places) {
        middle += input.along(place) / static_cast<double>(input.places.size());
    }
    double farthest = 0.0;
    for (const Vector3d& place : input.places) {
        farthest = std::max(farthest, std::abs(input.along(place) - middle));
    }
    return farthest / input.bodyHeight;
}

double headingInSpace(const SpaceInput& input) {
    return headingOf(input.places[0], input.places[1], input.leading);
}

double separationInSpace(const SpaceInput& input) {
    const auto p = input.places;
    return std::remainder(
        headingOf(p[0], p[1], input.leading) - headingOf(p[2], p[3], input.leading), wholeTurn);
}

} // namespace kestrel::technique
