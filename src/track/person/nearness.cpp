#include "track/person/nearness.h"

#include <cmath>

namespace kestrel::track {
namespace {

using model::Landmark;

/// What a network's depth has to be multiplied with, and how far it is off then, body heights.
struct DepthScale {
    double factor = 0.0;
    double sdBh = 0.0;
};

/// What it says of the three ends of a foot is one word said three times (their errors correlate by
/// 0.94 to 0.99), and of elbow and wrist one said twice (0.94); each counts for a share of it.
constexpr double thriceTold = 1.6;
constexpr double twiceTold = 1.3;

/// The left side's stands for both.
Landmark leftOf(Landmark landmark) {
    return model::sideOf(landmark) == model::Side::right ? model::mirrored(landmark) : landmark;
}

std::optional<DepthScale> depthScale(Landmark landmark) {
    switch (leftOf(landmark)) {
    case Landmark::leftHip:
        return DepthScale{0.40, 0.020};
    case Landmark::leftShoulder:
        return DepthScale{0.35, 0.072};
    case Landmark::leftKnee:
        return DepthScale{0.45, 0.127};
    case Landmark::leftAnkle:
        return DepthScale{0.53, thriceTold * 0.180};
    case Landmark::leftHeel:
        return DepthScale{0.56, thriceTold * 0.200};
    case Landmark::leftToe:
        return DepthScale{0.50, thriceTold * 0.184};
    case Landmark::leftElbow:
        return DepthScale{0.47, twiceTold * 0.186};
    case Landmark::leftWrist:
        return DepthScale{0.40, twiceTold * 0.235};
    default:
        return std::nullopt; // hands and head are not the network's own points
    }
}

/// Of the variance, what stays through the film.
double stayingShare(Landmark landmark) {
    switch (leftOf(landmark)) {
    case Landmark::head:
        return 0.70;
    case Landmark::headTop:
    case Landmark::leftAnkle:
        return 0.45;
    case Landmark::leftToe:
        return 0.50;
    case Landmark::leftKnee:
    case Landmark::leftHeel:
        return 0.35;
    case Landmark::leftWrist:
        return 0.15;
    case Landmark::leftHip:
    case Landmark::leftShoulder:
    case Landmark::leftElbow:
        return 0.10;
    default:
        return 0.05;
    }
}

} // namespace

std::map<Landmark, Nearness> nearness(const FrameEvidence& frame, double bodyPx) {
    std::map<Landmark, Nearness> told;
    const auto left = frame.proposals.find(Landmark::leftHip);
    const auto right = frame.proposals.find(Landmark::rightHip);
    if (left == frame.proposals.end() || right == frame.proposals.end() || bodyPx <= 0.0) {
        return told;
    }
    const double hips = 0.5 * (left->second.depthPx + right->second.depthPx);
    for (const auto& [landmark, proposal] : frame.proposals) {
        if (const auto scale = depthScale(landmark)) {
            told[landmark] = {scale->factor * (hips - proposal.depthPx) / bodyPx, scale->sdBh};
        }
    }
    return told;
}

ErrorShares errorShares(Landmark landmark) {
    ErrorShares shares;
    constexpr double scatter = 0.03; // a smoother has taken the rest of it out
    shares.scatter = scatter;
    shares.staying = stayingShare(landmark);
    shares.fading = 1.0 - shares.scatter - shares.staying;
    return shares;
}

} // namespace kestrel::track
