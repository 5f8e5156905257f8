#include "technique/pack/json_file.h"

#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

#include <algorithm>
#include <fstream>
#include <iterator>
#include <set>
#include <vector>

namespace kestrel::technique {
namespace {

/// valijson gives "<root>[measures][3]"; coaches and editors know "/measures/3".
std::string pointer(const std::vector<std::string>& context) {
    std::string text;
    for (const std::string& step : context) {
        if (step != "<root>") {
            text += '/' + step.substr(1, step.size() - 2);
        }
    }
    return text.empty() ? "/" : text;
}

} // namespace

model::InputError dataError(const std::filesystem::path& file, const std::string& place,
                            model::Message reason) {
    return {model::message("data.at", file.filename().string(),
                           place.empty() ? model::message("data.whole_file") : model::asItIs(place),
                           std::move(reason)),
            model::message("safe.file_left"), model::message("todo.mend_place")};
}

std::string readText(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    if (!in) {
        throw dataError(file, "", model::message("data.unreadable"));
    }
    return {std::istreambuf_iterator<char>(in), std::istreambuf_iterator<char>()};
}

nlohmann::json parseJson(const std::string& text, const std::filesystem::path& file) {
    std::vector<std::set<std::string>> keys; // of the objects around the place that is read
    std::string twice;
    const auto noteKeys = [&](int, nlohmann::json::parse_event_t event, nlohmann::json& value) {
        using Event = nlohmann::json::parse_event_t;
        if (event == Event::object_start) {
            keys.emplace_back();
        } else if (event == Event::object_end) {
            keys.pop_back();
        } else if (event == Event::key && !keys.back().insert(value).second && twice.empty()) {
            twice = value;
        }
        return true;
    };
    try {
        nlohmann::json content = nlohmann::json::parse(text, noteKeys);
        if (!twice.empty()) {
            throw dataError(file, "“" + twice + "”", model::message("data.twice"));
        }
        return content;
    } catch (const nlohmann::json::parse_error& error) {
        const auto end =
            text.begin() + static_cast<std::ptrdiff_t>(std::min(error.byte, text.size()));
        const auto line = 1 + std::count(text.begin(), end, '\n');
        throw model::InputError(model::message("data.not_json", file.filename().string(), line),
                                model::message("safe.file_left"),
                                model::message("todo.mend_place"));
    }
}

void checkJson(const nlohmann::json& content, const std::filesystem::path& file,
               const std::filesystem::path& schemaFile) {
    const nlohmann::json schemaJson = parseJson(readText(schemaFile), schemaFile);
    valijson::Schema schema;
    valijson::SchemaParser parser;
    parser.populateSchema(valijson::adapters::NlohmannJsonAdapter(schemaJson), schema);

    valijson::Validator validator;
    valijson::ValidationResults results;
    if (!validator.validate(schema, valijson::adapters::NlohmannJsonAdapter(content), &results)) {
        // The deepest place says most: its parents only fail because it does.
        const auto deepest =
            std::max_element(results.begin(), results.end(), [](const auto& a, const auto& b) {
                return a.context.size() < b.context.size();
            });
        std::string reason = deepest->description;
        while (!reason.empty() && reason.back() == '.') {
            reason.pop_back();
        }
        throw dataError(file, pointer(deepest->context), model::asItIs(reason));
    }
}

nlohmann::json readChecked(const std::filesystem::path& file,
                           const std::filesystem::path& schemaFile) {
    nlohmann::json content = parseJson(readText(file), file);
    checkJson(content, file, schemaFile);
    return content;
}

} // namespace kestrel::technique
