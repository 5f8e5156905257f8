#include "coaching/findings.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <optional>

namespace kestrel::coaching {
namespace {

using model::Fault;
using model::Reading;
using model::Verdict;
using technique::FaultDefinition;
using technique::Pack;
using technique::Sign;

/// What a sign shows: nothing, a reading at the edge, or a fault.
enum class Shown { no, atEdge, yes };

struct SignResult {
    Shown shown = Shown::no;
    const Reading* reading = nullptr;
    std::string denied;
};

bool inDirection(const Reading& reading, Sign::Is is) {
    if (is == Sign::Is::outside) {
        return true;
    }
    // An edge reading may lie inside its range; then the nearer limit tells the direction.
    const double value = *reading.value;
    const double toHigh = reading.range->high ? std::abs(value - *reading.range->high) : INFINITY;
    const double toLow = reading.range->low ? std::abs(value - *reading.range->low) : INFINITY;
    return is == Sign::Is::above ? toHigh <= toLow : toLow < toHigh;
}

class Derivation {
  public:
    Derivation(const std::vector<Reading>& readings,
               const std::map<std::string, model::Seen>& observations)
        : observations_(observations) {
        for (const Reading& reading : readings) {
            readings_[reading.measureId] = &reading;
        }
    }

    [[nodiscard]] SignResult look(const Sign& sign) const {
        SignResult result;
        if (sign.is == Sign::Is::denied) {
            const auto seen = observations_.find(sign.measure);
            if (seen != observations_.end() && seen->second == model::Seen::no) {
                result.shown = Shown::yes;
                result.denied = sign.measure;
            }
            return result;
        }
        const auto found = readings_.find(sign.measure);
        if (found == readings_.end()) {
            return result;
        }
        const Reading& reading = *found->second;
        const bool judged = reading.verdict == Verdict::outside || reading.verdict == Verdict::edge;
        if (judged && inDirection(reading, sign.is)) {
            result.shown = reading.verdict == Verdict::outside ? Shown::yes : Shown::atEdge;
            result.reading = &reading;
        }
        return result;
    }

    /// The fault as far as its signs show it; nothing when they do not.
    [[nodiscard]] std::optional<std::pair<Fault, Shown>> fault(const FaultDefinition& f) const {
        Shown strongest = Shown::no;
        Shown weakest = Shown::yes;
        Fault fault;
        fault.faultId = f.id;
        fault.safety = f.safety;
        for (const Sign& sign : f.signs) {
            const SignResult result = look(sign);
            strongest = std::max(strongest, result.shown);
            weakest = std::min(weakest, result.shown);
            if (result.reading != nullptr) {
                fault.evidence.push_back(*result.reading);
                const double beyond =
                    std::abs(model::distanceBeyond(*result.reading->value, *result.reading->range));
                fault.size = std::max(fault.size, beyond / std::max(result.reading->u95, 1e-9));
            }
            if (!result.denied.empty()) {
                fault.denials.push_back(result.denied);
            }
        }
        const Shown shown = f.allSigns ? weakest : strongest;
        if (shown == Shown::no) {
            return std::nullopt;
        }
        if (shown == Shown::atEdge) {
            fault.confidence = model::Confidence::possible;
        } else {
            constexpr double clearlyBeyond = 2.0; // in 95 % half widths
            fault.confidence = !fault.denials.empty() || fault.size >= clearlyBeyond
                                   ? model::Confidence::sure
                                   : model::Confidence::likely;
            std::erase_if(fault.evidence,
                          [](const Reading& r) { return r.verdict != Verdict::outside; });
        }
        return std::pair(fault, shown);
    }

  private:
    const std::map<std::string, model::Seen>& observations_;
    std::map<std::string, const Reading*> readings_;
};

/// Faults present that follow from `id`, directly or through faults that are not present.
void collectFollowers(const Pack& pack, const std::string& id, const std::set<std::string>& present,
                      std::set<std::string>& followers, std::set<std::string>& visited) {
    for (const std::string& next : technique::findFault(pack, id)->leadsTo) {
        if (!visited.insert(next).second) {
            continue;
        }
        if (present.contains(next)) {
            followers.insert(next);
        }
        collectFollowers(pack, next, present, followers, visited);
    }
}

void linkChains(const Pack& pack, std::vector<Fault>& faults) {
    std::set<std::string> present;
    for (const Fault& fault : faults) {
        present.insert(fault.faultId);
    }
    std::map<std::string, std::set<std::string>> followers;
    for (const std::string& id : present) {
        std::set<std::string> visited;
        collectFollowers(pack, id, present, followers[id], visited);
    }
    for (Fault& fault : faults) {
        const auto& after = followers[fault.faultId];
        fault.leadsTo.assign(after.begin(), after.end());
        fault.comesFrom.clear();
        for (const auto& [cause, effects] : followers) {
            if (effects.contains(fault.faultId)) {
                fault.comesFrom.push_back(cause);
            }
        }
    }
}

std::size_t startOf(const Pack& pack, const Fault& fault) {
    return technique::positionOrder(pack, technique::findFault(pack, fault.faultId)->at);
}

void sortByPriority(const Pack& pack, std::vector<Fault>& faults) {
    const auto safetyReached = [&](const Fault& fault) {
        return fault.safety ||
               std::any_of(fault.leadsTo.begin(), fault.leadsTo.end(), [&](const std::string& id) {
                   return technique::findFault(pack, id)->safety;
               });
    };
    // Sizes within one 95 % half width of each other are as good as equal.
    const auto step = [](const Fault& fault) { return std::floor(std::min(fault.size, 1e6)); };
    const auto share = [](const Fault& fault) {
        return static_cast<double>(fault.shownIn) / std::max(1, fault.readIn);
    };
    const auto before = [&](const Fault& a, const Fault& b) {
        if (a.pinned != b.pinned) {
            return a.pinned;
        }
        if (safetyReached(a) != safetyReached(b)) {
            return safetyReached(a);
        }
        if (a.comesFrom.empty() != b.comesFrom.empty()) {
            return a.comesFrom.empty(); // a cause before what follows from another
        }
        if (a.leadsTo.size() != b.leadsTo.size()) {
            return a.leadsTo.size() > b.leadsTo.size();
        }
        if (startOf(pack, a) != startOf(pack, b)) {
            return startOf(pack, a) < startOf(pack, b);
        }
        if (step(a) != step(b)) {
            return a.size > b.size;
        }
        return share(a) > share(b);
    };
    std::stable_sort(faults.begin(), faults.end(), before);
}

model::Message nameOf(const Pack& pack, const std::string& faultId) {
    return model::message("quoted", technique::findFault(pack, faultId)->name);
}

model::Message listed(const Pack& pack, const std::vector<std::string>& faultIds) {
    std::vector<model::Message> names;
    std::transform(faultIds.begin(), faultIds.end(), std::back_inserter(names),
                   [&](const std::string& id) { return nameOf(pack, id); });
    return model::listOf("list.and", std::move(names));
}

model::Message whyFirst(const Pack& pack, const std::vector<Fault>& faults) {
    if (faults.empty()) {
        return {};
    }
    const Fault& first = faults.front();
    const model::Message name = nameOf(pack, first.faultId);
    if (first.pinned) {
        return model::message("first.pinned", name);
    }
    const auto safety =
        std::find_if(faults.begin(), faults.end(), [](const Fault& f) { return f.safety; });
    if (safety != faults.end()) {
        return safety->faultId == first.faultId
                   ? model::message("first.safety", name)
                   : model::message("first.leads_to_safety", name, nameOf(pack, safety->faultId));
    }
    if (!first.leadsTo.empty()) {
        return model::message("first.cause", name, listed(pack, first.leadsTo));
    }
    if (faults.size() == 1) {
        return model::message("first.only", name);
    }
    return model::message("first.earliest", name);
}

} // namespace

model::Message putInOrder(const Pack& pack, std::vector<Fault>& faults) {
    linkChains(pack, faults);
    sortByPriority(pack, faults);
    return whyFirst(pack, faults);
}

bool couldBeTold(const FaultDefinition& fault, const std::vector<Reading>& readings,
                 const std::map<std::string, model::Seen>& observations) {
    const auto told = [&](const Sign& sign) {
        if (sign.is == Sign::Is::denied) {
            const auto seen = observations.find(sign.measure);
            return seen != observations.end() && seen->second != model::Seen::notVisible;
        }
        return std::any_of(readings.begin(), readings.end(), [&](const Reading& r) {
            return r.measureId == sign.measure && r.verdict != Verdict::reported &&
                   r.verdict != Verdict::unreadable;
        });
    };
    return fault.allSigns ? std::all_of(fault.signs.begin(), fault.signs.end(), told)
                          : std::any_of(fault.signs.begin(), fault.signs.end(), told);
}

model::Findings findingsOf(const Pack& pack, const std::vector<Reading>& readings,
                           const std::map<std::string, model::Seen>& observations,
                           const std::set<std::string>& schools) {
    model::Findings findings;
    const std::set<std::string> inForce = technique::schoolsInForce(pack, schools);
    const Derivation derivation(readings, observations);
    for (const FaultDefinition& definition : pack.faults) {
        if (!definition.school.empty() && !inForce.contains(definition.school)) {
            continue;
        }
        if (auto found = derivation.fault(definition)) {
            auto& list = found->second == Shown::yes ? findings.faults : findings.watch;
            list.push_back(std::move(found->first));
        }
    }
    findings.whyFirst = putInOrder(pack, findings.faults);
    for (const Reading& reading : readings) {
        if (reading.verdict == Verdict::inside) {
            findings.strengths.push_back({reading.measureId, reading});
        }
    }
    for (const Fault& fault : findings.faults) {
        const std::string& caution = technique::findFault(pack, fault.faultId)->caution;
        if (!caution.empty()) {
            findings.cautions.push_back(caution);
        }
    }
    findings.cautions.insert(findings.cautions.end(), pack.cautions.begin(), pack.cautions.end());
    return findings;
}

} // namespace kestrel::coaching
