#pragma once

#include "model/input_error.h"

#include <exception>
#include <optional>

namespace kestrel::records {

/// What an exception out of the library means for the coach when the database raised it: locked by
/// another program, no room, not writable, damaged. Nothing for any other exception. A change that
/// ends so is not kept in any part.
std::optional<model::InputError> libraryError(const std::exception& error);

} // namespace kestrel::records
