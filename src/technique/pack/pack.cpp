#include "technique/pack/pack.h"

#include <algorithm>

namespace kestrel::technique {
namespace {

template <class T> const T* byId(const std::vector<T>& items, std::string_view id) {
    const auto found =
        std::find_if(items.begin(), items.end(), [id](const T& item) { return item.id == id; });
    return found == items.end() ? nullptr : &*found;
}

} // namespace

Pack::Pack() = default;
Pack::Pack(const Pack&) = default;
Pack::Pack(Pack&&) noexcept = default;
Pack& Pack::operator=(const Pack&) = default;
Pack& Pack::operator=(Pack&&) noexcept = default;
Pack::~Pack() = default;

const Position* findPosition(const Pack& pack, std::string_view id) {
    return byId(pack.positions, id);
}
const Measure* findMeasure(const Pack& pack, std::string_view id) {
    return byId(pack.measures, id);
}
const FaultDefinition* findFault(const Pack& pack, std::string_view id) {
    return byId(pack.faults, id);
}
const Observation* findObservation(const Pack& pack, std::string_view id) {
    return byId(pack.observations, id);
}

const SchoolOption* findSchool(const Pack& pack, std::string_view id) {
    for (const SchoolQuestion& question : pack.schools) {
        if (const SchoolOption* option = byId(question.options, id)) {
            return option;
        }
    }
    return nullptr;
}

std::size_t positionOrder(const Pack& pack, std::string_view id) {
    const auto found = std::find_if(pack.positions.begin(), pack.positions.end(),
                                    [id](const Position& p) { return p.id == id; });
    return static_cast<std::size_t>(found - pack.positions.begin());
}

std::set<std::string> schoolsInForce(const Pack& pack, const std::set<std::string>& chosen) {
    std::set<std::string> inForce;
    for (const SchoolQuestion& question : pack.schools) {
        const auto picked =
            std::find_if(question.options.begin(), question.options.end(),
                         [&](const SchoolOption& option) { return chosen.contains(option.id); });
        inForce.insert(picked == question.options.end() ? question.defaultOption : picked->id);
    }
    return inForce;
}

std::set<std::string> nearestChoice(const Pack& pack,
                                    const std::vector<std::set<std::string>>& choices) {
    std::set<std::string> nearest;
    for (const SchoolQuestion& question : pack.schools) {
        for (const std::set<std::string>& chosen : choices) {
            const auto picked = std::find_if(
                question.options.begin(), question.options.end(),
                [&](const SchoolOption& option) { return chosen.contains(option.id); });
            if (picked != question.options.end()) {
                nearest.insert(picked->id);
                break;
            }
        }
    }
    return nearest;
}

std::filesystem::path packSchema(const std::filesystem::path& dataDirectory) {
    return dataDirectory / "schema" / "technique.schema.json";
}

std::vector<Pack> loadPacks(const std::filesystem::path& dataDirectory) {
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::directory_iterator(dataDirectory / "techniques")) {
        if (entry.path().extension() == ".json") {
            files.push_back(entry.path());
        }
    }
    std::sort(files.begin(), files.end());
    std::vector<Pack> packs;
    packs.reserve(files.size());
    for (const auto& file : files) {
        packs.push_back(loadPack(file, packSchema(dataDirectory)));
    }
    return packs;
}

} // namespace kestrel::technique
