#include "synth/implement.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <array>
#include <stdexcept>
#include <string>

namespace kestrel::synth {
namespace {

// Grown-up sizes, usual in the shops and inside the rules of each game: bat 33 in, sweet spot 6.5
// in from the end; tennis racket 27 in with a face of 13 × 10 in; squash 27 in with 12 × 7.3 in;
// table tennis 26 cm with a face of 15.7 × 15 cm; stick 150 cm to the heel, blade 31 cm.
constexpr std::array implements{
    Implement{"none"},
    Implement{"bat", ImplementKind::bat, 0.84, 0.675, 0.0, 0.066},
    Implement{"tennis_racket", ImplementKind::racket, 0.685, 0.515, 0.33, 0.255},
    Implement{"squash_racket", ImplementKind::racket, 0.685, 0.535, 0.30, 0.185},
    Implement{"table_tennis_bat", ImplementKind::paddle, 0.26, 0.18, 0.157, 0.15},
    Implement{"ice_hockey_stick", ImplementKind::stick, 1.50, 0.0, 0.31, 0.06}};

} // namespace

Implement implementFor(std::string_view name, double heightM) {
    const auto* found = std::find_if(implements.begin(), implements.end(),
                                     [name](const Implement& i) { return i.name == name; });
    if (found == implements.end()) {
        throw std::invalid_argument("no implement is called " + std::string(name));
    }
    Implement implement = *found;
    constexpr double grownUp = 1.6;
    const double size = std::min(1.0, heightM / grownUp);
    if (implement.kind != ImplementKind::paddle) {
        implement.lengthM *= size;
        implement.headM *= size;
    }
    return implement;
}

void place(Pose& pose, const Implement& implement, const Vector& butt, const Vector& along,
           const Vector& face) {
    using model::Landmark;
    if (implement.kind == ImplementKind::none) {
        return;
    }
    const Vector shaft = along.normalized();
    const Vector looks = (face - face.dot(shaft) * shaft).normalized();
    pose.implementFace = looks;
    pose.set(Landmark::implementButt, butt);
    if (implement.kind == ImplementKind::stick) {
        // The blade leaves the heel across the shaft: its middle is the head, its toe the tip.
        const Vector blade = shaft.cross(looks).normalized();
        const Vector level(blade.x(), blade.y(), 0.0);
        const Vector onIce = level.norm() > 0.2 ? level.normalized() : blade;
        const Vector heel = butt + implement.lengthM * shaft;
        pose.set(Landmark::implementHead, heel + 0.5 * implement.faceLengthM * onIce);
        pose.set(Landmark::implementTip, heel + implement.faceLengthM * onIce);
        return;
    }
    pose.set(Landmark::implementHead, butt + implement.headM * shaft);
    pose.set(Landmark::implementTip, butt + implement.lengthM * shaft);
    if (implement.faceWidthM > 0.0 && implement.kind != ImplementKind::bat) {
        const Vector across = shaft.cross(looks);
        const Vector& head = pose.at(Landmark::implementHead);
        pose.set(Landmark::implementFaceEdge, head - 0.5 * implement.faceWidthM * across);
        pose.set(Landmark::implementFarEdge, head + 0.5 * implement.faceWidthM * across);
    }
}

} // namespace kestrel::synth
