#pragma once

#include "model/landmark.h"
#include "pose/pose_network.h"

#include <map>
#include <span>

/// From the points of a pose network to the program's landmarks.
namespace kestrel::track {

/// Where a network saw a landmark, and how far off it may be.
struct Proposal {
    model::Point2 px;
    double scatterPx = 0.0; ///< error that differs from frame to frame, standard deviation per axis
    double lastingPx = 0.0; ///< error that stays alike for a while, standard deviation per axis
    double depthPx = 0.0;   ///< see pose::SeenPoint
    bool occluded = false;  ///< something seems to be before it (track/person/occlusion.h)

    friend bool operator==(const Proposal&, const Proposal&) = default;
};

using Proposals = std::map<model::Landmark, Proposal>;

/// The landmarks a pose says something about: joints, heels and toes as the network has them, hands
/// between wrist and fingers, head between the ears, top of the head above them. `bodyPx` is the
/// player's standing height in source pixels. How far each may be off was measured on the synthetic
/// player (docs/accuracy.md); it grows where the network's heat map has no clear peak.
Proposals proposedLandmarks(const pose::SeenPose& pose, double bodyPx);

/// Standing height in source pixels that poses of one person speak for (one or more): thighs,
/// shanks and upper arms against their share of height, each as long as it is nearly at its
/// longest, and of them the middle one. From a single pose too small rather than too large, since
/// bones that point at the camera look short.
double bodyHeightSeen(std::span<const pose::SeenPose> poses);

} // namespace kestrel::track
