#include "demo/skeleton.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>

namespace kestrel::demo {

Pose mirrored(const Pose& pose) {
    const auto flip = [](const Vector& v) { return Vector(v.x(), -v.y(), v.z()); };
    Pose result;
    for (const model::Landmark landmark : model::allLandmarks()) {
        result.at(model::mirrored(landmark)) = flip(pose.at(landmark));
    }
    result.chest = flip(pose.chest);
    result.pelvisFront = flip(pose.pelvisFront);
    result.face = flip(pose.face);
    result.ballHeld = pose.ballHeld;
    return result;
}

TwoBones reach(const Vector& root, const Vector& target, double upperLength, double lowerLength,
               const Vector& pole) {
    const Vector span = target - root;
    const double longest = (upperLength + lowerLength) * 0.9999;
    const double shortest = std::abs(upperLength - lowerLength) * 1.0001;
    const double distance = std::clamp(span.norm(), shortest, longest);
    const Vector along = span.normalized();
    // Law of cosines: how far along the line the middle joint's foot lies.
    const double foot =
        (distance * distance + upperLength * upperLength - lowerLength * lowerLength) /
        (2.0 * distance);
    const double height = std::sqrt(std::max(0.0, upperLength * upperLength - foot * foot));
    const Vector bend = (pole - pole.dot(along) * along).normalized();
    return {root + foot * along + height * bend, root + distance * along};
}

} // namespace kestrel::demo
