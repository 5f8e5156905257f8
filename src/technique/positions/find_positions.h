#pragma once

#include "model/record.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"
#include "technique/positions/usual_course.h"

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
///
/// Where it is known how the technique is usually done (`usual`), the whole rep is brought in step
/// with it (course_alignment.h). A detector that agrees with that stands; otherwise, and where it
/// found nothing, the instant is as the whole rep has it, at a confidence that calls it doubtful. A
/// position that the film does not have, having begun too late or ended too early, is left out.
std::map<std::string, model::FoundInstant>
findPositions(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
              const std::optional<UsualCourse>& usual = std::nullopt);

} // namespace kestrel::technique
