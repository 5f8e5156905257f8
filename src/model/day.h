#pragma once

#include <optional>
#include <string>
#include <string_view>

/// Days of the calendar.
namespace kestrel::model {

/// A day, or none: not known, not agreed, not done. None comes before all days.
class Day {
  public:
    constexpr Day() = default;
    /// Days since 1 January 1970, in the Gregorian calendar.
    constexpr explicit Day(int sinceEpoch) : sinceEpoch_(sinceEpoch) {}

    [[nodiscard]] constexpr bool empty() const { return !sinceEpoch_; }

    /// Of a day that is one.
    [[nodiscard]] constexpr int sinceEpoch() const { return sinceEpoch_.value(); }

    /// "2026-05-09"; empty text for none.
    [[nodiscard]] std::string iso() const;

    friend constexpr auto operator<=>(const Day&, const Day&) = default;

  private:
    // A number and not std::chrono::sys_days: Qt's moc can read neither <chrono> nor, before other
    // headers, <compare>, which <optional> brings.
    std::optional<int> sinceEpoch_;
};

/// The day of that year, month (1 to 12) and day of the month; nothing when there is none.
std::optional<Day> dayOf(int year, int month, int dayOfMonth);

/// The day that "2026-05-09" is, and none for empty text; nothing for text that is no day.
std::optional<Day> dayFromIso(std::string_view text);

/// The day `days` later, earlier when negative; none of none.
Day dayAfter(Day from, int days);

/// ISO 8601: 1 Monday to 7 Sunday; nothing of none.
std::optional<int> weekdayOf(Day day);

/// Days from one to another, negative when `to` is earlier; nothing when one of them is none.
std::optional<int> daysBetween(Day from, Day to);

/// Whole years at `day`; nothing when one of them is none or `day` is before birth.
std::optional<int> ageInYears(Day born, Day day);

} // namespace kestrel::model
