#include "coaching/drill_library.h"

#include "technique/json_file.h"

#include <algorithm>
#include <set>

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
            throw technique::dataError(file, place + "/dose",
                                       "the last dose must hold for everybody older, without "
                                       "age_to");
        }
        const std::string id = drill.id;
        if (!library.emplace(id, std::move(drill)).second) {
            throw technique::dataError(file, place + "/id", "there are two drills “" + id + "”");
        }
    }
    return library;
}

void addDrills(DrillLibrary& library, const DrillLibrary& more, const std::filesystem::path& file) {
    for (const auto& [id, drill] : more) {
        if (library.contains(id)) {
            throw technique::dataError(file, "/drills", "there is a drill “" + id + "” already");
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
                throw technique::dataError(pack.file, place, "there is no drill “" + id + "”");
            }
            places.insert(drill->second.place);
        }
        if (places.size() < 3) {
            throw technique::dataError(
                pack.file, place,
                "a fault needs a drill for home, one with an aid and one on the field");
        }
    }
}

std::string doseFor(const Drill& drill, std::optional<int> ageYears) {
    const auto fits = std::find_if(drill.doses.begin(), drill.doses.end(), [&](const DrillDose& d) {
        return !d.ageTo || (ageYears && *ageYears <= *d.ageTo);
    });
    return fits->text;
}

std::string placeText(DrillPlace place) {
    switch (place) {
    case DrillPlace::home:
        return "at home, nothing needed";
    case DrillPlace::aid:
        return "at home with an aid";
    case DrillPlace::field:
        return "on the field";
    }
    return {};
}

} // namespace kestrel::coaching
