#pragma once

#include "coaching/drill_library.h"

#include <filesystem>
#include <string>

namespace kestrel::coaching {

/// The drills that ship, with the texts that languages/CODE/drills/NAME.json has for a drill file
/// of that name (technique/pack/text_overlay.h). Throws as loadDrills.
DrillLibrary loadDrillsIn(const std::filesystem::path& dataDirectory, const std::string& language);

/// “resistance band”.
model::Message nameOfEquipment(const std::string& item);

} // namespace kestrel::coaching
