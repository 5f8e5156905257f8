#pragma once

#include "model/landmark.h"
#include "technique/judge/evaluate.h"

#include <optional>
#include <string>
#include <vector>

/// What a machine set on a rep that a coach should look at first.
namespace kestrel::technique {

/// A key position, or a landmark at one, that nobody has looked at yet.
struct Doubtful {
    std::string positionId;
    int frame = 0;
    std::optional<model::Landmark> landmark; ///< unset: the position itself
    double gain = 0.0; ///< how much surer the readings get when it is looked at; see below
};

/// Those that a reading of the pack draws on, and that would do most for the readings first. The
/// gain is the sum over readings of the share of their ± that goes when the point is as sure as a
/// placed one, or the frame as one that the coach set; a reading whose ± reaches across an edge of
/// its good range, so that its verdict is open, counts `openVerdict` times. For a position, the
/// readings taken there come on top, as often as the instant is likely to be another one; and what
/// the doubtful positions would gain that are found starting from it, for they are found anew, and
/// surer, once it is set. A position that is `isDoubtful` comes before its landmarks: on a wrong
/// frame they are wasted work.
std::vector<Doubtful> doubtsOf(const Pack& pack, const model::Rep& rep,
                               const Circumstances& circumstances);

inline constexpr double openVerdict = 10.0;

/// Whether a found instant should be looked at whatever hangs on it: its confidence is under
/// `sureConfidence`, or it may lie farther off than one frame and than the position lasts (95 %).
bool isDoubtful(const Position& position, const model::FoundInstant& found,
                const Circumstances& circumstances);

inline constexpr double sureConfidence = 0.9;

} // namespace kestrel::technique
