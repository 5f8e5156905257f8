#include "synth/skeleton.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>

namespace kestrel::synth {

using model::Landmark;

Pose mirrored(const Pose& pose) {
    const auto flip = [](const Vector& v) { return Vector(v.x(), -v.y(), v.z()); };
    Pose result = pose;
    result.present.reset();
    for (const Landmark landmark : model::allLandmarks()) {
        if (pose.has(landmark)) {
            result.set(model::mirrored(landmark), flip(pose.at(landmark)));
        }
    }
    result.chest = flip(pose.chest);
    result.pelvisFront = flip(pose.pelvisFront);
    result.face = flip(pose.face);
    result.implementFace = flip(pose.implementFace);
    std::swap(result.grips[0], result.grips[1]);
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

Vector centreOfMass(const Pose& pose) {
    Vector sum = Vector::Zero();
    double mass = 0.0;
    const auto add = [&](double percent, const Vector& near, const Vector& far, double place) {
        sum += percent * (near + place / 100.0 * (far - near));
        mass += percent;
    };
    const Vector hips = 0.5 * (pose.at(Landmark::leftHip) + pose.at(Landmark::rightHip));
    const Vector neck = 0.5 * (pose.at(Landmark::leftShoulder) + pose.at(Landmark::rightShoulder));
    add(6.94, pose.at(Landmark::head), pose.at(Landmark::head), 0.0);
    add(43.46, neck, hips, 44.86);
    for (const bool left : {true, false}) {
        const auto at = [&](Landmark leftOne) -> const Vector& {
            return pose.at(left ? leftOne : model::mirrored(leftOne));
        };
        add(2.71, at(Landmark::leftShoulder), at(Landmark::leftElbow), 57.72);
        add(1.62, at(Landmark::leftElbow), at(Landmark::leftWrist), 45.74);
        add(0.61, at(Landmark::leftHand), at(Landmark::leftHand), 0.0);
        add(14.16, at(Landmark::leftHip), at(Landmark::leftKnee), 40.95);
        add(4.33, at(Landmark::leftKnee), at(Landmark::leftAnkle), 44.59);
        add(1.37, at(Landmark::leftHeel), at(Landmark::leftToe), 44.15);
    }
    return sum / mass;
}

} // namespace kestrel::synth
