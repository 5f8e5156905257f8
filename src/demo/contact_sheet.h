#pragma once

#include "demo/film_render.h"

#include <functional>
#include <map>
#include <string>
#include <vector>

/// A technique at a glance: the player at every key position, from several views, in one picture.
namespace kestrel::demo {

/// One row a view, one column a key position in order; each cell `cellWidth` by `cellHeight`.
film::Picture contactSheet(const PlayerSpec& player, const Outfit& outfit,
                           const std::vector<model::View>& views, int cellWidth, int cellHeight);

/// The player at each position and event of the motion, by its id, the camera turning along. Ends
/// early with nothing when `goOn` says no. Throws as PlayerMotion for a technique that has none.
std::map<std::string, film::Picture> positionPictures(const PlayerSpec& player,
                                                      const Outfit& outfit, model::View view,
                                                      int width, int height,
                                                      const std::function<bool()>& goOn = {});

} // namespace kestrel::demo
