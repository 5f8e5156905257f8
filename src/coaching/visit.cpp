#include "coaching/visit.h"

#include "coaching/findings.h"
#include "coaching/plan.h"

#include <algorithm>

namespace kestrel::coaching {
namespace {

using model::Fault;
using model::Findings;
using technique::Pack;

/// Fewest reps to tell a fault in for a single showing to be a one-off.
constexpr int enoughForOneOff = 3;
/// Share of the reps in which a strength has to hold.
constexpr double mostReps = 2.0 / 3.0;

/// A fault as the reps together show it.
struct Gathered {
    Fault clearest;
    int certain = 0;
    int atEdge = 0;
    int told = 0;
};

using ByFault = std::map<std::string, Gathered>;

void gather(ByFault& faults, const std::vector<Fault>& found, bool certain) {
    for (const Fault& fault : found) {
        Gathered& all = faults[fault.faultId];
        const bool first = all.certain + all.atEdge == 0;
        const bool clearer = certain ? all.certain == 0 || fault.size > all.clearest.size
                                     : all.certain == 0 && fault.size > all.clearest.size;
        if (first || clearer) {
            all.clearest = fault;
        }
        (certain ? all.certain : all.atEdge) += 1;
    }
}

std::vector<model::Strength> strengthsOf(const Pack& pack, const std::vector<RepOfVisit>& reps) {
    std::vector<model::Strength> strengths;
    for (const technique::Measure& measure : pack.measures) {
        int judged = 0;
        int inside = 0;
        bool everOutside = false;
        const model::Reading* shown = nullptr;
        for (const RepOfVisit& rep : reps) {
            for (const model::Reading& reading : rep.readings) {
                if (reading.measureId != measure.id || !reading.range || !reading.value) {
                    continue;
                }
                ++judged;
                everOutside = everOutside || reading.verdict == model::Verdict::outside;
                if (reading.verdict == model::Verdict::inside) {
                    ++inside;
                    shown = &reading;
                }
            }
        }
        if (shown != nullptr && !everOutside && inside >= mostReps * judged) {
            strengths.push_back({measure.id, *shown, inside, judged});
        }
    }
    return strengths;
}

bool anythingRead(const RepOfVisit& rep) {
    return !rep.observations.empty() ||
           std::any_of(rep.readings.begin(), rep.readings.end(),
                       [](const model::Reading& r) { return r.value.has_value(); });
}

ByFault gathered(const Pack& pack, const std::vector<RepOfVisit>& reps, VisitReview& review) {
    ByFault faults;
    for (const RepOfVisit& rep : reps) {
        const Findings here = findingsOf(pack, rep.readings, rep.observations, rep.schools);
        gather(faults, here.faults, true);
        gather(faults, here.watch, false);
        for (const Fault& fault : here.faults) {
            review.repsOf[fault.faultId].push_back(rep.repId);
        }
        for (const technique::FaultDefinition& fault : pack.faults) {
            if (couldBeTold(fault, rep.readings, rep.observations)) {
                ++faults[fault.id].told;
            }
        }
    }
    std::erase_if(
        faults, [](const auto& entry) { return entry.second.certain + entry.second.atEdge == 0; });
    return faults;
}

/// The coach's own additions that no rep shows for certain.
void addWhatTheCoachSaw(const Pack& pack, const model::PlanChoice& choice, ByFault& faults) {
    for (const auto& [id, word] : choice.findings) {
        const technique::FaultDefinition* definition = technique::findFault(pack, id);
        if (!word.added || definition == nullptr || faults[id].certain > 0) {
            continue;
        }
        Fault& fault = faults[id].clearest;
        fault.faultId = id;
        fault.safety = definition->safety;
        fault.added = true;
        fault.confidence = model::Confidence::sure; // somebody saw it
    }
}

} // namespace

VisitReview visitReviewOf(const Pack& pack, const DrillLibrary& drills,
                          const std::vector<RepOfVisit>& reps, const model::PlanChoice& choice) {
    VisitReview review;
    std::vector<RepOfVisit> read;
    std::copy_if(reps.begin(), reps.end(), std::back_inserter(read), anythingRead);
    review.reps = static_cast<int>(read.size());
    ByFault faults = gathered(pack, read, review);
    addWhatTheCoachSaw(pack, choice, faults);
    for (const technique::FaultDefinition& definition : pack.faults) {
        const auto found = faults.find(definition.id);
        if (found == faults.end()) {
            continue;
        }
        const Gathered& all = found->second;
        Fault fault = all.clearest;
        const bool claimed = all.certain > 0 || fault.added;
        fault.shownIn = claimed ? all.certain : all.atEdge;
        fault.readIn = std::max(all.told, fault.shownIn);
        const bool oneOff =
            !fault.added && !fault.safety && all.certain == 1 && fault.readIn >= enoughForOneOff;
        const auto word = choice.findings.find(definition.id);
        if (word != choice.findings.end() && word->second.dismissed) {
            review.dismissed.push_back(std::move(fault));
            continue;
        }
        fault.pinned = word != choice.findings.end() && word->second.pinned;
        // What the coach pinned counts, however seldom it shows.
        auto& list =
            claimed && (!oneOff || fault.pinned) ? review.findings.faults : review.findings.watch;
        list.push_back(std::move(fault));
    }
    review.findings.whyFirst = putInOrder(pack, review.findings.faults);
    review.findings.strengths = strengthsOf(pack, read);
    for (const Fault& fault : review.findings.faults) {
        const std::string& caution = technique::findFault(pack, fault.faultId)->caution;
        if (!caution.empty()) {
            review.findings.cautions.push_back(caution);
        }
    }
    review.findings.cautions.insert(review.findings.cautions.end(), pack.cautions.begin(),
                                    pack.cautions.end());
    review.plan = planFor(pack, drills, review.findings, choice);
    return review;
}

FaultWords wordsOf(const Pack& pack, const model::PlanChoice& choice, const std::string& faultId) {
    FaultWords words{faultId, {}};
    if (const technique::FaultDefinition* definition = technique::findFault(pack, faultId)) {
        words = {definition->name, definition->meaning};
    }
    const auto own = choice.findings.find(faultId);
    if (own != choice.findings.end()) {
        if (!own->second.name.empty()) {
            words.name = own->second.name;
        }
        if (!own->second.meaning.empty()) {
            words.meaning = own->second.meaning;
        }
    }
    return words;
}

model::Message howOften(int shownIn, int readIn) {
    if (readIn <= 1) {
        return {};
    }
    return model::message("in_of_reps", shownIn, readIn);
}

} // namespace kestrel::coaching
