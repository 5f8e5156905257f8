#pragma once

#include "model/input_error.h"

#include <nlohmann/json.hpp>

#include <filesystem>
#include <string>

namespace kestrel::technique {

/// A fault in a data file: the message names file, place and reason.
model::InputError dataError(const std::filesystem::path& file, const std::string& place,
                            model::Message reason);

/// The content of a file. Throws dataError when it cannot be read.
std::string readText(const std::filesystem::path& file);

/// Reads JSON that is in `file`. Throws dataError with the line of a syntax error, or with a key
/// that stands twice in one object.
nlohmann::json parseJson(const std::string& text, const std::filesystem::path& file);

/// The first fault of the content of `file` against a JSON Schema (draft 7), as dataError with its
/// JSON pointer.
void checkJson(const nlohmann::json& content, const std::filesystem::path& file,
               const std::filesystem::path& schemaFile);

/// Reads a JSON file and checks it against a JSON Schema (draft 7). Throws dataError with the JSON
/// pointer of the first fault, or the line of a syntax error.
nlohmann::json readChecked(const std::filesystem::path& file,
                           const std::filesystem::path& schemaFile);

} // namespace kestrel::technique
