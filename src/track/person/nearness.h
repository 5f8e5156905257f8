#pragma once

#include "track/person/evidence.h"

#include <map>

/// What the network's points are worth to somebody who looks for the body in space.
namespace kestrel::track {

/// How much nearer to the camera than the middle of the hips a landmark is, body heights.
struct Nearness {
    double bh = 0.0;
    double sdBh = 0.0;
};

/// The network's word on depth, brought to scale. It tells the joints of the body at several times
/// their true depth, each in its own way, and well only for hips, shoulders and legs: scale and
/// deviation of each joint were measured on films of the synthetic player (docs/body.md). Joints of
/// which it says nothing are left out; so are all without the hips.
std::map<model::Landmark, Nearness> nearness(const FrameEvidence& frame, double bodyPx);

/// The error of that word is as if it stayed alike for so long: from one key position to another
/// two to five tenths of its variance are the same.
inline constexpr model::Seconds nearnessErrorLasts{1.0};

/// Of the variance of a landmark that a machine followed (fuse.h), how much differs from frame to
/// frame, how much fades within some tenths of a second, and how much stays through the film. They
/// sum to 1. Measured on films of the synthetic player (docs/body.md).
struct ErrorShares {
    double scatter = 0.0;
    double fading = 0.0;
    double staying = 0.0;
};
ErrorShares errorShares(model::Landmark landmark);

} // namespace kestrel::track
