#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

/// How much rest follows how many throws. The rule that counts is the local league's.
namespace kestrel::coaching {

struct LoadRule {
    struct Rest {
        int fromThrows = 0; ///< fewest throws of a day that ask for it
        int days = 0;       ///< whole days without throwing after that day
    };
    struct Band {
        std::optional<int> ageTo; ///< inclusive; unset: everybody older
        std::vector<Rest> rest;
    };
    std::string name;
    std::string basis;
    std::vector<Band> bands; ///< youngest first
};

/// The rule of text that is, was or is to be the content of `file`. Throws model::InputError naming
/// file, place and reason.
LoadRule loadRuleFromText(const std::string& text, const std::filesystem::path& file,
                          const std::filesystem::path& schemaFile);

/// The JSON Schema that rules have to fit.
std::filesystem::path loadRuleSchema(const std::filesystem::path& dataDirectory);

/// The file of the example that ships.
std::filesystem::path exampleLoadRuleFile(const std::filesystem::path& dataDirectory);

/// The example that ships. Throws as loadRuleFromText.
LoadRule exampleLoadRule(const std::filesystem::path& dataDirectory);

/// Whole days without throwing after a day with so many throws; the youngest band's, which asks for
/// the most rest, when the age is not known.
int restDaysAfter(const LoadRule& rule, std::optional<int> ageYears, int throws);

} // namespace kestrel::coaching
