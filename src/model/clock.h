#pragma once

#include "model/record.h"

#include <functional>
#include <optional>

namespace kestrel::model {

/// What day it is. It is handed in from outside, so that a test or a demonstration can say so.
using Clock = std::function<IsoDate()>;

/// The day `said`, whenever it is asked; the computer's day where it stands when `said` is empty.
/// Nothing when `said` is no day.
std::optional<Clock> clockFrom(const IsoDate& said);

} // namespace kestrel::model
