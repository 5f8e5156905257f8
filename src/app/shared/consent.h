#pragma once

#include "model/record.h"

#include <QString>

class QWidget;

namespace kestrel::app {

/// Whether pictures of a player may leave the program: with consent to film, or when the coach says
/// so all the same. `shows` is a sentence on what is saved: “The film shows the player.”
[[nodiscard]] bool mayGiveOut(QWidget* parent, const model::Player& player, const QString& shows);

} // namespace kestrel::app
