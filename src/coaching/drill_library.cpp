#include "coaching/drill_library.h"

#include "technique/pack/json_file.h"

#include <algorithm>
#include <cctype>
#include <set>
#include <sstream>

namespace kestrel::coaching {
namespace {

using nlohmann::json;

DrillPlace placeFrom(const std::string& text) {
    if (text == "home") {
        return DrillPlace::home;
    }
    return text == "aid" ? DrillPlace::aid : DrillPlace::field;
}

Drill drillFrom(const json& j) {
    Drill drill;
    drill.id = j.at("id");
    drill.name = j.at("name");
    drill.place = placeFrom(j.at("place"));
    drill.setUp = j.at("set_up");
    drill.steps = j.at("steps");
    for (const json& d : j.at("dose")) {
        DrillDose dose;
        if (d.contains("age_to")) {
            dose.ageTo = d.at("age_to").get<int>();
        }
        dose.text = d.at("text");
        drill.doses.push_back(std::move(dose));
    }
    drill.feel = j.at("feel");
    drill.mistake = j.at("mistake");
    drill.progression = j.at("progression");
    drill.equipment = j.at("equipment");
    drill.minutes = j.at("minutes");
    drill.caution = j.at("caution");
    drill.throws = j.value("throws", false);
    return drill;
}

} // namespace

std::filesystem::path drillSchema(const std::filesystem::path& dataDirectory) {
    return dataDirectory / "schema" / "drills.schema.json";
}

DrillLibrary drillsFromText(const std::string& text, const std::filesystem::path& file,
                            const std::filesystem::path& schemaFile) {
    const json content = technique::parseJson(text, file);
    technique::checkJson(content, file, schemaFile);
    DrillLibrary library;
    std::size_t number = 0;
    for (const json& j : content.at("drills")) {
        Drill drill = drillFrom(j);
        const std::string place = "/drills/" + std::to_string(number++);
        if (drill.doses.back().ageTo) {
            throw technique::dataError(file, place + "/dose", model::message("drills.last_dose"));
        }
        const std::string id = drill.id;
        if (!library.emplace(id, std::move(drill)).second) {
            throw technique::dataError(file, place + "/id", model::message("drills.twice", id));
        }
    }
    return library;
}

void addDrills(DrillLibrary& library, const DrillLibrary& more, const std::filesystem::path& file) {
    for (const auto& [id, drill] : more) {
        if (library.contains(id)) {
            throw technique::dataError(file, "/drills", model::message("drills.exists", id));
        }
    }
    library.insert(more.begin(), more.end());
}

DrillLibrary loadDrills(const std::filesystem::path& dataDirectory) {
    DrillLibrary library;
    for (const auto& entry : std::filesystem::directory_iterator(dataDirectory / "drills")) {
        if (entry.path().extension() == ".json") {
            addDrills(library,
                      drillsFromText(technique::readText(entry.path()), entry.path(),
                                     drillSchema(dataDirectory)),
                      entry.path());
        }
    }
    return library;
}

void checkDrills(const technique::Pack& pack, const DrillLibrary& drills) {
    for (std::size_t i = 0; i < pack.faults.size(); ++i) {
        const std::string place = "/faults/" + std::to_string(i) + "/drills";
        std::set<DrillPlace> places;
        for (const std::string& id : pack.faults[i].drills) {
            const auto drill = drills.find(id);
            if (drill == drills.end()) {
                throw technique::dataError(pack.file, place, model::message("drills.none", id));
            }
            places.insert(drill->second.place);
        }
        if (places.size() < 3) {
            throw technique::dataError(pack.file, place, model::message("drills.three"));
        }
    }
}

std::string doseFor(const Drill& drill, std::optional<int> ageYears) {
    const auto fits = std::find_if(drill.doses.begin(), drill.doses.end(), [&](const DrillDose& d) {
        return !d.ageTo || (ageYears && *ageYears <= *d.ageTo);
    });
    return fits->text;
}

std::vector<const Drill*> searchDrills(const DrillLibrary& library, const DrillSearch& search) {
    const auto small = [](std::string text) {
        std::transform(text.begin(), text.end(), text.begin(),
                       [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
        return text;
    };
    std::vector<std::string> words;
    std::istringstream typed(small(search.words));
    for (std::string word; typed >> word;) {
        words.push_back(word);
    }
    const auto named = [](const technique::FaultDefinition& fault, const std::string& id) {
        return std::find(fault.drills.begin(), fault.drills.end(), id) != fault.drills.end();
    };
    const auto fits = [&](const Drill& drill) {
        std::string all = drill.name + " " + drill.setUp;
        for (const std::string& step : drill.steps) {
            all += " " + step;
        }
        all = small(all);
        const auto& needs = drill.equipment;
        return std::all_of(words.begin(), words.end(),
                           [&](const auto& w) { return all.find(w) != std::string::npos; }) &&
               (!search.place || drill.place == *search.place) &&
               (!search.mostMinutes || drill.minutes <= *search.mostMinutes) &&
               (!search.equipment ||
                (search.equipment->empty()
                     ? needs.empty()
                     : std::find(needs.begin(), needs.end(), *search.equipment) != needs.end())) &&
               (search.fault == nullptr || named(*search.fault, drill.id)) &&
               (search.pack == nullptr ||
                std::any_of(search.pack->faults.begin(), search.pack->faults.end(),
                            [&](const auto& fault) { return named(fault, drill.id); }));
    };
    std::vector<const Drill*> found;
    for (const auto& [id, drill] : library) {
        if (fits(drill)) {
            found.push_back(&drill);
        }
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Drill* a, const Drill* b) { return a->name < b->name; });
    return found;
}

model::Message nameOf(DrillPlace place) {
    return model::message(place == DrillPlace::home  ? "drill.at_home"
                          : place == DrillPlace::aid ? "drill.with_aid"
                                                     : "drill.on_field");
}

} // namespace kestrel::coaching
