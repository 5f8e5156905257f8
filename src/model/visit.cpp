#include "model/visit.h"

#include <array>
#include <chrono>
#include <cstdio>

namespace kestrel::model {
namespace {

constexpr std::array stages{Stage::learn, Stage::settle, Stage::play};

std::optional<std::chrono::sys_days> instantOf(const IsoDate& day) {
    const IsoDate epoch = "1970-01-01";
    const auto days = daysBetween(epoch, day);
    return days ? std::optional(std::chrono::sys_days(std::chrono::days(*days))) : std::nullopt;
}

} // namespace

std::string_view name(Stage stage) {
    switch (stage) {
    case Stage::learn:
        return "learn";
    case Stage::settle:
        return "settle";
    case Stage::play:
        return "play";
    }
    return {};
}

std::optional<Stage> stageFromName(std::string_view text) {
    for (const Stage stage : stages) {
        if (name(stage) == text) {
            return stage;
        }
    }
    return std::nullopt;
}

IsoDate dayAfter(const IsoDate& from, int days) {
    const auto start = instantOf(from);
    if (!start) {
        return {};
    }
    const std::chrono::year_month_day day(*start + std::chrono::days(days));
    std::array<char, 32> text{};
    std::snprintf(text.data(), text.size(), "%04d-%02u-%02u", static_cast<int>(day.year()),
                  static_cast<unsigned>(day.month()), static_cast<unsigned>(day.day()));
    return text.data();
}

std::optional<int> weekdayOf(const IsoDate& day) {
    const auto instant = instantOf(day);
    return instant ? std::optional(static_cast<int>(std::chrono::weekday(*instant).iso_encoding()))
                   : std::nullopt;
}

} // namespace kestrel::model
