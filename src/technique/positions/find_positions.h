#pragma once

#include "model/record.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"

#include <map>
#include <optional>
#include <set>
#include <string>

/// Key positions found by the detectors of a pack.
namespace kestrel::technique {

/// How a position is found from that view: the first of its detectors whose signal shows there;
/// nullptr when none does.
const Detector* detectorFor(const Position& position, std::optional<model::View> view);

/// The positions that have to be known before a detector can look: the edges of its stretch, the
/// ends of its way, and where its points are taken.
std::set<std::string> positionsUsedBy(const Detector& detector);

/// Looks through the landmarks of `rep`, in all frames of its span that have any, for the positions
/// the coach has not set; those set serve the others as edges of the stretches to search. A
/// position whose detector finds nothing, does not show in this view or hangs on one that was not
/// found, is left out; so are all while the capture rate is not known.
///
/// The deviation of an instant joins the scatter of its signal and the detector's own. The
/// confidence is the probability, for normal errors of the landmarks as stated, that the instant
/// stands out from the next best, times that of the positions it hangs on.
std::map<std::string, model::FoundInstant> findPositions(const Pack& pack, const model::Rep& rep,
                                                         const Circumstances& circumstances);

} // namespace kestrel::technique
