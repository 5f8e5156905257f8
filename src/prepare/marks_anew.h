#pragma once

#include "model/record.h"
#include "prepare/judged_rep.h"
#include "records/library.h"

/// A rep's machine-made marks brought in line with what the coach has said by now.
namespace kestrel::prepare {

/// Finds from where a clip was filmed, where no coach has said it, and stores it: as the first rep
/// tells of those in which something was looked for, nothing where none does.
void findViewAnew(records::Library& library, const JudgeSources& sources, model::ClipId clipId);

/// Weighs what was seen in the film against what the coach placed, and stores landmarks, turns and
/// found positions. Does nothing for a rep that is gone or in whose film nothing was looked for.
/// A rep whose film cannot be read stays as it is.
void weighAnew(records::Library& library, const JudgeSources& sources, model::RepId repId);

/// Finds the positions anew that the coach did not set, and stores them. A rep in which no machine
/// set landmarks has none, for only single frames are known of it. A rep whose film cannot be read
/// loses those that a machine found: they were found under what does not hold any more.
void findAnew(records::Library& library, const JudgeSources& sources, model::RepId repId);

} // namespace kestrel::prepare
