#include "technique/pack/text_overlay.h"

#include "technique/pack/json_file.h"

#include <algorithm>
#include <array>
#include <functional>
#include <string_view>

namespace kestrel::technique {
namespace {

using nlohmann::json;

/// Of all that packs and drills hold as text, what a coach or player reads. The rest is ids,
/// sources and units.
constexpr std::array<std::string_view, 24> readable{
    "name",  "definition",      "look_for", "text", "reason",  "why",         "meaning",
    "cues",  "caution",         "cautions", "note", "plain",   "question",    "advice",
    "part",  "segment",         "sport",    "feel", "mistake", "progression", "set_up",
    "steps", "second_view_for", "basis"};

bool isReadable(const std::string& key) {
    return std::find(readable.begin(), readable.end(), key) != readable.end();
}

/// Calls `visit` with the path and the place of each readable text.
void eachText(json& value, const std::string& path, bool read,
              const std::function<void(const std::string&, json&)>& visit) {
    const auto below = [&](const std::string& step) {
        return path.empty() ? step : path + "/" + step;
    };
    if (value.is_object()) {
        for (auto& [key, part] : value.items()) {
            eachText(part, below(key), isReadable(key), visit);
        }
    } else if (value.is_array()) {
        for (std::size_t i = 0; i < value.size(); ++i) {
            const bool named = value[i].is_object() && value[i].contains("id");
            eachText(value[i], below(named ? value[i]["id"].get<std::string>() : std::to_string(i)),
                     read, visit);
        }
    } else if (value.is_string() && read) {
        visit(path, value);
    }
}

} // namespace

Texts textsOf(const json& content) {
    Texts texts;
    json copy = content;
    eachText(copy, {}, false, [&](const std::string& path, json& text) {
        texts.emplace(path, text.get<std::string>());
    });
    return texts;
}

json overlaid(json content, const Texts& texts) {
    eachText(content, {}, false, [&](const std::string& path, json& text) {
        if (const auto found = texts.find(path); found != texts.end()) {
            text = found->second;
        }
    });
    return content;
}

Texts textsFor(const std::filesystem::path& dataDirectory, const std::string& language,
               const std::string& name) {
    const auto file = dataDirectory / "languages" / language / (name + ".json");
    if (language.empty() || !std::filesystem::exists(file)) {
        return {};
    }
    const json content = parseJson(readText(file), file);
    const auto texts = content.find("texts");
    if (content.value("format", 0) != 1 || texts == content.end() || !texts->is_object()) {
        throw dataError(file, "/texts", model::message("data.texts_missing"));
    }
    Texts result;
    for (const auto& [path, text] : texts->items()) {
        if (!text.is_string()) {
            throw dataError(file, "/texts/" + path, model::message("data.no_text"));
        }
        result.emplace(path, text.get<std::string>());
    }
    return result;
}

Pack inLanguage(const Pack& pack, const std::filesystem::path& dataDirectory,
                const std::string& language) {
    const Texts texts = textsFor(dataDirectory, language, pack.id);
    if (texts.empty()) {
        return pack;
    }
    const json content = overlaid(parseJson(pack.text, pack.file), texts);
    Pack result = packFromText(content.dump(), pack.file, packSchema(dataDirectory));
    result.text = pack.text; // the edition it is
    return result;
}

} // namespace kestrel::technique
