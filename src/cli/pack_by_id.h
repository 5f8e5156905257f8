#pragma once

#include "technique/pack/pack.h"

#include <string>

namespace kestrel::cli {

/// The shipped pack of that id. Throws WrongUse when there is none.
technique::Pack packById(const std::string& id);

} // namespace kestrel::cli
