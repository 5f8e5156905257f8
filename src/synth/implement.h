#pragma once

#include "synth/skeleton.h"

#include <string_view>

/// Bats, rackets and sticks: their size and where their landmarks are.
namespace kestrel::synth {

enum class ImplementKind { none, bat, racket, paddle, stick };

struct Implement {
    std::string_view name;
    ImplementKind kind = ImplementKind::none;
    double lengthM = 0.0;     ///< butt to tip; of a stick, butt to heel
    double headM = 0.0;       ///< butt to the middle of the face or the sweet spot
    double faceLengthM = 0.0; ///< along the shaft; of a stick, length of the blade
    double faceWidthM = 0.0;
};

/// By the name used in motion files: "bat", "tennis_racket" … "none" for no implement. Throws
/// std::invalid_argument. Lengths scale with a child's: `heightM` under 1.6 m takes a shorter one.
Implement implementFor(std::string_view name, double heightM);

/// Puts the implement's landmarks into `pose`: `butt` is its end, `along` the shaft's direction,
/// `face` where the hitting face looks (made square to the shaft).
void place(Pose& pose, const Implement& implement, const Vector& butt, const Vector& along,
           const Vector& face);

} // namespace kestrel::synth
