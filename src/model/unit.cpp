#include "model/unit.h"

#include <array>
#include <utility>

namespace kestrel::model {
namespace {

constexpr std::array unitNames{
    std::pair{Unit::degrees, std::string_view("deg")},
    std::pair{Unit::bodyHeights, std::string_view("BH")},
    std::pair{Unit::bodyHeightsPerSecond, std::string_view("BH/s")},
    std::pair{Unit::headDiameters, std::string_view("heads")},
    std::pair{Unit::ratio, std::string_view("ratio")},
    std::pair{Unit::percent, std::string_view("percent")},
    std::pair{Unit::metres, std::string_view("m")},
    std::pair{Unit::footLengths, std::string_view("feet")},
    std::pair{Unit::kilometresPerHour, std::string_view("km/h")},
    std::pair{Unit::degreesPerSecond, std::string_view("deg/s")},
    std::pair{Unit::degreesPerSecondSquared, std::string_view("deg/s2")},
    std::pair{Unit::bodyHeightsPerSecondSquared, std::string_view("BH/s2")},
    std::pair{Unit::turnsPerMinute, std::string_view("rpm")},
    std::pair{Unit::milliseconds, std::string_view("ms")},
    std::pair{Unit::seconds, std::string_view("s")},
};

} // namespace

std::string_view name(Unit unit) {
    return unitNames.at(static_cast<std::size_t>(unit)).second;
}

std::optional<Unit> unitFromName(std::string_view text) {
    for (const auto& [unit, unitName] : unitNames) {
        if (unitName == text) {
            return unit;
        }
    }
    return std::nullopt;
}

} // namespace kestrel::model
