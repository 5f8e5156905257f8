#include "coaching/review.h"

#include "coaching/findings.h"
#include "coaching/plan.h"
#include "technique/judge/reading_json.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace kestrel::coaching {
namespace {

using nlohmann::json;

json faultToJson(const technique::Pack& pack, const model::Fault& fault,
                 const model::Wording& words) {
    return {{"id", fault.faultId},
            {"name", technique::findFault(pack, fault.faultId)->name},
            {"confidence", name(fault.confidence)},
            {"size_in_u95", fault.size},
            {"safety", fault.safety},
            {"evidence", technique::readingsToJson(pack, fault.evidence, words)},
            {"denied_observations", fault.denials},
            {"comes_from", fault.comesFrom},
            {"leads_to", fault.leadsTo}};
}

} // namespace

technique::Circumstances circumstancesOf(const technique::Pack& pack, const model::Player& player,
                                         const model::Clip& clip, const model::Rep& rep,
                                         const model::ClipTime& time, model::Day today) {
    technique::Circumstances circumstances;
    circumstances.hand = player.hand;
    circumstances.view = clip.view;
    if (!clip.view && clip.foundView) {
        // What is found is some 10° off, so such a camera is nearly as square as one set up by eye.
        constexpr double aboutSquare = 20.0; // degrees
        circumstances.nearestView = clip.foundView->view;
        if (std::abs(clip.foundView->off.value) <= aboutSquare) {
            circumstances.view = clip.foundView->view;
            circumstances.viewIsFound = true;
        }
    }
    circumstances.schools =
        technique::nearestChoice(pack, {rep.schools, clip.schools, player.schools});
    circumstances.ageYears =
        model::ageInYears(player.born, clip.filmed.empty() ? today : clip.filmed);
    circumstances.variant = rep.variant;
    circumstances.shotType = rep.shotType;
    circumstances.bodyHeight = player.height;
    circumstances.time = time;
    return circumstances;
}

bool isBetter(const Review& review, const Review& than) {
    const auto count = [](const Review& of, model::Verdict verdict) {
        return std::count_if(of.readings.begin(), of.readings.end(),
                             [&](const model::Reading& r) { return r.verdict == verdict; });
    };
    const auto rank = [&](const Review& of) {
        return std::make_tuple(of.findings.faults.size(), count(of, model::Verdict::outside),
                               -count(of, model::Verdict::inside));
    };
    return rank(review) < rank(than);
}

Review reviewOf(const technique::Pack& pack, const model::Rep& rep,
                const technique::Circumstances& circumstances) {
    Review review;
    review.readings = technique::evaluate(pack, rep, circumstances);
    review.findings = findingsOf(pack, review.readings, rep.observations, circumstances.schools);
    review.plan = planFor(pack, {}, review.findings, {});
    return review;
}

json reviewToJson(const technique::Pack& pack, const Review& review, const model::Wording& words) {
    json result{{"strengths", json::array()}, {"faults", json::array()}, {"watch", json::array()}};
    for (const model::Strength& strength : review.findings.strengths) {
        result["strengths"].push_back(strength.measureId);
    }
    for (const model::Fault& fault : review.findings.faults) {
        result["faults"].push_back(faultToJson(pack, fault, words));
    }
    for (const model::Fault& fault : review.findings.watch) {
        result["watch"].push_back(faultToJson(pack, fault, words));
    }
    result["cautions"] = review.findings.cautions;
    result["why_first"] = review.findings.whyFirst.empty() ? "" : words(review.findings.whyFirst);
    result["plan"] = {{"focus", review.plan.focusFaultId},
                      {"cues", review.plan.cueTexts},
                      {"drills", review.plan.drillIds},
                      {"watch", review.plan.watchFaultIds},
                      {"strengths", review.plan.strengthIds}};
    return result;
}

} // namespace kestrel::coaching
