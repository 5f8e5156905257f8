#pragma once

#include "model/construct.h"

#include <QPainter>
#include <QTransform>

#include <vector>

/// Draws constructs on a frame: thin lines with a dark edge, so that they read on any film.
namespace kestrel::report {

struct ConstructStyle {
    double lineWidth = 1.6; ///< painter units
    double fontPixels = 14.0;
};

/// Draws constructs with picture points mapped by `pictureToPaint`: all lines first, then the
/// numbers beside them, none on top of another as long as there is room.
void paintConstructs(QPainter& painter, const std::vector<model::Construct>& constructs,
                     const QTransform& pictureToPaint, const ConstructStyle& style);

} // namespace kestrel::report
