#pragma once

#include "technique/measure_kind.h"

/// The formulas of kinds that read a stretch of time; rows of the table in measure_kind.cpp. Each
/// leaves the smoothed paths in the input's points.
namespace kestrel::technique {

/// Highest speed of a point, body heights per second.
CourseValue peakSpeed(CourseInput& input);

/// How much later the second point is fastest than the first, milliseconds.
CourseValue peakAfter(CourseInput& input);

/// Highest speed of the second point over that of the first.
CourseValue speedGain(CourseInput& input);

/// Straight way over the way gone, percent: 100 is a straight line.
CourseValue pathStraightness(CourseInput& input);

/// How far a point strays from where it was at the start of the stretch, at most, in diameters of
/// the head: 0.130 of standing height from chin to vertex (Drillis and Contini 1966).
CourseValue drift(CourseInput& input);

} // namespace kestrel::technique
