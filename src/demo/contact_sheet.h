#pragma once

#include "demo/film_render.h"

#include <vector>

/// A technique at a glance: the player at every key position, from several views, in one picture.
namespace kestrel::demo {

/// One row a view, one column a key position in order; each cell `cellWidth` by `cellHeight`.
film::Picture contactSheet(const PlayerSpec& player, const Outfit& outfit,
                           const std::vector<model::View>& views, int cellWidth, int cellHeight);

} // namespace kestrel::demo
