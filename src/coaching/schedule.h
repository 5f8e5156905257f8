#pragma once

#include "coaching/drill_library.h"
#include "coaching/load_rule.h"
#include "model/message.h"
#include "model/visit.h"

#include <optional>
#include <set>
#include <string>
#include <vector>

/// The dated homework between two visits.
namespace kestrel::coaching {

/// Weeks planned for when no next visit is agreed.
inline constexpr int weeksWithoutVisit = 4;

struct Schedule {
    model::Homework homework;
    /// What could not be done as wished, one sentence each: drills left out, days without throwing.
    std::vector<model::Message> remarks;
    std::set<model::Day> restDays; ///< without throwing, by the load rule
};

/// Puts drills on days: sessions on the wished weekdays from the day after `today` to the day
/// before the next visit, none longer than wished. The way goes from slow work without a ball
/// (Stage::learn, the first third of the days) over aids (settle) to the field (play); a drill that
/// comes back at a later stage than it began in is “stepped up”: its progression is asked for.
/// Drills with throws are kept off game days and the days of rest that the load rule asks for after
/// them, and off the day after another drill with throws. Solved as an integer program (GLPK).
///
/// What is already ticked in `before`, and all of it up to `today`, stays; what is ahead is planned
/// anew, so that moved and missed sessions balance out. `drillIds` that the library lacks are left
/// out. Doses and rest are those of the age `ageYears`, see doseAge().
Schedule scheduleOf(const DrillLibrary& drills, const std::vector<std::string>& drillIds,
                    const model::PlanWish& wish, const LoadRule& rule, std::optional<int> ageYears,
                    model::Day today, const model::Homework& before);

/// A sensible wish to start from: three days a week, a quarter of an hour.
model::PlanWish usualWish();

/// The dose of an item of `homework`; when its drill stands in it at an earlier stage, “stepped
/// up”: the drill's progression is asked for.
model::Message doseOf(const model::Homework& homework, const model::HomeworkItem& item,
                      const DrillLibrary& drills);

/// "Learn it slowly", "Make it a habit", "Use it at play".
model::Message nameOf(model::Stage stage);

/// Equipment that these drills need, each once, in alphabetical order.
std::set<std::string> equipmentFor(const DrillLibrary& drills,
                                   const std::vector<std::string>& drillIds);

} // namespace kestrel::coaching
