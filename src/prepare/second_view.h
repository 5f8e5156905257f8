#pragma once

#include "model/record.h"
#include "model/sync_offset.h"
#include "technique/judge/evaluate.h"

#include <optional>

/// The other film of a motion, as part of the circumstances a rep is judged in.
namespace kestrel::prepare {

/// Adds what the other film knows to `circumstances`, or in `secondReason` why it tells nothing.
/// `theirs` is the same rep in that film and `seen` the circumstances there, of the other film
/// alone. `heard` is how much later its microphone heard an instant; unset: the key positions tell
/// how the films go together.
void addSecondView(technique::Circumstances& circumstances, const model::Rep& theirs,
                   const technique::Circumstances& seen,
                   const std::optional<model::SyncOffset>& heard);

} // namespace kestrel::prepare
