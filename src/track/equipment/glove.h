#pragma once

#include "model/landmark.h"
#include "track/person/evidence.h"

#include <map>

namespace kestrel::track {

/// The glove in all frames, from where it was placed: it stays where it is on the forearm of the
/// hand nearest to it, along and across the way from elbow to wrist. `bodyPx` is the standing
/// height, pixels.
std::map<int, Proposals> gloveWithForearm(const model::LandmarkTrack& placed,
                                          const model::LandmarkTrack& body, double bodyPx);

} // namespace kestrel::track
