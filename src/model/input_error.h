#pragma once

#include <stdexcept>
#include <string>

namespace kestrel::model {

/// Input that cannot be used: what happened, what is safe, what to do. Thrown by every room that
/// reads files; the interfaces show the three parts as they stand and change nothing.
class InputError : public std::runtime_error {
  public:
    InputError(std::string whatHappened, std::string whatIsSafe, std::string whatToDo)
        : std::runtime_error(whatHappened + " " + whatIsSafe + " " + whatToDo),
          happened_(std::move(whatHappened)),
          safe_(std::move(whatIsSafe)),
          todo_(std::move(whatToDo)) {}

    [[nodiscard]] const std::string& happened() const { return happened_; }
    [[nodiscard]] const std::string& safe() const { return safe_; }
    [[nodiscard]] const std::string& todo() const { return todo_; }

  private:
    std::string happened_;
    std::string safe_;
    std::string todo_;
};

} // namespace kestrel::model
