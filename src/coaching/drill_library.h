#pragma once

#include "technique/pack.h"

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
};

using DrillLibrary = std::map<std::string, Drill>;

/// Reads every drill file of `dataDirectory`/drills. Throws model::InputError naming file, place
/// and reason.
DrillLibrary loadDrills(const std::filesystem::path& dataDirectory);

/// Throws model::InputError when a fault of the pack names a drill that the library lacks, or does
/// not have one for home, one with an aid and one on the field.
void checkDrills(const technique::Pack& pack, const DrillLibrary& drills);

/// The dose for a player of that age; the oldest group's when the age is not known.
std::string doseFor(const Drill& drill, std::optional<int> ageYears);

/// "at home, nothing needed", "at home with an aid", "on the field".
std::string placeText(DrillPlace place);

} // namespace kestrel::coaching
