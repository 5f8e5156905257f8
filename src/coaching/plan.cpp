#include "coaching/plan.h"

#include <algorithm>

namespace kestrel::coaching {

model::Plan planFor(const technique::Pack& pack, const DrillLibrary& drills,
                    const model::Findings& findings, const model::PlanChoice& choice) {
    constexpr std::size_t mostWatchPoints = 2; // brief, section 6: one focus, at most two to watch
    constexpr std::size_t mostStrengths = 3;

    model::Plan plan;
    const auto chosen = std::find_if(
        findings.faults.begin(), findings.faults.end(),
        [&](const model::Fault& fault) { return fault.faultId == choice.focusFaultId; });
    if (!findings.faults.empty()) {
        plan.focusFaultId =
            (chosen == findings.faults.end() ? findings.faults.front() : *chosen).faultId;
        const technique::FaultDefinition& focus = *technique::findFault(pack, plan.focusFaultId);
        plan.cueTexts = focus.cues;
        for (const std::string& drill : choice.drillIds) {
            if (drills.contains(drill)) {
                plan.drillIds.push_back(drill);
            }
        }
        if (plan.drillIds.empty()) {
            plan.drillIds = focus.drills;
        }
    }
    for (const auto* list : {&findings.faults, &findings.watch}) {
        for (const model::Fault& fault : *list) {
            if (fault.faultId != plan.focusFaultId && plan.watchFaultIds.size() < mostWatchPoints) {
                plan.watchFaultIds.push_back(fault.faultId);
            }
        }
    }
    // The clearest strengths: those whose interval lies deepest inside the range.
    std::vector<const model::Strength*> strengths;
    for (const model::Strength& strength : findings.strengths) {
        strengths.push_back(&strength);
    }
    const auto margin = [](const model::Strength* s) {
        const model::Reading& r = s->reading;
        double least = 1e9;
        if (r.range->low) {
            least = std::min(least, *r.value - *r.range->low);
        }
        if (r.range->high) {
            least = std::min(least, *r.range->high - *r.value);
        }
        return least / std::max(r.u95, 1e-9);
    };
    std::stable_sort(strengths.begin(), strengths.end(),
                     [&](const auto* a, const auto* b) { return margin(a) > margin(b); });
    for (const model::Strength* strength : strengths) {
        if (plan.strengthIds.size() < mostStrengths) {
            plan.strengthIds.push_back(strength->measureId);
        }
    }
    return plan;
}

} // namespace kestrel::coaching
