#pragma once

#include "model/units.h"
#include "technique/pack/pack.h"

#include <QImage>
#include <QString>

#include <filesystem>
#include <optional>

/// A card to take to the field: how to film a technique so that it can be measured.
namespace kestrel::report {

/// Where the camera stands for a player of a given height, metres.
struct CameraPlace {
    double nearest = 0.0; ///< the whole movement just fits with a phone's usual lens
    double better = 0.0;  ///< with zoom: less perspective, so that angles are read truer
    double height = 0.0;  ///< of the lens above the ground
};

/// A phone's main lens sees about 60° across in landscape film.
CameraPlace cameraPlace(const technique::Filming& filming, model::Metres playerHeight);

/// The place seen from above: player, target, camera and its distance.
QImage filmingPlan(const technique::Filming& filming, const CameraPlace& place);

/// The card as HTML; its picture is named "plan:".
QString filmingCardHtml(const technique::Pack& pack, std::optional<model::Metres> playerHeight);

/// Writes the card as an A4 PDF. Needs a QGuiApplication. Throws model::InputError when it cannot
/// be written.
void writeFilmingCard(const technique::Pack& pack, std::optional<model::Metres> playerHeight,
                      const std::filesystem::path& file);

} // namespace kestrel::report
