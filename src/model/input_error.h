#pragma once

#include "model/message.h"

#include <stdexcept>

namespace kestrel::model {

/// Input that cannot be used: what happened, what is safe, what to do. Thrown by every room that
/// reads files; the interfaces put the three parts into words and change nothing. what() names the
/// messages, for a debugger.
class InputError : public std::runtime_error {
  public:
    InputError(Message whatHappened, Message whatIsSafe, Message whatToDo);
    InputError(const InputError&) = default;
    InputError& operator=(const InputError&) = default;
    ~InputError() override;

    [[nodiscard]] const Message& happened() const { return happened_; }
    [[nodiscard]] const Message& safe() const { return safe_; }
    [[nodiscard]] const Message& todo() const { return todo_; }

  private:
    Message happened_;
    Message safe_;
    Message todo_;
};

} // namespace kestrel::model
