#pragma once

#include "model/landmark.h"
#include "model/reading.h"

#include <QImage>
#include <QRectF>

#include <vector>

namespace kestrel::report {

/// Part of a frame round the player, in picture pixels, `aspect` wide over high and kept inside the
/// picture. Its size and height come from all frames: from the lowest feet to as high as a
/// stretched arm reaches. Its sideways place comes from the landmarks of this frame or, where none
/// are, from those before and after it. The whole picture when next to
/// nothing is placed anywhere.
QRectF playerRegion(const model::LandmarkTrack& track, int frame, QSize picture, double aspect);

/// What the readings draw on that frame.
std::vector<model::Construct> constructsOn(int frame, const std::vector<model::Reading>& readings);

/// The frame cut to `region`, `width` pixels wide, with the constructs that `readings` draw on
/// `frame`.
QImage positionPicture(const QImage& picture, int frame, const QRectF& region, int width,
                       const std::vector<model::Reading>& readings);

} // namespace kestrel::report
