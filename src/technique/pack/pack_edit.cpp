#include "technique/pack/pack_edit.h"

#include "technique/pack/json_file.h"

#include <algorithm>

namespace kestrel::technique {
namespace {

/// The part that "$ref": "#/definitions/…" names, else the part itself.
const Document& followed(const Document& schema, const Document& part) {
    if (!part.is_object() || !part.contains("$ref")) {
        return part;
    }
    const std::string reference = part.at("$ref");
    return schema.at(Pointer(reference.substr(1)));
}

std::size_t indexOf(const Pointer& place) {
    return static_cast<std::size_t>(std::stoul(place.back()));
}

} // namespace

Document documentOf(const std::string& text, const std::filesystem::path& file) {
    parseJson(text, file); // says where it is not well-formed
    return Document::parse(text);
}

std::string textOf(const Document& document) {
    constexpr int indent = 2;
    return document.dump(indent) + '\n';
}

Document copied(const Document& pack, const std::string& id, const std::string& name) {
    Document copy;
    for (const auto& [key, value] : pack.items()) {
        copy[key] = value;
        if (key == "id") {
            copy["based_on"] = value; // stands next to it
            copy["learned_as"] = pack.value("learned_as", value.get<std::string>());
        }
    }
    copy["id"] = id;
    copy["based_on"] = pack.at("id");
    copy["version"] = 1;
    copy["name"] = name;
    return copy;
}

Document withValue(Document pack, const Pointer& place, const Document& value) {
    if (!value.is_null()) {
        pack[place] = value;
        return pack;
    }
    return pack.contains(place) ? without(std::move(pack), place) : pack;
}

Document withAdded(Document pack, const Pointer& list, const Document& item) {
    if (!pack.contains(list)) {
        pack[list] = Document::array();
    }
    pack[list].push_back(item);
    return pack;
}

Document without(Document pack, const Pointer& place) {
    Document& parent = pack.at(place.parent_pointer());
    if (parent.is_array()) {
        parent.erase(parent.begin() + static_cast<std::ptrdiff_t>(indexOf(place)));
    } else {
        parent.erase(place.back());
    }
    return pack;
}

Document moved(Document pack, const Pointer& place, int by) {
    Document& list = pack.at(place.parent_pointer());
    const auto from = static_cast<std::ptrdiff_t>(indexOf(place));
    const auto last = static_cast<std::ptrdiff_t>(list.size()) - 1;
    const std::ptrdiff_t to = std::clamp<std::ptrdiff_t>(from + by, 0, last);
    Document item = list.at(static_cast<std::size_t>(from));
    list.erase(list.begin() + from);
    list.insert(list.begin() + to, std::move(item));
    return pack;
}

Document schemaAt(const Document& schema, const Pointer& place) {
    const Document* part = &followed(schema, schema);
    std::vector<std::string> steps;
    for (Pointer rest = place; !rest.empty(); rest = rest.parent_pointer()) {
        steps.push_back(rest.back());
    }
    std::reverse(steps.begin(), steps.end());
    for (const std::string& step : steps) {
        const Document* next = nullptr;
        if (part->contains("properties") && part->at("properties").contains(step)) {
            next = &part->at("properties").at(step);
        } else if (part->contains("items")) {
            // A list of fixed length has a schema for each of its items.
            const Document& items = part->at("items");
            const bool number = step.find_first_not_of("0123456789") == std::string::npos;
            if (!items.is_array()) {
                next = &items;
            } else if (number && std::stoul(step) < items.size()) {
                next = &items.at(std::stoul(step));
            }
        } else if (part->contains("additionalProperties") &&
                   part->at("additionalProperties").is_object()) {
            next = &part->at("additionalProperties");
        }
        if (next == nullptr) {
            return Document::object();
        }
        part = &followed(schema, *next);
    }
    return *part;
}

Document smallest(const Document& schema, const Document& unfollowed) {
    const Document& part = followed(schema, unfollowed);
    if (part.contains("enum")) {
        return part.at("enum").front();
    }
    if (part.contains("const")) {
        return part.at("const");
    }
    Document required = part.value("required", Document::array());
    for (const char* choice : {"oneOf", "anyOf"}) {
        if (!part.contains(choice)) {
            continue;
        }
        const Document& first = part.at(choice).front();
        if (!part.contains("properties")) {
            return smallest(schema, first);
        }
        // The choice is only which members there have to be.
        for (const auto& key : first.value("required", Document::array())) {
            required.push_back(key);
        }
    }
    const Document type = part.value("type", Document("string"));
    const std::string first = type.is_array() ? type.front() : type;
    if (first == "object") {
        Document object = Document::object();
        // Of members that exclude each other, the first.
        if (part.value("minProperties", 0) > 0 && part.contains("properties")) {
            const auto only = part.at("properties").begin();
            object[only.key()] = smallest(schema, only.value());
        }
        for (const auto& key : required) {
            object[key.get<std::string>()] =
                smallest(schema, part.value("properties", Document::object())
                                     .value(key.get<std::string>(), Document::object()));
        }
        return object;
    }
    if (first == "array") {
        Document list = Document::array();
        const auto fewest = part.value("minItems", 0);
        for (int i = 0; i < fewest; ++i) {
            const Document& items = part.at("items");
            list.push_back(
                smallest(schema, items.is_array() ? items.at(static_cast<std::size_t>(i)) : items));
        }
        return list;
    }
    if (first == "integer") {
        return part.value("minimum", part.contains("exclusiveMinimum") ? 1 : 0);
    }
    if (first == "number") {
        return part.value("minimum", part.contains("exclusiveMinimum") ? 1.0 : 0.0);
    }
    if (first == "boolean") {
        return false;
    }
    return part.contains("pattern") ? "new" : "…";
}

} // namespace kestrel::technique
