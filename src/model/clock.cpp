#include "model/clock.h"

#include "model/visit.h"

#include <array>
#include <ctime>

namespace kestrel::model {

std::optional<Clock> clockFrom(const IsoDate& said) {
    if (!said.empty()) {
        return weekdayOf(said) ? std::optional<Clock>([said] { return said; }) : std::nullopt;
    }
    return [] {
        const std::time_t now = std::time(nullptr);
        std::tm parts{};
        localtime_r(&now, &parts);
        std::array<char, 16> text{};
        std::strftime(text.data(), text.size(), "%F", &parts);
        return IsoDate(text.data());
    };
}

} // namespace kestrel::model
