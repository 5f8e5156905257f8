#include "track/person/occlusion.h"

#include <algorithm>
#include <cmath>

namespace kestrel::track {
namespace {

using pose::PosePoint;

/// A part of the body as a thick line between two points. Half breadths are working figures, from
/// how a clothed limb looks.
struct Limb {
    PosePoint from;
    PosePoint to;
    double halfBreadth; ///< share of standing height
};

constexpr std::array limbs{
    Limb{PosePoint::leftShoulder, PosePoint::leftElbow, 0.028},
    Limb{PosePoint::rightShoulder, PosePoint::rightElbow, 0.028},
    Limb{PosePoint::leftElbow, PosePoint::leftWrist, 0.022},
    Limb{PosePoint::rightElbow, PosePoint::rightWrist, 0.022},
    Limb{PosePoint::leftWrist, PosePoint::leftIndex, 0.025},
    Limb{PosePoint::rightWrist, PosePoint::rightIndex, 0.025},
    Limb{PosePoint::leftHip, PosePoint::leftKnee, 0.045},
    Limb{PosePoint::rightHip, PosePoint::rightKnee, 0.045},
    Limb{PosePoint::leftKnee, PosePoint::leftAnkle, 0.030},
    Limb{PosePoint::rightKnee, PosePoint::rightAnkle, 0.030},
    Limb{PosePoint::leftHeel, PosePoint::leftFootIndex, 0.020},
    Limb{PosePoint::rightHeel, PosePoint::rightFootIndex, 0.020},
};
constexpr double trunkHalfBreadth = 0.05;
/// The network's depth has to say so by this much, share of standing height: it is rough.
constexpr double clearlyNearer = 0.15;
/// Of the far shoulder or hip of a trunk that is seen from its side.
constexpr double clearlyFarther = 0.30;

/// A point with its depth, both in source pixels.
struct Place {
    model::Point2 px;
    double depth = 0.0;
};

Place placeOf(const pose::SeenPose& pose, PosePoint point) {
    return {pose.at(point).px, pose.at(point).depthPx};
}

Place between(const Place& a, const Place& b, double share) {
    return {a.px * (1.0 - share) + b.px * share, a.depth * (1.0 - share) + b.depth * share};
}

/// Whether the thick line a–b lies before `point`.
bool isBefore(const Place& a, const Place& b, double halfBreadth, const Place& point,
              double nearer) {
    const model::Point2 way = b.px - a.px;
    const model::Point2 off = point.px - a.px;
    const double square = way.x * way.x + way.y * way.y;
    const double share =
        square > 0.0 ? std::clamp((off.x * way.x + off.y * way.y) / square, 0.0, 1.0) : 0.0;
    const Place closest = between(a, b, share);
    return length(point.px - closest.px) < halfBreadth && point.depth - closest.depth > nearer;
}

/// A limb does not cover the joints that it begins or ends at, nor a foot or shank its ankle and
/// heel.
bool hangTogether(const Limb& limb, PosePoint point) {
    const auto isOne = [&](PosePoint p) { return limb.from == p || limb.to == p; };
    switch (point) {
    case PosePoint::leftAnkle:
    case PosePoint::leftHeel:
    case PosePoint::leftFootIndex:
        return isOne(PosePoint::leftAnkle) || isOne(PosePoint::leftHeel);
    case PosePoint::rightAnkle:
    case PosePoint::rightHeel:
    case PosePoint::rightFootIndex:
        return isOne(PosePoint::rightAnkle) || isOne(PosePoint::rightHeel);
    default:
        return isOne(point);
    }
}

PosePoint otherSide(PosePoint point) {
    switch (point) {
    case PosePoint::leftShoulder:
        return PosePoint::rightShoulder;
    case PosePoint::rightShoulder:
        return PosePoint::leftShoulder;
    case PosePoint::leftHip:
        return PosePoint::rightHip;
    default:
        return PosePoint::leftHip;
    }
}

} // namespace

std::array<bool, pose::posePointCount> occludedPoints(const pose::SeenPose& pose, double bodyPx) {
    const Place neck = between(placeOf(pose, PosePoint::leftShoulder),
                               placeOf(pose, PosePoint::rightShoulder), 0.5);
    const Place hips =
        between(placeOf(pose, PosePoint::leftHip), placeOf(pose, PosePoint::rightHip), 0.5);
    std::array<bool, pose::posePointCount> occluded{};
    for (std::size_t i = 0; i < occluded.size(); ++i) {
        const auto point = static_cast<PosePoint>(i);
        const Place place = placeOf(pose, point);
        const bool ofTrunk = point == PosePoint::leftShoulder ||
                             point == PosePoint::rightShoulder || point == PosePoint::leftHip ||
                             point == PosePoint::rightHip;
        occluded[i] =
            std::any_of(limbs.begin(), limbs.end(),
                        [&](const Limb& limb) {
                            return !hangTogether(limb, point) &&
                                   isBefore(placeOf(pose, limb.from), placeOf(pose, limb.to),
                                            limb.halfBreadth * bodyPx, place,
                                            clearlyNearer * bodyPx);
                        }) ||
            (ofTrunk
                 ? place.depth - pose.at(otherSide(point)).depthPx > clearlyFarther * bodyPx
                 : isBefore(neck, hips, trunkHalfBreadth * bodyPx, place, clearlyNearer * bodyPx));
    }
    return occluded;
}

} // namespace kestrel::track
