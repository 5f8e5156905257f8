#include "model/day.h"

#include <array>
#include <charconv>
#include <chrono>
#include <cstdio>
#include <utility>

namespace kestrel::model {
namespace {

std::chrono::sys_days instantOf(Day day) {
    return std::chrono::sys_days(std::chrono::days(day.sinceEpoch()));
}

} // namespace

std::string Day::iso() const {
    if (empty()) {
        return {};
    }
    const std::chrono::year_month_day day(instantOf(*this));
    std::array<char, 32> text{};
    std::snprintf(text.data(), text.size(), "%04d-%02u-%02u", static_cast<int>(day.year()),
                  static_cast<unsigned>(day.month()), static_cast<unsigned>(day.day()));
    return text.data();
}

std::optional<Day> dayOf(int year, int month, int dayOfMonth) {
    const std::chrono::year_month_day date{std::chrono::year(year),
                                           std::chrono::month(static_cast<unsigned>(month)),
                                           std::chrono::day(static_cast<unsigned>(dayOfMonth))};
    return date.ok()
               ? std::optional(
                     Day(static_cast<int>(std::chrono::sys_days(date).time_since_epoch().count())))
               : std::nullopt;
}

std::optional<Day> dayFromIso(std::string_view text) {
    if (text.empty()) {
        return Day();
    }
    const auto number = [&](std::size_t at, std::size_t n, int& out) {
        const char* first = text.data() + at;
        const auto result = std::from_chars(first, first + n, out);
        return result.ec == std::errc() && result.ptr == first + n;
    };
    int year = 0;
    int month = 0;
    int day = 0;
    constexpr std::size_t length = 10;
    if (text.size() != length || text[4] != '-' || text[7] != '-' || !number(0, 4, year) ||
        !number(5, 2, month) || !number(8, 2, day)) {
        return std::nullopt;
    }
    return dayOf(year, month, day);
}

Day dayAfter(Day from, int days) {
    return from.empty() ? Day() : Day(from.sinceEpoch() + days);
}

std::optional<int> weekdayOf(Day day) {
    return day.empty() ? std::nullopt
                       : std::optional(
                             static_cast<int>(std::chrono::weekday(instantOf(day)).iso_encoding()));
}

std::optional<int> daysBetween(Day from, Day to) {
    return from.empty() || to.empty() ? std::nullopt
                                      : std::optional(to.sinceEpoch() - from.sinceEpoch());
}

std::optional<int> ageInYears(Day born, Day day) {
    if (born.empty() || day.empty() || day < born) {
        return std::nullopt;
    }
    const std::chrono::year_month_day from(instantOf(born));
    const std::chrono::year_month_day to(instantOf(day));
    const int years = static_cast<int>(to.year()) - static_cast<int>(from.year());
    const bool birthdayToCome =
        std::pair(to.month(), to.day()) < std::pair(from.month(), from.day());
    return birthdayToCome ? years - 1 : years;
}

} // namespace kestrel::model
