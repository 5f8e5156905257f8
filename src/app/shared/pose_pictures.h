#pragma once

#include "model/side.h"
#include "technique/pack/pack.h"

#include <QImage>

#include <functional>
#include <map>
#include <string>

/// Pictures of a technique's key positions, made with the synthetic player and kept in the cache
/// folder of the desktop.
namespace kestrel::app {

/// By position id.
using PosePictures = std::map<std::string, QImage>;

inline constexpr int posePictureWidth = 300;

/// The technique whose motion shows the positions of a pack: its own, or that of the pack it was
/// copied from; empty when the synthetic player knows neither.
std::string poseTechnique(const technique::Pack& pack);

/// The pictures that are kept; empty when they have not been drawn yet.
PosePictures keptPosePictures(const std::string& technique);

/// Draws and keeps them; takes seconds. Empty when `goOn` said no.
PosePictures drawPosePictures(const std::string& technique, model::View view,
                              const std::function<bool()>& goOn);

/// The picture of one position of a pack: the kept one, else drawn here, for any thread; null when
/// the synthetic player does not know the technique or the position.
QImage posePicture(const technique::Pack& pack, const std::string& position);

} // namespace kestrel::app
