#pragma once

#include "model/landmark.h"
#include "model/reading.h"

#include <QImage>

#include <vector>

namespace kestrel::report {

/// Part of a frame round the player, in picture pixels: the placed landmarks with room about them,
/// widened to `aspect` (width over height) and kept inside the picture. The whole picture when
/// nothing is placed.
QRectF playerRegion(const model::FrameLandmarks& landmarks, QSize picture, double aspect);

/// The frame cut to `region`, `width` pixels wide, with the constructs that `readings` draw on
/// `frame`.
QImage positionPicture(const QImage& picture, int frame, const QRectF& region, int width,
                       const std::vector<model::Reading>& readings);

} // namespace kestrel::report
