#include "cli/output.h"

#include <iostream>

namespace kestrel::cli {

void printJson(const nlohmann::json& json) {
    std::cout << json.dump(2) << '\n';
}

namespace {

std::string plain(const nlohmann::json& value) {
    return value.is_null()     ? "not known"
           : value.is_string() ? value.get<std::string>()
                               : value.dump();
}

} // namespace

void printFields(const nlohmann::json& object) {
    for (const auto& [key, value] : object.items()) {
        if (!value.is_array()) {
            std::cout << key << ": " << plain(value) << '\n';
            continue;
        }
        std::cout << key << ":\n";
        for (const auto& element : value) {
            std::cout << ' ';
            if (element.is_object()) {
                for (const auto& [name, part] : element.items()) {
                    std::cout << ' ' << name << ' ' << plain(part);
                }
            } else {
                std::cout << ' ' << plain(element);
            }
            std::cout << '\n';
        }
    }
}

} // namespace kestrel::cli
