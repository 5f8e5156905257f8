#include "track/person/body_points.h"

#include "motion/body_segments.h"
#include "track/person/occlusion.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>
#include <vector>

namespace kestrel::track {
namespace {

using model::Landmark;
using pose::PosePoint;

struct Joint {
    Landmark landmark;
    PosePoint point;
    double scatter; ///< from frame to frame, fraction of height per axis
    double lasting; ///< the same way for long, fraction of height per axis
};

// Scatter and lasting error: measured on the synthetic player with the heavy network
// (docs/accuracy.md). Hips lie deep in the flesh and heels and toes are small; knees are sure.
constexpr std::array joints{
    Joint{Landmark::leftShoulder, PosePoint::leftShoulder, 0.014, 0.018},
    Joint{Landmark::rightShoulder, PosePoint::rightShoulder, 0.014, 0.018},
    Joint{Landmark::leftElbow, PosePoint::leftElbow, 0.014, 0.024},
    Joint{Landmark::rightElbow, PosePoint::rightElbow, 0.014, 0.024},
    Joint{Landmark::leftWrist, PosePoint::leftWrist, 0.014, 0.022},
    Joint{Landmark::rightWrist, PosePoint::rightWrist, 0.014, 0.022},
    Joint{Landmark::leftHip, PosePoint::leftHip, 0.014, 0.020},
    Joint{Landmark::rightHip, PosePoint::rightHip, 0.014, 0.020},
    Joint{Landmark::leftKnee, PosePoint::leftKnee, 0.012, 0.011},
    Joint{Landmark::rightKnee, PosePoint::rightKnee, 0.012, 0.011},
    Joint{Landmark::leftAnkle, PosePoint::leftAnkle, 0.012, 0.012},
    Joint{Landmark::rightAnkle, PosePoint::rightAnkle, 0.012, 0.012},
    Joint{Landmark::leftHeel, PosePoint::leftHeel, 0.014, 0.022},
    Joint{Landmark::rightHeel, PosePoint::rightHeel, 0.014, 0.022},
    Joint{Landmark::leftToe, PosePoint::leftFootIndex, 0.014, 0.016},
    Joint{Landmark::rightToe, PosePoint::rightFootIndex, 0.014, 0.016},
};
constexpr double composedScatter = 0.014; ///< of hands and head, made from several points
constexpr double handLasting = 0.024;
constexpr double headLasting = 0.009;
constexpr double headTopLasting = 0.013;

/// From the middle between the ears to the top of the head, fraction of height: tragion to vertex
/// is 7.4 % (Pheasant and Haslegrave 2006, adults; children's heads are larger, see the scatter).
constexpr double earsToTop = 0.074;

/// How many times farther off a point is when its heat map has a lower peak; 1 at the best.
double widening(const pose::SeenPoint& point) {
    constexpr double bestPeak = 0.95;
    constexpr double growth = 3.0; // the error grows e-fold for each third that the peak is lower
    return std::exp(growth * std::max(0.0, bestPeak - point.peak));
}

Proposal proposal(model::Point2 px, double scatter, double lasting, double bodyPx, double wide) {
    return {px, scatter * bodyPx * wide, lasting * bodyPx * wide};
}

model::Point2 middle(const pose::SeenPose& pose, PosePoint a, PosePoint b) {
    return (pose.at(a).px + pose.at(b).px) * 0.5;
}

/// The program's hips are the ends of the hip breadth (0.191 of height, Drillis and Contini 1966);
/// networks mark the joints nearer the middle.
void setHipsApart(Proposals& proposals) {
    constexpr double breadthShare = 1.36; // of the program's hips over the network's, measured
    Proposal& left = proposals[Landmark::leftHip];
    Proposal& right = proposals[Landmark::rightHip];
    const model::Point2 half = (left.px - right.px) * (0.5 * (breadthShare - 1.0));
    left.px = left.px + half;
    right.px = right.px - half;
}

const Joint& jointOf(Landmark landmark) {
    return *std::find_if(joints.begin(), joints.end(),
                         [landmark](const Joint& joint) { return joint.landmark == landmark; });
}

/// Bones that are long enough for their length to tell.
const std::array longBones{
    std::pair{jointOf(Landmark::leftHip), jointOf(Landmark::leftKnee)},
    std::pair{jointOf(Landmark::rightHip), jointOf(Landmark::rightKnee)},
    std::pair{jointOf(Landmark::leftKnee), jointOf(Landmark::leftAnkle)},
    std::pair{jointOf(Landmark::rightKnee), jointOf(Landmark::rightAnkle)},
    std::pair{jointOf(Landmark::leftShoulder), jointOf(Landmark::leftElbow)},
    std::pair{jointOf(Landmark::rightShoulder), jointOf(Landmark::rightElbow)},
};
/// Over many frames nearly the longest look of a bone is its length: mostly it points somewhat at
/// the camera, and in a few frames it is seen too long.
constexpr double longLook = 0.85;

double quantile(std::vector<double> values, double share) {
    const auto at = values.begin() +
                    static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size() - 1));
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

void proposeHand(Proposals& proposals, const pose::SeenPose& pose, Landmark hand, PosePoint index,
                 PosePoint pinky, PosePoint wrist, double bodyPx) {
    const double wide =
        std::max({widening(pose.at(index)), widening(pose.at(pinky)), widening(pose.at(wrist))});
    // The fingers' roots; the middle of the fist lies between them and the wrist.
    proposals[hand] = proposal(middle(pose, index, pinky) * 0.75 + pose.at(wrist).px * 0.25,
                               composedScatter, handLasting, bodyPx, wide);
}

void proposeHead(Proposals& proposals, const pose::SeenPose& pose, double bodyPx) {
    const model::Point2 ears = middle(pose, PosePoint::leftEar, PosePoint::rightEar);
    const double wide =
        std::max(widening(pose.at(PosePoint::leftEar)), widening(pose.at(PosePoint::rightEar)));
    proposals[Landmark::head] = proposal(ears, composedScatter, headLasting, bodyPx, wide);
    // Up is from the mouth to the eyes; where the head is seen from above or below and the two are
    // close, from the shoulders to the ears.
    const model::Point2 face = middle(pose, PosePoint::leftEye, PosePoint::rightEye) -
                               middle(pose, PosePoint::mouthLeft, PosePoint::mouthRight);
    const model::Point2 neck =
        ears - middle(pose, PosePoint::leftShoulder, PosePoint::rightShoulder);
    constexpr double eyesToMouth = 0.038; // of height, as earsToTop
    const double shown = std::clamp(length(face) / (eyesToMouth * bodyPx), 0.0, 1.0);
    const model::Point2 up = face * (shown / std::max(length(face), 1e-9)) +
                             neck * ((1.0 - shown) / std::max(length(neck), 1e-9));
    proposals[Landmark::headTop] =
        proposal(ears + up * (earsToTop * bodyPx), composedScatter, headTopLasting, bodyPx, wide);
}

} // namespace

Proposals proposedLandmarks(const pose::SeenPose& pose, double bodyPx) {
    Proposals proposals;
    const auto occluded = occludedPoints(pose, bodyPx);
    for (const Joint& joint : joints) {
        const pose::SeenPoint& seen = pose.at(joint.point);
        proposals[joint.landmark] =
            proposal(seen.px, joint.scatter, joint.lasting, bodyPx, widening(seen));
        proposals[joint.landmark].depthPx = seen.depthPx;
        proposals[joint.landmark].occluded = occluded[static_cast<std::size_t>(joint.point)];
    }
    setHipsApart(proposals);
    proposeHand(proposals, pose, Landmark::leftHand, PosePoint::leftIndex, PosePoint::leftPinky,
                PosePoint::leftWrist, bodyPx);
    proposeHand(proposals, pose, Landmark::rightHand, PosePoint::rightIndex, PosePoint::rightPinky,
                PosePoint::rightWrist, bodyPx);
    proposals[Landmark::leftHand].occluded = proposals[Landmark::leftWrist].occluded;
    proposals[Landmark::rightHand].occluded = proposals[Landmark::rightWrist].occluded;
    proposeHead(proposals, pose, bodyPx);
    return proposals;
}

double bodyHeightSeen(std::span<const pose::SeenPose> poses) {
    std::vector<double> heights;
    for (const auto& [from, to] : longBones) {
        std::vector<double> seen;
        for (const pose::SeenPose& pose : poses) {
            seen.push_back(length(pose.at(from.point).px - pose.at(to.point).px));
        }
        const double fraction = *motion::segmentFraction(from.landmark, to.landmark);
        heights.push_back(quantile(seen, longLook) / fraction);
    }
    return quantile(heights, 0.5);
}

} // namespace kestrel::track
