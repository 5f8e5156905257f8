#pragma once

#include <nlohmann/json.hpp>

#include <stdexcept>
#include <string>

/// How the command line answers: results on standard output, messages on standard error.
namespace kestrel::cli {

/// Exit codes, see docs/command-line.md.
enum ExitCode { done = 0, inputAtFault = 1, wrongUse = 2, internalError = 3 };

/// A value given on the command line that the command cannot use.
class WrongUse : public std::runtime_error {
  public:
    using std::runtime_error::runtime_error;
};

void printJson(const nlohmann::json& json);

/// One "name: value" line for each member of an object; the elements of a list on lines of their
/// own.
void printFields(const nlohmann::json& object);

} // namespace kestrel::cli
