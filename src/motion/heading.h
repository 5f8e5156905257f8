#pragma once

#include "model/landmark.h"
#include "model/units.h"

#include <optional>

/// Which way a level line through the body points, seen from above, from how long it looks.
namespace kestrel::motion {

/// Breadth between the two hips or the two shoulders as a fraction of standing height; nothing for
/// other pairs. Drillis and Contini (1966), as tabled by Winter (2009), figure 4.1: hips 0.191,
/// shoulders 0.259.
std::optional<double> breadthFraction(model::Landmark a, model::Landmark b);

/// How much a person's own breadth differs from the table, relative standard deviation: builds
/// differ more across than along, and shoulders move on the trunk. Working figure.
inline constexpr double breadthFractionSd = 0.08;

/// How much one person's breadth changes in a motion, relative standard deviation: shoulders move
/// on the trunk. Working figure.
inline constexpr double breadthChangesSd = 0.03;

/// A line between two joints as it is seen.
struct SeenLine {
    double along = 0.0;  ///< signed extent along the level direction that counts, pixels
    double rise = 0.0;   ///< how much one end is higher, pixels
    double sd = 0.0;     ///< of either, from the ends' own, pixels
    double fullPx = 0.0; ///< how long it would look square to the view
    double fullRelativeSd = 0.0;
};

/// Which of the two headings that look alike is meant.
enum class Branch {
    first,   ///< 0 to 180 from the cosine; up to 90 from the sine
    second,  ///< the mirror image: 0 to −180, or beyond 90
    unknown, ///< either
};

struct Heading {
    model::Degrees value{0.0};
    model::Degrees sd{0.0};
};

/// The heading whose cosine is the line's level extent over its level length (scaled orthography,
/// Taylor 2000): 0 where it lies along the direction that counts, 90 where it points along the
/// view. A line cannot look longer than it is; near there a little error means a large angle, and
/// the deviation says so: value and deviation are the mean and the spread over what the errors
/// allow, by Gauss–Hermite quadrature. With Branch::unknown both mirror images are allowed.
Heading headingFromCosine(const SeenLine& line, Branch branch);

/// The same of a line whose extent is the sine of its heading: 0 where it points along the view,
/// 90 where it lies across it.
Heading headingFromSine(const SeenLine& line, Branch branch);

} // namespace kestrel::motion
