#pragma once

#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"
#include "track/person/evidence.h"

namespace kestrel::prepare {

/// What a machine says of a rep: landmarks in all frames it looked at, and the key positions.
struct MachineMarks {
    model::LandmarkTrack landmarks;
    model::BodyTurns bodyTurns;
    std::map<std::string, model::FoundInstant> positions;
};

/// `evidence` with left and right as the coach's points, or what is known of the view, have them.
track::Evidence withSidesSettled(track::Evidence evidence, const technique::Pack& pack,
                                 const model::Rep& rep,
                                 const technique::Circumstances& circumstances);

/// Weighs what was seen (`evidence`) against what the coach placed and set on `rep`. The coach's
/// points come back as they are; positions that the coach set do not come back.
MachineMarks marksFrom(const track::Evidence& evidence, const technique::Pack& pack,
                       const model::Rep& rep, const technique::Circumstances& circumstances);

/// Follows what the coach placed on `rep`: points of the body in the frames around
/// (track/person/placed_points.h), implement, ball and glove in all frames of `evidence`
/// (track/equipment/equipment.h). False when `progress` cancelled; `evidence` is then good for
/// nothing. Throws model::InputError when the film cannot be read.
bool followPlaced(track::Evidence& evidence, const film::FilmIndex& index,
                  const technique::Pack& pack, const model::Rep& rep,
                  const technique::Circumstances& circumstances, const model::CameraMotion& camera,
                  const track::EvidenceProgress& progress = {});

} // namespace kestrel::prepare
