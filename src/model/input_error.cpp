#include "model/input_error.h"

#include <utility>

namespace kestrel::model {

InputError::InputError(Message whatHappened, Message whatIsSafe, Message whatToDo)
    : std::runtime_error(whatHappened.id + " " + whatIsSafe.id + " " + whatToDo.id),
      happened_(std::move(whatHappened)),
      safe_(std::move(whatIsSafe)),
      todo_(std::move(whatToDo)) {}

InputError::~InputError() = default;

} // namespace kestrel::model
