#pragma once

#include "film/film_index.h"

#include <QImage>

#include <functional>

namespace kestrel::report {

/// The picture of a frame of the film; a null image when it cannot be decoded.
using FrameImages = std::function<QImage(int frame)>;

/// The frames of a film as images, decoded when asked for, with a decoder of their own. Throws
/// model::InputError when the film cannot be opened; a frame that is damaged is a null image.
FrameImages filmImages(const film::FilmIndex& index);

} // namespace kestrel::report
