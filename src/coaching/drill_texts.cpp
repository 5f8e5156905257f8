#include "coaching/drill_texts.h"

#include "technique/pack/json_file.h"
#include "technique/pack/text_overlay.h"

#include <algorithm>

namespace kestrel::coaching {

DrillLibrary loadDrillsIn(const std::filesystem::path& dataDirectory, const std::string& language) {
    DrillLibrary library = loadDrills(dataDirectory);
    for (const auto& entry : std::filesystem::directory_iterator(dataDirectory / "drills")) {
        const std::filesystem::path& file = entry.path();
        const technique::Texts texts =
            technique::textsFor(dataDirectory, language, "drills/" + file.stem().string());
        if (file.extension() != ".json" || texts.empty()) {
            continue;
        }
        const auto content = technique::parseJson(technique::readText(file), file);
        for (auto& [id, drill] : drillsFromText(technique::overlaid(content, texts).dump(), file,
                                                drillSchema(dataDirectory))) {
            library.insert_or_assign(id, drill);
        }
    }
    return library;
}

model::Message nameOfEquipment(const std::string& item) {
    std::string id = "equipment." + item;
    std::replace_if(
        id.begin(), id.end(), [](char c) { return c == ' ' || c == '-'; }, '_');
    return model::message(id);
}

} // namespace kestrel::coaching
