#pragma once

#include "coaching/drill_library.h"
#include "model/finding.h"
#include "model/message.h"
#include "model/visit.h"
#include "technique/pack/pack.h"

#include <map>
#include <set>
#include <string>
#include <vector>

/// The judgement of all reps of a visit together.
namespace kestrel::coaching {

/// What is known of one rep of the visit.
struct RepOfVisit {
    model::RepId repId;
    std::vector<model::Reading> readings; ///< as technique::evaluate gives them
    std::map<std::string, model::Seen> observations;
    std::set<std::string> schools; ///< in force for it
};

struct VisitReview {
    int reps = 0; ///< in which anything is read
    /// Over all reps: a fault stands under `faults` when it shows for certain in some rep, and not
    /// only in one of three or more in which it could be told: a one-off is no fault, it is to
    /// watch. A safety fault always counts. Evidence is that of the rep that shows it most clearly.
    model::Findings findings;
    std::vector<model::Fault> dismissed;                     ///< what the coach does not let count
    std::map<std::string, std::vector<model::RepId>> repsOf; ///< by fault: the reps that show it
    model::Plan plan;
};

/// Of the pack's faults only those are told that it knows; reps may have been judged with earlier
/// editions of it. What the coach says (dismissed, pinned, added, chosen) is followed.
VisitReview visitReviewOf(const technique::Pack& pack, const DrillLibrary& drills,
                          const std::vector<RepOfVisit>& reps, const model::PlanChoice& choice);

/// A fault's name and meaning in the coach's words where there are any, else the pack's.
struct FaultWords {
    std::string name;
    std::string meaning;
};
FaultWords wordsOf(const technique::Pack& pack, const model::PlanChoice& choice,
                   const std::string& faultId);

/// "in 3 of 4 reps"; empty when there was only one rep to tell it in.
model::Message howOften(int shownIn, int readIn);

} // namespace kestrel::coaching
