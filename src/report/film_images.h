#pragma once

#include "film/film_index.h"

#include <QImage>

#include <functional>

namespace kestrel::report {

/// The picture of a frame of the film; a null image when it cannot be decoded.
using FrameImages = std::function<QImage(int frame)>;

/// The frames of a film as images, decoded when asked for, with a decoder of their own. Throws
/// model::InputError when the film cannot be opened; a frame that is damaged or outside of the film
/// is a null image. Images of a film that is wider than `mostWidth` pixels are made that wide,
/// which is faster than scaling them afterwards; 0: all are as large as the film.
FrameImages filmImages(const film::FilmIndex& index, int mostWidth = 0);

} // namespace kestrel::report
