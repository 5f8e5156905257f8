#pragma once

#include "motion/segment_depth.h"
#include "technique/judge/evaluate.h"
#include "technique/kinds/inputs.h"

#include <optional>
#include <string>

/// What is known of the depth of limbs from one view. Only within this room.
namespace kestrel::technique {

/// The segment between two points as it is seen, and how long it would look in the picture plane:
/// of a bone from the table of bodies and the player's height in the picture, of bones and
/// implements from how long they look at the key positions, bones on either side of the body. Only
/// where the camera looks from the side does a player look about the same size throughout; from
/// front and rear the table alone counts, less surely; from above, and for points that no rigid
/// segment joins, no length is known. The usual tilt is left to the caller. `x` and `sds` are the
/// inputs' values and deviations.
motion::SeenSegment seenSegment(const model::Rep& rep, const Circumstances& circumstances,
                                const std::optional<PixelHeight>& height, const ResolvedPoint& from,
                                const ResolvedPoint& to, const Eigen::VectorXd& x,
                                const Eigen::VectorXd& sds);

/// How long the line through both hips or both shoulders looks square to the view: from the table
/// of bodies and the player's height and, from the side, from how long it looks at the key
/// positions, through which it turns. `a` and `b` are the two hips or the two shoulders.
motion::Length ownBreadth(const model::Rep& rep, const Circumstances& circumstances,
                          const PixelHeight& height, model::Landmark a, model::Landmark b);

struct Limb {
    model::Landmark end;
    model::Landmark joint;
    model::Landmark otherEnd;
};

/// How a limb lies in depth at a position: what the coach says, there or at another position from
/// which neither segment has come near the picture plane on the way, so that none can have changed
/// sides unseen. Nothing where nothing is said.
std::optional<model::LimbFold> limbFold(const model::Rep& rep, const Circumstances& circumstances,
                                        const std::optional<PixelHeight>& height,
                                        const std::string& positionId, const Limb& limb);

} // namespace kestrel::technique
