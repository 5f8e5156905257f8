#pragma once

#include "model/landmark.h"

#include <QImage>
#include <QRectF>

#include <optional>

/// Makes a player's face unrecognisable in what is given out.
namespace kestrel::report {

/// Where the player's head is in a frame: from its landmark there, else between the frames before
/// and after that have one; of the shoulders when there is none at all. Nothing when the track does
/// not tell. Source pixels; generous, as the landmark may be some way off.
std::optional<QRectF> headRegion(const model::LandmarkTrack& track, int frame);

/// Blots out that region of the picture as an oval of a few blocks. Returns false, and leaves the
/// picture alone, when it is not known where the head is: such a picture must not be given out.
/// `scale` is the picture's size over the film's.
[[nodiscard]] bool blurFace(QImage& picture, const model::LandmarkTrack& track, int frame,
                            double scale = 1.0);

} // namespace kestrel::report
