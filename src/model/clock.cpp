#include "model/clock.h"

#include <ctime>

namespace kestrel::model {

std::optional<Clock> clockFrom(std::string_view said) {
    const auto day = dayFromIso(said);
    if (!day) {
        return std::nullopt;
    }
    if (!day->empty()) {
        return [day] { return *day; };
    }
    return [] {
        const std::time_t now = std::time(nullptr);
        std::tm here{};
        localtime_r(&now, &here);
        constexpr int firstYear = 1900; // of std::tm
        return dayOf(firstYear + here.tm_year, here.tm_mon + 1, here.tm_mday).value();
    };
}

} // namespace kestrel::model
