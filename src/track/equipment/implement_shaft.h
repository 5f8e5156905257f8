#pragma once

#include "model/landmark.h"

#include <opencv2/core.hpp>

#include <algorithm>
#include <cmath>

/// What learning an implement's look and looking for it have in common. Only for implement_*.cpp.
namespace kestrel::track {

inline constexpr double thinnest = 1.5;   ///< pixels, half a width
inline constexpr double sampleStep = 2.5; ///< pixels along the shaft
inline constexpr double flankGap = 4.0; ///< pixels beside the implement where it should have ended
inline constexpr double stringsApart = 0.035; ///< of height: averaged over so much, a face is even

inline double dot(model::Point2 a, model::Point2 b) {
    return a.x * b.x + a.y * b.y;
}

inline model::Point2 across(model::Point2 along) {
    return {-along.y, along.x};
}

inline cv::Vec3f colourAt(const cv::Mat& picture, model::Point2 p) {
    const int x = std::clamp(static_cast<int>(std::lround(p.x)), 0, picture.cols - 1);
    const int y = std::clamp(static_cast<int>(std::lround(p.y)), 0, picture.rows - 1);
    return picture.at<cv::Vec3b>(y, x);
}

inline bool inside(const cv::Mat& picture, model::Point2 p) {
    return p.x >= 0.0 && p.y >= 0.0 && p.x <= picture.cols - 1.0 && p.y <= picture.rows - 1.0;
}

inline model::Landmark handLandmark(model::Hand hand) {
    return hand == model::Hand::left ? model::Landmark::leftHand : model::Landmark::rightHand;
}

inline const model::LandmarkPoint* seen(const model::LandmarkTrack& track, int frame,
                                        model::Landmark landmark) {
    const model::LandmarkPoint* point = model::find(track, frame, landmark);
    return point != nullptr && !point->hidden ? point : nullptr;
}

} // namespace kestrel::track
