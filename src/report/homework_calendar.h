#pragma once

#include "coaching/drill_library.h"
#include "model/visit.h"

#include <string>

namespace kestrel::report {

/// The homework as an iCalendar (RFC 5545): a whole-day entry for each day with its drills and
/// doses, and one for the next visit when it is agreed. Ids stay the same when the same plan is
/// written again, so that a calendar replaces what it has. `made` is the day of writing.
std::string homeworkCalendar(const std::string& player, const std::string& technique,
                             const model::VisitKey& visit, const model::Homework& homework,
                             model::Day nextVisit, const coaching::DrillLibrary& drills,
                             model::Day made);

} // namespace kestrel::report
