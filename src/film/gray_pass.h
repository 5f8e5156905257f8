#pragma once

#include "film/film_index.h"
#include "film/picture.h"

#include <functional>

namespace kestrel::film {

/// Called with each frame of a pass; returning false ends it.
using GrayVisit = std::function<bool(int frame, const GrayPicture& picture)>;

/// Shows all frames of a film to `visit` in order, brightness only and `width` pixels across.
/// Damaged frames are left out. One thread decodes the next frame while `visit` looks at one.
/// Returns false when `visit` ended it. Throws model::InputError when the film cannot be opened.
bool forEachGray(const FilmIndex& index, int width, const GrayVisit& visit);

} // namespace kestrel::film
