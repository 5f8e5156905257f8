#pragma once

#include "study/tracking_study.h"

/// The results of tracking studies for reading.
namespace kestrel::study {

/// What was measured: a table by film of body, key positions and things, each with a row of all
/// films together, in which every error counts once.
std::string trackingPage(const std::vector<TrackingResult>& results, pose::PoseSize size);

} // namespace kestrel::study
