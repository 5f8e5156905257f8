#include "coaching/differences.h"

#include "coaching/own_variance.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace kestrel::coaching {
namespace {

const model::Reading* readingOf(const std::vector<model::Reading>& readings,
                                const std::string& measureId) {
    const auto found = std::find_if(readings.begin(), readings.end(), [&](const model::Reading& r) {
        return r.measureId == measureId;
    });
    return found == readings.end() ? nullptr : &*found;
}

/// Of two errors that are alike only their difference is left.
double leftOfCommon(double here, double there) {
    const double sd = std::sqrt(here) - std::sqrt(there);
    return sd * sd;
}

double differenceU95(const model::Reading& here, const model::Reading& there, InCommon common) {
    const OwnVariance a = ownVariance(here.uncertainty);
    const OwnVariance b = ownVariance(there.uncertainty);
    const double film = common == InCommon::film ? leftOfCommon(a.film, b.film) : a.film + b.film;
    const double player =
        common == InCommon::nothing ? a.player + b.player : leftOfCommon(a.player, b.player);
    return model::coverage95 * std::sqrt(a.rep + b.rep + film + player);
}

/// Directions are told within a whole turn: from 170° to −170° it is 20°.
double shortWay(double by, const technique::Measure& measure) {
    constexpr double turn = 360.0;
    return measure.unit == model::Unit::degrees ? std::remainder(by, turn) : by;
}

/// The measures that the focus, or what is to be watched, is judged by.
std::set<std::string> measuresOf(const technique::Pack& pack, const model::Plan& plan) {
    std::set<std::string> measures;
    std::vector<std::string> faults = plan.watchFaultIds;
    faults.push_back(plan.focusFaultId);
    for (const std::string& id : faults) {
        if (const technique::FaultDefinition* fault = technique::findFault(pack, id)) {
            for (const technique::Sign& sign : fault->signs) {
                measures.insert(sign.measure);
            }
        }
    }
    return measures;
}

std::vector<std::string> faultIds(const model::Findings& findings) {
    std::vector<std::string> ids;
    for (const model::Fault& fault : findings.faults) {
        ids.push_back(fault.faultId);
    }
    return ids;
}

bool contains(const std::vector<std::string>& ids, const std::string& id) {
    return std::find(ids.begin(), ids.end(), id) != ids.end();
}

} // namespace

double Difference::size() const {
    if (!read()) {
        return 0.0;
    }
    const double width = range && range->low && range->high ? *range->high - *range->low : 0.0;
    const double against = width > 0.0 ? width : u95;
    return against > 0.0 ? std::abs(by) / against : std::abs(by);
}

std::vector<Difference> differencesOf(const technique::Pack& pack,
                                      const std::vector<model::Reading>& here,
                                      const std::vector<model::Reading>& there, InCommon common) {
    std::vector<Difference> differences;
    for (const technique::Measure& measure : pack.measures) {
        const model::Reading* a = readingOf(here, measure.id);
        const model::Reading* b = readingOf(there, measure.id);
        if (a == nullptr && b == nullptr) {
            continue;
        }
        Difference difference;
        difference.measureId = measure.id;
        difference.positionId = measure.at;
        difference.unit = measure.unit;
        if (a != nullptr) {
            difference.here = a->unit == measure.unit ? a->value : std::nullopt;
            difference.range = a->range;
        }
        if (b != nullptr) {
            difference.there = b->unit == measure.unit ? b->value : std::nullopt;
        }
        if (difference.read()) {
            difference.by = shortWay(*difference.here - *difference.there, measure);
            difference.u95 = differenceU95(*a, *b, common);
        }
        differences.push_back(std::move(difference));
    }
    return differences;
}

std::vector<Difference> ordered(const technique::Pack& pack, std::vector<Difference> differences,
                                DifferenceOrder order, const model::Plan& plan) {
    const auto placeOf = [&](const Difference& d) {
        return std::find_if(pack.positions.begin(), pack.positions.end(),
                            [&](const technique::Position& p) { return p.id == d.positionId; }) -
               pack.positions.begin();
    };
    const std::set<std::string> planned =
        order == DifferenceOrder::byPlan ? measuresOf(pack, plan) : std::set<std::string>();
    std::stable_sort(differences.begin(), differences.end(),
                     [&](const Difference& a, const Difference& b) {
                         if (order == DifferenceOrder::bySize) {
                             return a.told() != b.told() ? a.told() : a.size() > b.size();
                         }
                         const bool aPlanned = planned.contains(a.measureId);
                         const bool bPlanned = planned.contains(b.measureId);
                         return aPlanned != bPlanned ? aPlanned : placeOf(a) < placeOf(b);
                     });
    return differences;
}

FaultsBetween faultsBetween(const model::Findings& here, const model::Findings& there) {
    FaultsBetween between;
    const std::vector<std::string> ofThere = faultIds(there);
    const std::vector<std::string> ofHere = faultIds(here);
    for (const std::string& id : ofHere) {
        (contains(ofThere, id) ? between.inBoth : between.onlyHere).push_back(id);
    }
    for (const std::string& id : ofThere) {
        if (!contains(ofHere, id)) {
            between.onlyThere.push_back(id);
        }
    }
    return between;
}

std::vector<model::Message> toldDifferences(const technique::Pack& pack,
                                            const std::vector<Difference>& differences,
                                            const model::Message& thanThere, std::size_t most) {
    std::vector<model::Message> says;
    for (const Difference& d : ordered(pack, differences, DifferenceOrder::bySize, {})) {
        if (!d.told() || says.size() == most) {
            break;
        }
        const bool isTime = d.unit == model::Unit::milliseconds || d.unit == model::Unit::seconds;
        const char* const id = isTime ? (d.by > 0.0 ? "differ.longer" : "differ.shorter")
                                      : (d.by > 0.0 ? "differ.more" : "differ.less");
        says.push_back(model::message(id, technique::findPosition(pack, d.positionId)->name,
                                      technique::findMeasure(pack, d.measureId)->name,
                                      model::Measured{std::abs(d.by), d.unit, d.u95}, thanThere));
    }
    if (says.empty()) {
        const bool anyRead = std::any_of(differences.begin(), differences.end(),
                                         [](const Difference& d) { return d.read(); });
        says.push_back(model::message(anyRead ? "differ.nothing_told" : "differ.nothing_read"));
    }
    return says;
}

} // namespace kestrel::coaching
