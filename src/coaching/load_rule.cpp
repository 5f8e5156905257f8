#include "coaching/load_rule.h"

#include "technique/json_file.h"

#include <algorithm>

namespace kestrel::coaching {

using nlohmann::json;

LoadRule loadRule(const std::filesystem::path& file, const std::filesystem::path& schemaFile) {
    const json content = technique::readChecked(file, schemaFile);
    LoadRule rule{content.at("name"), content.at("basis"), {}};
    for (const json& b : content.at("bands")) {
        LoadRule::Band band;
        if (b.contains("age_to")) {
            band.ageTo = b.at("age_to").get<int>();
        }
        for (const json& r : b.at("rest")) {
            band.rest.push_back({r.at("from_throws").get<int>(), r.at("days").get<int>()});
        }
        rule.bands.push_back(std::move(band));
    }
    if (rule.bands.back().ageTo) {
        throw technique::dataError(file, "/bands",
                                   "the last band must hold for everybody older, without age_to");
    }
    return rule;
}

LoadRule exampleLoadRule(const std::filesystem::path& dataDirectory) {
    return loadRule(dataDirectory / "load" / "example.json",
                    dataDirectory / "schema" / "load_rule.schema.json");
}

int restDaysAfter(const LoadRule& rule, std::optional<int> ageYears, int throws) {
    const auto band =
        std::find_if(rule.bands.begin(), rule.bands.end(), [&](const LoadRule::Band& b) {
            return !ageYears || !b.ageTo || *ageYears <= *b.ageTo;
        });
    int days = 0;
    for (const LoadRule::Rest& rest : band->rest) {
        if (throws >= rest.fromThrows) {
            days = std::max(days, rest.days);
        }
    }
    return days;
}

} // namespace kestrel::coaching
