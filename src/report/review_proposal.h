#pragma once

#include "coaching/visit.h"
#include "model/clip_time.h"
#include "model/review_script.h"
#include "technique/pack/pack.h"

#include <vector>

namespace kestrel::report {

/// A rep of an earlier visit to show beside.
struct EarlierRep {
    model::RepId repId; ///< not stored: there is none
    model::Day filmed;
};

/// The walk through a rep that its findings ask for: once at full speed, then slowly from stop to
/// stop — a strength, what the focus's readings show, what is to be watched, in the order in which
/// they happen — and at the end the cue over the motion once more. Where the focus shows and there
/// is an earlier rep, that one stands beside. Empty for a rep without key positions.
model::ReviewScript proposedScript(const technique::Pack& pack, const model::Rep& rep,
                                   const model::ClipTime& time,
                                   const std::vector<model::Reading>& readings,
                                   const coaching::VisitReview& visit,
                                   const model::PlanChoice& choice, const EarlierRep& earlier);

} // namespace kestrel::report
