#include "track/person/body_mask.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <span>

namespace kestrel::track {
namespace {

using model::Landmark;

/// A part of the body, as thick as that share of the player's height.
struct Bone {
    Landmark from;
    Landmark to;
    double thickness = 0.0;
};

// Clothed; working figures.
constexpr double armThick = 0.055;
constexpr double trunkThick = 0.14;
constexpr std::array arms{Bone{Landmark::leftShoulder, Landmark::leftElbow, armThick},
                          Bone{Landmark::leftElbow, Landmark::leftWrist, armThick},
                          Bone{Landmark::rightShoulder, Landmark::rightElbow, armThick},
                          Bone{Landmark::rightElbow, Landmark::rightWrist, armThick}};
constexpr std::array rest{Bone{Landmark::leftShoulder, Landmark::rightShoulder, 0.12},
                          Bone{Landmark::leftShoulder, Landmark::leftHip, trunkThick},
                          Bone{Landmark::rightShoulder, Landmark::rightHip, trunkThick},
                          Bone{Landmark::leftShoulder, Landmark::rightHip, trunkThick},
                          Bone{Landmark::leftHip, Landmark::rightHip, trunkThick},
                          Bone{Landmark::leftHip, Landmark::leftKnee, 0.13},
                          Bone{Landmark::rightHip, Landmark::rightKnee, 0.13},
                          Bone{Landmark::leftKnee, Landmark::leftAnkle, 0.10},
                          Bone{Landmark::rightKnee, Landmark::rightAnkle, 0.10},
                          Bone{Landmark::leftHeel, Landmark::leftToe, 0.08},
                          Bone{Landmark::rightHeel, Landmark::rightToe, 0.08},
                          Bone{Landmark::head, Landmark::headTop, 0.15}};
// Also about where a fast hand is thought to be.
constexpr double handThick = 0.14;
constexpr std::array hands{Bone{Landmark::leftWrist, Landmark::leftHand, handThick},
                           Bone{Landmark::rightWrist, Landmark::rightHand, handThick}};

cv::Mat drawn(std::span<const Bone> bones, const cv::Rect& region, const model::LandmarkTrack& body,
              int frame, double bodyPx) {
    cv::Mat mask = cv::Mat::zeros(region.size(), CV_8U);
    const auto at = [&](model::Point2 p) {
        return cv::Point(static_cast<int>(std::lround(p.x)) - region.x,
                         static_cast<int>(std::lround(p.y)) - region.y);
    };
    for (const Bone& bone : bones) {
        const auto* a = model::find(body, frame, bone.from);
        const auto* b = model::find(body, frame, bone.to);
        if (a != nullptr && b != nullptr && !a->hidden && !b->hidden) {
            cv::line(mask, at(a->px), at(b->px), 255,
                     std::max(1, static_cast<int>(bone.thickness * bodyPx)));
        }
    }
    return mask;
}

} // namespace

cv::Mat armsIn(const cv::Rect& region, const model::LandmarkTrack& body, int frame, double bodyPx) {
    return drawn(arms, region, body, frame, bodyPx);
}

cv::Mat handsIn(const cv::Rect& region, const model::LandmarkTrack& body, int frame,
                double bodyPx) {
    return drawn(hands, region, body, frame, bodyPx);
}

cv::Mat restOfBodyIn(const cv::Rect& region, const model::LandmarkTrack& body, int frame,
                     double bodyPx) {
    return drawn(rest, region, body, frame, bodyPx);
}

} // namespace kestrel::track
