#pragma once

#include "model/input_error.h"

#include <nlohmann/json.hpp>

#include <filesystem>
#include <string>

namespace kestrel::technique {

/// A fault in a data file: the message names file, place and reason.
model::InputError dataError(const std::filesystem::path& file, const std::string& place,
                            const std::string& reason);

/// Reads a JSON file. Throws dataError with the line of a syntax error.
nlohmann::json readJson(const std::filesystem::path& file);

/// Reads a JSON file and checks it against a JSON Schema (draft 7). Throws dataError with the JSON
/// pointer of the first fault, or the line of a syntax error.
nlohmann::json readChecked(const std::filesystem::path& file,
                           const std::filesystem::path& schemaFile);

} // namespace kestrel::technique
