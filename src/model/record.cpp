#include "model/record.h"

namespace kestrel::model {
std::string_view name(Sex sex) {
    return sex == Sex::girl ? "girl" : "boy";
}

std::optional<Sex> sexFromName(std::string_view text) {
    for (const Sex sex : {Sex::girl, Sex::boy}) {
        if (name(sex) == text) {
            return sex;
        }
    }
    return std::nullopt;
}

std::string_view name(Seen seen) {
    switch (seen) {
    case Seen::yes:
        return "yes";
    case Seen::no:
        return "no";
    case Seen::notVisible:
        return "not_visible";
    }
    return {};
}

std::optional<Seen> seenFromName(std::string_view text) {
    for (const Seen seen : {Seen::yes, Seen::no, Seen::notVisible}) {
        if (name(seen) == text) {
            return seen;
        }
    }
    return std::nullopt;
}

std::optional<int> frameOf(const Rep& rep, const std::string& positionId) {
    if (const auto set = rep.positions.find(positionId); set != rep.positions.end()) {
        return set->second;
    }
    const auto found = rep.found.find(positionId);
    return found == rep.found.end() ? std::nullopt : std::optional(found->second.frame);
}

const FoundInstant* onlyFound(const Rep& rep, const std::string& positionId) {
    const auto found = rep.found.find(positionId);
    return found == rep.found.end() || rep.positions.contains(positionId) ? nullptr
                                                                          : &found->second;
}

std::map<std::string, int> allPositions(const Rep& rep) {
    std::map<std::string, int> all = rep.positions;
    for (const auto& [id, instant] : rep.found) {
        all.try_emplace(id, instant.frame);
    }
    return all;
}

} // namespace kestrel::model
