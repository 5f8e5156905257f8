#pragma once

#include "technique/pack/pack.h"

#include <filesystem>
#include <map>
#include <string>
#include <vector>

/// Texts of packs and drills in another language. They lie beside the packs, in
/// languages/CODE/NAME.json with {"format": 1, "texts": {PATH: TEXT}}. A path goes by ids where a
/// list has them and by numbers where it has not: "faults/early_arm/cues/0". What is judged, and
/// the edition that a rep is judged with, stay those of the pack.
namespace kestrel::technique {

/// Texts by their paths.
using Texts = std::map<std::string, std::string>;

/// What a translator has to say anew of a pack's or drill file's content.
Texts textsOf(const nlohmann::json& content);

/// The content with those of `texts` that it has a place for; the others are left out.
nlohmann::json overlaid(nlohmann::json content, const Texts& texts);

/// The texts for the file `name` in `language` ("de"); none when the folder has none. Throws
/// model::InputError for a file that is no such list.
Texts textsFor(const std::filesystem::path& dataDirectory, const std::string& language,
               const std::string& name);

/// The pack in that language; as it is where nobody has put it into it.
Pack inLanguage(const Pack& pack, const std::filesystem::path& dataDirectory,
                const std::string& language);

} // namespace kestrel::technique
