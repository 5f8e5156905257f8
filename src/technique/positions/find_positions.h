#pragma once

#include "model/record.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"
#include "technique/positions/position_network.h"

#include <map>
#include <optional>
#include <set>
#include <string>

/// Key positions found: by the network, or by the detectors of a pack.
namespace kestrel::technique {

/// How a position is found from that view: the first of its detectors whose signal shows there;
/// nullptr when none does.
const Detector* detectorFor(const Position& position, std::optional<model::View> view);

/// The positions that have to be known before a detector can look: the edges of its stretch, the
/// ends of its way, and where its points are taken.
std::set<std::string> positionsUsedBy(const Detector& detector);

/// What the pack's network knows of its technique; nullptr where it knows nothing.
const LearnedTechnique* learnedTechnique(const Pack& pack);

/// Whether the program looks for the position in films from that view.
bool canBeFound(const Pack& pack, const Position& position, std::optional<model::View> view);

/// Looks through the landmarks of `rep`, in all frames of its span that have any, for the positions
/// the coach has not set. Nothing is found while the capture rate is not known.
///
/// Positions that the network has learned are found all together from the whole span
/// (position_chain.h), with those set by the coach as certain. The confidence is the probability
/// that the film has the position and that the instant is off by no more than one is as good: as
/// the position lasts, or a frame. One that the film hardly has is left out.
///
/// The others are found by their detectors, one after the other. One whose detector finds nothing,
/// does not show in this view or hangs on one that was not found, is left out. The deviation of an
/// instant joins the scatter of its signal and the detector's own. The confidence is the
/// probability, for normal errors of the landmarks as stated, that the instant stands out from the
/// next best, times that of the positions it hangs on.
std::map<std::string, model::FoundInstant> findPositions(const Pack& pack, const model::Rep& rep,
                                                         const Circumstances& circumstances);

} // namespace kestrel::technique
