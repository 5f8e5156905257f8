#pragma once

#include "model/construct.h"

#include <QPainter>
#include <QTransform>

/// Draws constructs on a frame: thin lines with a dark edge, so that they read on any film.
namespace kestrel::report {

struct ConstructStyle {
    double lineWidth = 1.6; ///< painter units
    double fontPixels = 14.0;
    bool withLabel = true;
};

/// Draws `construct` with picture points mapped by `pictureToPaint`.
void paintConstruct(QPainter& painter, const model::Construct& construct,
                    const QTransform& pictureToPaint, const ConstructStyle& style);

} // namespace kestrel::report
