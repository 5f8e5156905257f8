#pragma once

#include "model/limb_fold.h"
#include "model/units.h"

#include <optional>
#include <span>

/// Depth from one view: how far a segment of known length points out of the picture plane, from how
/// long it looks (scaled orthography, Taylor 2000), and what that makes of angles seen in the
/// picture. A camera does not show to which side it points; that is the caller's to know.
namespace kestrel::motion {

/// A length in pixels with its standard deviation.
struct Length {
    double px = 0.0;
    double sdPx = 0.0;
};

/// How long a segment would look in the picture plane: from the table of bodies, when there is an
/// entry, and from how long it looks at several instants of a motion. It never looks longer than
/// it is, and at the best of several instants it mostly lies close to the picture plane. Nothing
/// without either.
std::optional<Length> fullLength(const std::optional<Length>& fromTable,
                                 std::span<const Length> seen);

/// A segment as it is seen.
struct SeenSegment {
    Length seen;
    std::optional<Length> full; ///< unset: nothing but `usualTilt` is known of its tilt
    /// Standard deviation of its angle out of the picture plane in this motion and view.
    model::Degrees usualTilt{0.0};
};

/// What the picture says of an angle in space.
struct AngleFromOneView {
    model::Degrees value{0.0};    ///< of what can be meant, the middle
    model::Degrees sd{0.0};       ///< root-mean-square difference from it
    model::Degrees together{0.0}; ///< the value if the limb is folded so, see model::LimbFold
    model::Degrees through{0.0};
    model::Degrees firstTilt{0.0}; ///< likeliestTilt() of either segment
    model::Degrees secondTilt{0.0};
};

/// Angle between two segments that leave a joint, seen as `seen` in the picture. A segment that
/// looks clearly shorter than it is has a tilt with a probability from its usual size and from how
/// long it looks; any other is taken to lie in the picture plane, as surely as it usually does. The
/// value is that of the likeliest tilts, cos θ = cos φ₁ cos φ₂ cos seen ± sin φ₁ sin φ₂, and the
/// deviation is over all of them. Without `fold` both signs are equally likely.
AngleFromOneView jointAngleFromOneView(model::Degrees seen, const SeenSegment& first,
                                       const SeenSegment& second,
                                       const std::optional<model::LimbFold>& fold);

/// The likeliest angle out of the picture plane, 0 for a segment that looks as long as it is.
model::Degrees likeliestTilt(const SeenSegment& segment);

} // namespace kestrel::motion
