#pragma once

#include "model/landmark.h"

#include <Eigen/Core>

#include <array>
#include <bitset>

/// The synthetic player's bones at one instant. World frame in metres: x towards the target, z up,
/// y so that the frame is right-handed; the ground is z = 0. A right-hander who stands sideways to
/// the target with the throwing or hitting hand behind has the chest to −y.
namespace kestrel::synth {

using Vector = Eigen::Vector3d;

/// All landmarks of one instant in world metres, and the directions that the figure needs besides.
struct Pose {
    static constexpr std::size_t count =
        static_cast<std::size_t>(model::Landmark::implementFarEdge) + 1;

    std::array<Vector, count> points{};
    std::bitset<count> present;     ///< which of them this player has at all
    Vector chest = Vector::UnitX(); ///< where the chest faces
    Vector pelvisFront = Vector::UnitX();
    Vector face = Vector::UnitX();          ///< where the face looks
    Vector implementFace = Vector::UnitX(); ///< where the hitting face looks
    double implementBend = 0.0;             ///< radians from end to end, towards implementFace
    std::array<bool, 2> grips{};            ///< whether the left, right hand holds something

    [[nodiscard]] bool has(model::Landmark landmark) const {
        return present[static_cast<std::size_t>(landmark)];
    }
    [[nodiscard]] const Vector& at(model::Landmark landmark) const {
        return points.at(static_cast<std::size_t>(landmark));
    }
    void set(model::Landmark landmark, const Vector& at) {
        points.at(static_cast<std::size_t>(landmark)) = at;
        present.set(static_cast<std::size_t>(landmark));
    }
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

/// Centre of mass by the segment method with the parameters of de Leva (1996), male: mass in
/// percent of the body, place in percent of the segment's length from its near end.
Vector centreOfMass(const Pose& pose);

} // namespace kestrel::synth
