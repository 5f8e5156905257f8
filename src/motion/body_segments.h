#pragma once

#include "model/landmark.h"
#include "model/units.h"

#include <optional>

/// Lengths of body segments against standing height, and what a segment that looks too short says.
namespace kestrel::motion {

/// Length of the bone between two landmarks as a fraction of standing height; nothing when they are
/// not the ends of one bone. Drillis and Contini (1966), as tabled by Winter (2009), figure 4.1.
std::optional<double> segmentFraction(model::Landmark a, model::Landmark b);

/// How much a person's own segment differs from the table, relative standard deviation. Working
/// figure; growing children vary more than grown people.
inline constexpr double segmentFractionSd = 0.05;

/// Angle between a segment and the picture plane when it is seen `seenPx` long and would be
/// `fullPx` long in the plane: acos(seen / full), 0 when it is seen at full length or longer
/// (scaled orthography, Taylor 2000).
model::Degrees foreshortening(double seenPx, double fullPx);

/// Angle against the horizontal of a segment that rises by `risePx` and is `fullPx` long, wherever
/// in depth it points: asin(rise / full), ±90° when it rises by more than its length.
model::Degrees elevationFromRise(double risePx, double fullPx);

} // namespace kestrel::motion
