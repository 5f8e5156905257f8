#pragma once

#include "model/message.h"
#include "technique/pack/pack.h"

#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <vector>

/// Drills: shared by all packs, read from packs/drills/*.json.
namespace kestrel::coaching {

enum class DrillPlace { home, aid, field };

struct DrillDose {
    std::optional<int> ageTo; ///< inclusive; unset: everybody older
    std::string text;
};

struct Drill {
    std::string id;
    std::string name;
    DrillPlace place = DrillPlace::home;
    std::string setUp;
    std::vector<std::string> steps;
    std::vector<DrillDose> doses; ///< youngest first
    std::string feel;
    std::string mistake;
    std::string progression;
    std::vector<std::string> equipment;
    int minutes = 0;
    std::string caution;
    bool throws = false; ///< a ball is thrown, pitched or served: it counts as load
};

/// What to look for in a library; what is unset does not narrow it.
struct DrillSearch {
    std::string words; ///< all of them, in name, set-up or steps
    std::optional<DrillPlace> place;
    std::optional<int> mostMinutes;
    std::optional<std::string> equipment;              ///< empty: drills that need none
    const technique::FaultDefinition* fault = nullptr; ///< whose drills they have to be
    const technique::Pack* pack = nullptr;             ///< with a fault that names them
};

using DrillLibrary = std::map<std::string, Drill>;

/// Reads every drill file of `dataDirectory`/drills. Throws model::InputError naming file, place
/// and reason.
DrillLibrary loadDrills(const std::filesystem::path& dataDirectory);

/// The JSON Schema that drill files have to fit.
std::filesystem::path drillSchema(const std::filesystem::path& dataDirectory);

/// The drills of text that is, was or is to be the content of `file`. Throws as loadDrills.
DrillLibrary drillsFromText(const std::string& text, const std::filesystem::path& file,
                            const std::filesystem::path& schemaFile);

/// Adds drills to a library. Throws model::InputError, and adds nothing, when it has one of that id
/// already; `file` is where the new ones come from.
void addDrills(DrillLibrary& library, const DrillLibrary& more, const std::filesystem::path& file);

/// Throws model::InputError when a fault of the pack names a drill that the library lacks, or does
/// not have one for home, one with an aid and one on the field.
void checkDrills(const technique::Pack& pack, const DrillLibrary& drills);

/// The dose for a player of that age; the oldest group's when the age is not known.
std::string doseFor(const Drill& drill, std::optional<int> ageYears);

/// The drills that fit, by name.
std::vector<const Drill*> searchDrills(const DrillLibrary& library, const DrillSearch& search);

/// "at home, nothing needed", "at home with an aid", "on the field".
model::Message nameOf(DrillPlace place);

} // namespace kestrel::coaching
