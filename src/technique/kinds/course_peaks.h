#pragma once

#include "technique/kinds/measure_kind.h"

#include <optional>
#include <string>
#include <vector>

/// When and how fast a point moves or a joint opens fastest. Only within this room.
namespace kestrel::technique {

/// The point's speed curve, made when it is first asked for; its path inside the stretch is then
/// kept for drawing.
const motion::SpeedCurve& curveOf(CoursePoint& point, motion::TimeSpan within);

struct FoundPeak {
    std::optional<motion::SpeedPeak> peak;
    model::Point2 at;
    model::Message refusal; ///< why there is none
};

/// The peak of the speed of input's point `which`, pixels a second, or why none can be told.
FoundPeak peakOf(CourseInput& input, std::size_t which);

/// The same of the turn of a line (technique/kinds/turning.h). How fast a line turns shows by how
/// quickly its length changes, which a build other than the table's and a camera off square distort
/// from one heading to another; so where another top is nearly as high, either may be the highest,
/// and the peak's time is as unsure.
FoundPeak fastestTurn(CourseInput& input, std::size_t which);

/// How fast a joint opens: its angle as a point on a line, degrees, and 0 where it closes.
struct Opening {
    CoursePoint angle;
    motion::SpeedCurve speed;
    std::vector<bool> shows; ///< by sample: whether the picture shows the joint's angle
};

/// The joint whose three points are input's `first` and the two after it; nothing when too few
/// frames have all of them.
std::optional<Opening> openingOf(const CourseInput& input, std::size_t first);

/// When and how fast the joint opens fastest, degrees a second, or why it cannot be told.
FoundPeak extensionOf(const CourseInput& input, std::size_t first);

} // namespace kestrel::technique
