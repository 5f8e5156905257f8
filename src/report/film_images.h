#pragma once

#include "film/film_index.h"
#include "report/take_home.h"

namespace kestrel::report {

/// The frames of a film as images, decoded when asked for, with a decoder of their own. Throws
/// model::InputError when the film cannot be opened; a frame that is damaged is a null image.
FrameImages filmImages(const film::FilmIndex& index);

} // namespace kestrel::report
