#pragma once

#include <optional>
#include <string_view>

/// Units of readings.
namespace kestrel::model {

enum class Unit {
    degrees,
    bodyHeights,
    bodyHeightsPerSecond,
    headDiameters,
    ratio,
    percent,
    metres,
    footLengths,
    kilometresPerHour,
    degreesPerSecond,
    degreesPerSecondSquared,
    bodyHeightsPerSecondSquared,
    turnsPerMinute,
    milliseconds,
    seconds,
};

std::string_view name(Unit unit);
std::optional<Unit> unitFromName(std::string_view text);

} // namespace kestrel::model
