#pragma once

#include "model/day.h"

#include <functional>
#include <optional>
#include <string_view>

namespace kestrel::model {

/// What day it is. It is handed in from outside, so that a test or a demonstration can say so.
using Clock = std::function<Day()>;

/// The day `said`, whenever it is asked; the computer's day where it stands when `said` is empty.
/// Nothing when `said` is no day.
std::optional<Clock> clockFrom(std::string_view said);

} // namespace kestrel::model
