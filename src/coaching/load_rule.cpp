#include "coaching/load_rule.h"

#include "technique/pack/json_file.h"

#include <algorithm>

namespace kestrel::coaching {

using nlohmann::json;

LoadRule loadRuleFromText(const std::string& text, const std::filesystem::path& file,
                          const std::filesystem::path& schemaFile) {
    const json content = technique::parseJson(text, file);
    technique::checkJson(content, file, schemaFile);
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
    for (std::size_t i = 0; i + 1 < rule.bands.size(); ++i) {
        const auto& younger = rule.bands[i].ageTo;
        const auto& older = rule.bands[i + 1].ageTo;
        if (!younger || (older && *older <= *younger)) {
            throw technique::dataError(file, "/bands/" + std::to_string(i),
                                       model::message("load.bands_order"));
        }
    }
    if (rule.bands.back().ageTo) {
        throw technique::dataError(file, "/bands", model::message("load.last_band"));
    }
    return rule;
}

std::filesystem::path loadRuleSchema(const std::filesystem::path& dataDirectory) {
    return dataDirectory / "schema" / "load_rule.schema.json";
}

std::filesystem::path exampleLoadRuleFile(const std::filesystem::path& dataDirectory) {
    return dataDirectory / "load" / "example.json";
}

LoadRule exampleLoadRule(const std::filesystem::path& dataDirectory) {
    const std::filesystem::path file = exampleLoadRuleFile(dataDirectory);
    return loadRuleFromText(technique::readText(file), file, loadRuleSchema(dataDirectory));
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
