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

/// Follows the implement, ball and glove that the coach placed on `rep` through `evidence`, if any
/// (track/things.h). False when `progress` cancelled. Throws model::InputError when the film cannot
/// be read.
bool followPlacedThings(track::Evidence& evidence, const film::FilmIndex& index,
                        const technique::Pack& pack, const model::Rep& rep,
                        const technique::Circumstances& circumstances,
                        const model::CameraMotion& camera,
                        const track::EvidenceProgress& progress = {});

} // namespace kestrel::prepare
