#pragma once

#include "model/message.h"
#include "model/record.h"

#include <map>
#include <optional>
#include <vector>

/// What age and heights say of a child's growth: information for the coach, never a diagnosis.
namespace kestrel::coaching {

struct Growth {
    /// Years since the growth spurt was fastest, negative before it, after Moore et al. (2015).
    /// Medicine and Science in Sports and Exercise 47:1755; from age, height and sex.
    std::optional<double> yearsAfterPeak;
    double yearsAfterPeakSd = 0.0;
    std::optional<double> cmPerYear; ///< between the two heights that tell it best
    double cmPerYearSd = 0.0;
    bool nearPeak = false; ///< either of them says that the spurt is on or close
};

/// `heights` by the day they were measured. Nothing is estimated outside 8 to 18 years, for which
/// the formula was made, nor from heights less than three months apart.
Growth growthOf(model::Day born, std::optional<model::Sex> sex,
                const std::map<model::Day, model::Metres>& heights, model::Day today);

/// The age whose doses a player gets: the own one, near the spurt that of the age group below,
/// because skill and tissue lag behind the limbs.
std::optional<int> doseAge(std::optional<int> ageYears, const Growth& growth);

/// That in sentences, with what it asks of training; empty when nothing is known.
std::vector<model::Message> toldGrowth(const Growth& growth);

} // namespace kestrel::coaching
