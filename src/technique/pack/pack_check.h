#pragma once

#include "technique/pack/pack.h"

namespace kestrel::technique {

/// Checks what ties the parts of a pack together: every id that is named exists and is unique,
/// kinds get the points they need, positions list the landmarks their measures draw on, no chain of
/// faults runs in a circle. Throws model::InputError naming file, place and reason.
void checkPack(const Pack& pack);

} // namespace kestrel::technique
