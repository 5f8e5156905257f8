#pragma once

#include "coaching/drill_library.h"
#include "coaching/over_reps.h"
#include "coaching/visit.h"
#include "model/visit.h"
#include "technique/pack/pack.h"

#include <optional>
#include <string>
#include <vector>

/// What the next visit asks first: was it done, did it help, what now.
namespace kestrel::coaching {

enum class Moved {
    notRead,   ///< it could not be read in both visits
    notTold,   ///< too uncertain: even being right by now would not show
    within,    ///< not beyond the uncertainty
    better,    ///< beyond the uncertainty, towards the range
    intoRange, ///< now inside the range, and better
    worse,     ///< beyond the uncertainty, away from the range
};

struct MovedReading {
    std::string measureId;
    model::Unit unit = model::Unit::degrees;
    std::optional<model::Range> range;
    std::optional<OverReps> before;
    std::optional<OverReps> now;
    Moved moved = Moved::notRead;
};

enum class Advice {
    askFirst, ///< nothing can be told from the film: ask the player
    keep,     ///< it moves: go on with it
    stepUp,   ///< it is there: make it harder, or take the next thing
    doIt,     ///< it was hardly done: the same again, with fewer and shorter sessions
    change,   ///< it was done and did not move: other cue, other drills
};

struct AskBack {
    model::VisitKey visit; ///< the earlier one
    std::string focusFaultId;
    int planned = 0; ///< drills of the homework up to now
    int done = 0;
    std::vector<MovedReading> readings;  ///< of the focus's signs
    std::vector<std::string> stillThere; ///< faults to watch that show now
    Advice advice = Advice::askFirst;
};

/// Compares an earlier visit with its plan to the visit of now. `reps` are those of each visit;
/// homework counts up to `today`.
AskBack askBackOf(const technique::Pack& pack, const model::VisitKey& visit,
                  const VisitReview& then, const std::vector<RepOfVisit>& repsThen,
                  const model::Homework& homework, const VisitReview& now,
                  const std::vector<RepOfVisit>& repsNow, model::Day today);

/// The questions and what the film says to them.
std::vector<model::Message> toldAskBack(const technique::Pack& pack, const AskBack& askBack);

} // namespace kestrel::coaching
