#pragma once

#include "model/clip_time.h"
#include "model/finding.h"
#include "model/record.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"

#include <nlohmann/json.hpp>

#include <vector>

/// The whole judgement of a rep in one step: marks → readings → findings → plan.
namespace kestrel::coaching {

struct Review {
    std::vector<model::Reading> readings; ///< one for each measure of the pack, in its order
    model::Findings findings;
    model::Plan plan;
};

/// What the judgement of a rep depends on besides its marks. `today` gives the age when the day of
/// filming is not known.
technique::Circumstances circumstancesOf(const technique::Pack& pack, const model::Player& player,
                                         const model::Clip& clip, const model::Rep& rep,
                                         const model::ClipTime& time, model::Day today);

/// The plan is the program's proposal from this rep alone; see visitReviewOf for the visit's.
Review reviewOf(const technique::Pack& pack, const model::Rep& rep,
                const technique::Circumstances& circumstances);

/// Whether the first shows the technique better: fewer faults, then fewer readings outside of their
/// range, then more inside.
bool isBetter(const Review& review, const Review& than);

/// Findings and plan for scripts: strengths, faults with evidence and chains, watch, cautions,
/// why_first, plan. Sentences are in the words of `words`.
nlohmann::json reviewToJson(const technique::Pack& pack, const Review& review,
                            const model::Wording& words);

} // namespace kestrel::coaching
