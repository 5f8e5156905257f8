#pragma once

#include "model/landmark.h"

#include <Eigen/Core>

#include <array>

/// The synthetic player's bones. World frame in metres: x towards the target, z up, y so that the
/// frame is right-handed; the origin lies on the ground at the pivot foot. A right-hander's chest
/// faces −y at set-up.
namespace kestrel::demo {

using Vector = Eigen::Vector3d;

/// Segment lengths as fractions of standing height: Drillis and Contini (1966), as tabled in
/// Winter, Biomechanics and Motor Control of Human Movement (2009), figure 4.1.
struct Proportions {
    double ankleHeight = 0.039;
    double shank = 0.246;
    double thigh = 0.245;
    double trunk = 0.288; ///< hip to shoulder height
    double halfShoulders = 0.1295;
    double halfHips = 0.0955;
    double upperArm = 0.186;
    double forearm = 0.146;
    double hand = 0.054;           ///< wrist to knuckles, half the hand
    double shoulderToHead = 0.118; ///< shoulder height to the middle of the head
    double headToTop = 0.064;
    double heelBehindAnkle = 0.040;
    double toeAheadOfAnkle = 0.112;
};

/// All landmarks of one instant in world metres, indexed by model::Landmark, and the directions
/// that the figure needs besides.
struct Pose {
    std::array<Vector, 21> points;
    Vector chest = Vector::UnitX(); ///< where the chest faces
    Vector pelvisFront = Vector::UnitX();
    Vector face = Vector::UnitX(); ///< where the face looks
    bool ballHeld = true;

    [[nodiscard]] const Vector& at(model::Landmark landmark) const {
        return points.at(static_cast<std::size_t>(landmark));
    }
    Vector& at(model::Landmark landmark) { return points.at(static_cast<std::size_t>(landmark)); }
};

/// Mirror image in the x–z plane with body sides exchanged: a left-hander from a right-hander.
Pose mirrored(const Pose& pose);

/// The knee (or elbow) between two joints `upper` and `lower` apart by two bones, bent towards
/// `pole`. When the bones do not reach, the far joint is drawn in along the line.
struct TwoBones {
    Vector middle;
    Vector end;
};
TwoBones reach(const Vector& root, const Vector& target, double upperLength, double lowerLength,
               const Vector& pole);

} // namespace kestrel::demo
