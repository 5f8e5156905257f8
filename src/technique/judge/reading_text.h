#pragma once

#include "model/reading.h"
#include "model/side.h"

#include <string>

/// Readings in words and figures, the same everywhere: Bench, sheet, command line.
namespace kestrel::technique {

/// "43°", "12 %", "145 ms", "0.84 s", "1.1".
std::string valueText(double value, model::Unit unit);

/// "43 ± 4°"; "–" for a reading without a value.
std::string valueWithUncertainty(const model::Reading& reading);

/// "35 to 60°", "at least 30°", "up to 8 %".
std::string rangeText(const model::Range& range, model::Unit unit);

/// "inside", "edge", "outside", "no range", "cannot be read".
std::string verdictText(model::Verdict verdict);

/// "open side", "closed side", "front", "rear", "overhead".
std::string viewText(model::View view);

} // namespace kestrel::technique
