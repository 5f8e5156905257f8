#include "coaching/changes.h"

#include <algorithm>
#include <set>

namespace kestrel::coaching {
namespace {

std::set<std::string> faultsOf(const Review& review) {
    std::set<std::string> ids;
    for (const model::Fault& fault : review.findings.faults) {
        ids.insert(fault.faultId);
    }
    return ids;
}

model::Message rangeOf(const model::Reading& reading) {
    return reading.range
               ? model::message("range", model::MeasuredRange{*reading.range, reading.unit})
               : model::message("range.none");
}

model::Message verdictOf(const model::Reading& reading) {
    return model::message("change.verdict_and_range",
                          model::message("verdict." + std::string(name(reading.verdict))),
                          rangeOf(reading));
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
        changes.push_back(
            {Change::Of::focus, after.plan.focusFaultId, before.plan.focusFaultId, {}, {}});
    }
    const std::set<std::string> were = faultsOf(before);
    const std::set<std::string> are = faultsOf(after);
    for (const std::string& id : are) {
        if (!were.contains(id)) {
            changes.push_back({Change::Of::appears, id, {}, {}, {}});
        }
    }
    for (const std::string& id : were) {
        if (!are.contains(id)) {
            changes.push_back({Change::Of::goes, id, {}, {}, {}});
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
            changes.push_back(
                {Change::Of::verdict, now.measureId, {}, verdictOf(*then), verdictOf(now)});
        } else if (then->range != now.range) {
            ranges.push_back({Change::Of::range, now.measureId, {}, rangeOf(*then), rangeOf(now)});
        }
    }
    changes.insert(changes.end(), ranges.begin(), ranges.end());
    return changes;
}

std::vector<model::Message> toldChanges(const technique::Pack& pack,
                                        const std::vector<Change>& changes) {
    std::vector<model::Message> says;
    for (const Change& c : changes) {
        switch (c.of) {
        case Change::Of::focus: {
            const model::Message now = c.id.empty()
                                           ? model::message("focus.open")
                                           : model::message("quoted", faultName(pack, c.id));
            says.push_back(
                c.focusBefore.empty()
                    ? model::message("change.first_focus", now)
                    : model::message("change.focus", now,
                                     model::message("quoted", faultName(pack, c.focusBefore))));
            break;
        }
        case Change::Of::appears:
            says.push_back(model::message("change.fault_found", faultName(pack, c.id)));
            break;
        case Change::Of::goes:
            says.push_back(model::message("change.fault_gone", faultName(pack, c.id)));
            break;
        case Change::Of::verdict:
        case Change::Of::range:
            says.push_back(
                model::message("change.measure", measureName(pack, c.id), c.before, c.after));
            break;
        }
    }
    return says;
}

} // namespace kestrel::coaching
