#pragma once

#include "technique/evaluate.h"
#include "technique/pack.h"
#include "track/evidence.h"

namespace kestrel::prepare {

/// What a machine says of a rep: landmarks in all frames it looked at, and the key positions.
struct MachineMarks {
    model::LandmarkTrack landmarks;
    std::map<std::string, model::FoundInstant> positions;
};

/// Weighs what was seen (`evidence`) against what the coach placed and set on `rep`. The coach's
/// points come back as they are; positions that the coach set do not come back.
MachineMarks marksFrom(const track::Evidence& evidence, const technique::Pack& pack,
                       const model::Rep& rep, const technique::Circumstances& circumstances);

} // namespace kestrel::prepare
