#pragma once

#include "coaching/drill_library.h"
#include "model/finding.h"
#include "model/visit.h"
#include "technique/pack/pack.h"

/// From findings to what the player takes home.
namespace kestrel::coaching {

/// One focus with its cues and drills, at most two watch points, up to three strengths. The coach's
/// choice is followed where it names something there is: a focus among the faults found, and drills
/// of the library; otherwise the first finding and all its drills.
model::Plan planFor(const technique::Pack& pack, const DrillLibrary& drills,
                    const model::Findings& findings, const model::PlanChoice& choice);

} // namespace kestrel::coaching
