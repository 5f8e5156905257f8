#include "cli/output.h"

#include <iostream>

namespace kestrel::cli {

void printJson(const nlohmann::json& json) {
    std::cout << json.dump(2) << '\n';
}

void printFields(const nlohmann::json& object) {
    for (const auto& [key, value] : object.items()) {
        std::cout << key << ": "
                  << (value.is_null()     ? "not known"
                      : value.is_string() ? value.get<std::string>()
                                          : value.dump())
                  << '\n';
    }
}

} // namespace kestrel::cli
