#pragma once

#include "model/clip_time.h"
#include "track/person/evidence.h"

/// The frames around a body point that the coach placed.
namespace kestrel::track {

/// Whether the coach placed a landmark of the body anywhere.
bool anyBodyPointPlaced(const model::LandmarkTrack& placed);

/// Follows the body points that the coach placed through the frames around, onwards and back, and
/// writes into `evidence` how they moved there (FrameEvidence::placedSteps); what was there before
/// goes.
///
/// Pyramidal Lucas–Kanade starts on the placed point itself, not where a network thought it was,
/// and counts as long as the way back ends where it began. In each frame what surrounds the point
/// is laid against what surrounded it where it was placed (normalised cross-correlation): that
/// keeps the point from sliding along its limb, and ends the way where the place no longer looks
/// alike, because the limb turned or something came before it. Bone lengths are looked after when
/// all is weighed (track/person/bones.h).
///
/// False when `progress` cancelled; `evidence` is then as it was. Throws model::InputError when the
/// film cannot be opened; damaged frames end the way.
bool followPlacedPoints(Evidence& evidence, const film::FilmIndex& index,
                        const model::LandmarkTrack& placed, const model::ClipTime& time,
                        const EvidenceProgress& progress = {});

} // namespace kestrel::track
