#pragma once

#include "model/reading.h"

#include <QString>

/// Values of measures in figures, the same everywhere: Bench, sheet, command line.
namespace kestrel::words {

/// "0.14", "−3".
QString figureText(model::Figure figure);

/// "43°", "12 %", "145 ms", "0.84 s", "1.1".
QString valueText(double value, model::Unit unit);

/// "43 ± 4°"; with a digit more where rounding would hide that it is more than it may be off by.
QString valueText(double value, double u95, model::Unit unit);

/// The same; "–" for a reading without a value.
QString valueWithUncertainty(const model::Reading& reading);

/// "35 to 60°", "at least 30°", "up to 8 %".
QString rangeText(const model::Range& range, model::Unit unit);

} // namespace kestrel::words
