#pragma once

#include "coaching/drill_library.h"
#include "coaching/visit.h"
#include "model/visit.h"
#include "technique/pack/pack.h"

#include <optional>
#include <string>
#include <vector>

/// What the next visit asks first: was it done, did it help, what now.
namespace kestrel::coaching {

/// A measure over the reps of a visit.
struct OverReps {
    double mean = 0.0;
    double u95 = 0.0; ///< 95 % half width of the mean
    int reps = 0;
};

/// The measure over the reps in which it was read; nothing when in none. The half width holds what
/// the readings' own uncertainty leaves of the mean, and what the reps' scatter does: reps of one
/// child are not the same reading made again. A visit has too few reps to tell their scatter from
/// them alone, so it is drawn together with a usual one (a scaled inverse chi-square prior with
/// four degrees of freedom; Gelman et al., Bayesian Data Analysis, section 3.3).
std::optional<OverReps> overReps(const std::vector<RepOfVisit>& reps, const std::string& measureId);

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
