#include "coaching/changes.h"

#include "technique/judge/reading_text.h"

#include <algorithm>
#include <set>

namespace kestrel::coaching {
namespace {

using technique::rangeText;
using technique::verdictText;

std::set<std::string> faultsOf(const Review& review) {
    std::set<std::string> ids;
    for (const model::Fault& fault : review.findings.faults) {
        ids.insert(fault.faultId);
    }
    return ids;
}

std::string rangeOf(const model::Reading& reading) {
    return reading.range ? rangeText(*reading.range, reading.unit) : std::string("no range");
}

std::string faultName(const technique::Pack& pack, const std::string& id) {
    const technique::FaultDefinition* fault = technique::findFault(pack, id);
    return fault == nullptr ? id : fault->name;
}

std::string measureName(const technique::Pack& pack, const std::string& id) {
    const technique::Measure* measure = technique::findMeasure(pack, id);
    return measure == nullptr ? id : measure->name;
}

} // namespace

std::vector<Change> changesBetween(const Review& before, const Review& after) {
    std::vector<Change> changes;
    if (before.plan.focusFaultId != after.plan.focusFaultId) {
        changes.push_back({Change::Of::focus, after.plan.focusFaultId, before.plan.focusFaultId,
                           after.plan.focusFaultId});
    }
    const std::set<std::string> were = faultsOf(before);
    const std::set<std::string> are = faultsOf(after);
    for (const std::string& id : are) {
        if (!were.contains(id)) {
            changes.push_back({Change::Of::appears, id, {}, {}});
        }
    }
    for (const std::string& id : were) {
        if (!are.contains(id)) {
            changes.push_back({Change::Of::goes, id, {}, {}});
        }
    }
    std::vector<Change> ranges;
    for (const model::Reading& now : after.readings) {
        const auto then =
            std::find_if(before.readings.begin(), before.readings.end(),
                         [&](const model::Reading& r) { return r.measureId == now.measureId; });
        if (then == before.readings.end()) {
            continue;
        }
        if (then->verdict != now.verdict) {
            changes.push_back({Change::Of::verdict, now.measureId,
                               verdictText(then->verdict) + " (" + rangeOf(*then) + ")",
                               verdictText(now.verdict) + " (" + rangeOf(now) + ")"});
        } else if (then->range != now.range) {
            ranges.push_back({Change::Of::range, now.measureId, rangeOf(*then), rangeOf(now)});
        }
    }
    changes.insert(changes.end(), ranges.begin(), ranges.end());
    return changes;
}

std::vector<std::string> changesText(const technique::Pack& pack,
                                     const std::vector<Change>& changes) {
    std::vector<std::string> says;
    for (const Change& c : changes) {
        switch (c.of) {
        case Change::Of::focus:
            says.push_back(
                "The focus is now " +
                (c.after.empty() ? std::string("open") : "“" + faultName(pack, c.after) + "”") +
                (c.before.empty() ? "; there was none."
                                  : "; it was “" + faultName(pack, c.before) + "”."));
            break;
        case Change::Of::appears:
            says.push_back("“" + faultName(pack, c.id) + "” is found now.");
            break;
        case Change::Of::goes:
            says.push_back("“" + faultName(pack, c.id) + "” is no longer found.");
            break;
        case Change::Of::verdict:
        case Change::Of::range:
            says.push_back(measureName(pack, c.id) + ": " + c.before + " → " + c.after + ".");
            break;
        }
    }
    return says;
}

} // namespace kestrel::coaching
