#pragma once

#include "model/landmark.h"

#include <opencv2/core.hpp>

/// Where the player's body is in a picture, from the landmarks. Only within this room.
namespace kestrel::track {

/// 255 where the arms are, shoulders to wrists. `region` is a part of a picture; `bodyPx` the
/// standing height in its pixels. Bones whose ends are not known are left out.
cv::Mat armsIn(const cv::Rect& region, const model::LandmarkTrack& body, int frame, double bodyPx);

/// 255 where the hands are, or nearly. As armsIn().
cv::Mat handsIn(const cv::Rect& region, const model::LandmarkTrack& body, int frame, double bodyPx);

/// 255 where trunk, head, legs and feet are. As armsIn().
cv::Mat restOfBodyIn(const cv::Rect& region, const model::LandmarkTrack& body, int frame,
                     double bodyPx);

} // namespace kestrel::track
