#include "coaching/growth.h"

#include "model/reading.h"

#include <cmath>
#include <cstdio>
#include <iterator>

namespace kestrel::coaching {
namespace {

constexpr double perMetre = 100.0; // centimetres
constexpr double daysOfYear = 365.25;
/// A height taken at home against a wall, centimetres; working figure.
constexpr double heightSdCm = 0.6;
/// Growth of 7 cm a year and more is that of the spurt (Tanner and Davies 1985: peaks of about
/// 8 cm a year in girls and 9.5 in boys).
constexpr double spurtCmPerYear = 7.0;

std::optional<double> yearsBetween(model::Day from, model::Day to) {
    const auto days = model::daysBetween(from, to);
    return days ? std::optional(*days / daysOfYear) : std::nullopt;
}

} // namespace

Growth growthOf(model::Day born, std::optional<model::Sex> sex,
                const std::map<model::Day, model::Metres>& heights, model::Day today) {
    Growth growth;
    if (heights.empty()) {
        return growth;
    }
    const auto& [measured, height] = *heights.rbegin();
    const auto age = yearsBetween(born, measured);
    const auto since = yearsBetween(measured, today);
    constexpr double youngest = 8.0;
    constexpr double oldest = 18.0;
    if (age && sex && since && *age >= youngest && *age <= oldest) {
        // Moore et al. (2015), equations without sitting height, with their standard errors.
        const double ageHeight = *age * height.value * perMetre;
        const double offset = *sex == model::Sex::girl ? -7.709133 + 0.0042232 * ageHeight
                                                       : -7.999994 + 0.0036124 * ageHeight;
        growth.yearsAfterPeak = offset + *since;
        growth.yearsAfterPeakSd = *sex == model::Sex::girl ? 0.528 : 0.542;
    }
    // The height nearest to a year before the last says most of now without drowning in error.
    constexpr double shortest = 0.24; // years: three months
    constexpr double wanted = 0.8;
    double best = 0.0;
    for (auto earlier = heights.begin(); earlier != std::prev(heights.end()); ++earlier) {
        const auto years = yearsBetween(earlier->first, measured);
        if (!years || *years < shortest ||
            (growth.cmPerYear && std::abs(*years - wanted) > std::abs(best - wanted))) {
            continue;
        }
        best = *years;
        growth.cmPerYear = perMetre * (height.value - earlier->second.value) / *years;
        growth.cmPerYearSd = heightSdCm * std::sqrt(2.0) / *years;
    }
    constexpr double close = 1.0; // years to either side
    growth.nearPeak =
        (growth.yearsAfterPeak && std::abs(*growth.yearsAfterPeak) <= close) ||
        (growth.cmPerYear && *growth.cmPerYear - growth.cmPerYearSd >= spurtCmPerYear);
    return growth;
}

std::optional<int> doseAge(std::optional<int> ageYears, const Growth& growth) {
    if (!ageYears || !growth.nearPeak) {
        return ageYears;
    }
    // The last years of the age groups that drills give doses for: under 10, under 13, older.
    constexpr int youngest = 9;
    constexpr int younger = 12;
    return *ageYears > younger ? younger : std::min(*ageYears, youngest);
}

std::vector<model::Message> toldGrowth(const Growth& growth) {
    const auto figure = [](double value) { return model::Figure{value, 1}; };
    std::vector<model::Message> says;
    if (growth.cmPerYear) {
        says.push_back(model::message("growth.rate", figure(*growth.cmPerYear),
                                      figure(model::coverage95 * growth.cmPerYearSd)));
    }
    if (growth.yearsAfterPeak) {
        const double years = *growth.yearsAfterPeak;
        says.push_back(model::message(years < 0.0 ? "growth.spurt_ahead" : "growth.spurt_ago",
                                      figure(std::abs(years)),
                                      figure(model::coverage95 * growth.yearsAfterPeakSd)));
    }
    if (growth.nearPeak) {
        says.push_back(model::message("growth.near_spurt"));
    }
    return says;
}

} // namespace kestrel::coaching
