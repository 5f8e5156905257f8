#pragma once

#include "synth/film_render.h"

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

/// A technique at a glance: the player at every key position, from several views, in one picture.
namespace kestrel::synth {

/// One row a view, one column a key position in order; each cell `cellWidth` by `cellHeight`.
film::Picture contactSheet(const PlayerSpec& player, const Outfit& outfit,
                           const std::vector<model::View>& views, int cellWidth, int cellHeight);

/// The player at each position and event of the motion, by its id, the camera turning along. Ends
/// early with nothing when `goOn` says no. Throws as PlayerMotion for a technique that has none.
std::map<std::string, film::Picture> positionPictures(const PlayerSpec& player,
                                                      const Outfit& outfit, model::View view,
                                                      int width, int height,
                                                      const std::function<bool()>& goOn = {});

/// One of those pictures: the player at the position or event `id`; nothing when the motion has no
/// such event. Throws as above.
std::optional<film::Picture> positionPicture(const PlayerSpec& player, const Outfit& outfit,
                                             model::View view, int width, int height,
                                             const std::string& id);

} // namespace kestrel::synth
