#pragma once

#include "technique/kinds/measure_kind.h"

/// The formulas of kinds that read a stretch of time; rows of the table in measure_kind.cpp. Each
/// leaves the smoothed paths in the input's points.
namespace kestrel::technique {

/// Chin to vertex in standing heights (Drillis and Contini 1966).
inline constexpr double headShare = 0.130;

/// Highest speed of a point, body heights per second.
CourseValue peakSpeed(CourseInput& input);

/// How much later the second point is fastest than the first, milliseconds.
CourseValue peakAfter(CourseInput& input);

/// Highest speed of the second point over that of the first.
CourseValue speedGain(CourseInput& input);

/// Straight way over the way gone, percent: 100 is a straight line.
CourseValue pathStraightness(CourseInput& input);

/// How far a point strays from where it was at the start of the stretch, at most, in diameters of
/// the head (headShare).
CourseValue drift(CourseInput& input);

/// Highest speed at which a joint opens, degrees per second; points as for an interior angle.
CourseValue peakExtension(CourseInput& input);

/// Highest speed at which a line through hips or shoulders turns towards the target, degrees a
/// second.
CourseValue peakTurning(CourseInput& input);

/// When the second line turns fastest less when the first does, milliseconds.
CourseValue turningAfter(CourseInput& input);

/// Highest opening speed of the second joint over that of the first.
CourseValue extensionRatio(CourseInput& input);

/// How much later a joint (the last three points) opens fastest than the first point is fastest,
/// milliseconds.
CourseValue extensionAfter(CourseInput& input);

/// How much later the last point is fastest than the joint of the first three opens fastest,
/// milliseconds.
CourseValue peakAfterExtension(CourseInput& input);

/// Direction of the path on the whole stretch against level, −90…90, up positive, whichever way it
/// runs.
CourseValue pathAngle(CourseInput& input);

/// Direction of the path over the ground on the whole stretch against the target line, degrees:
/// positive to the throwing or hitting side. The path is seen on input.plane.
CourseValue pathHeading(CourseInput& input);

/// Angle between the directions of two paths, 0…90, whichever way each is gone.
CourseValue pathDifference(CourseInput& input);

/// How long the first point's path is where it runs within eight degrees of the second's mean
/// direction, body heights: the window in which bat and ball agree.
CourseValue pathAgreement(CourseInput& input);

/// Of the second point's velocity the share that the first point has along it, percent, on average
/// over the stretch.
CourseValue speedShare(CourseInput& input);

/// Mean acceleration along the way to the peak of speed, v²/2d, body heights per second squared.
CourseValue meanAcceleration(CourseInput& input);

/// How evenly a point gains speed on its way to its highest speed, percent. Under an even push the
/// square of the speed grows with the way gone (v² = 2ad); 100 less the greatest gap between the
/// two, as shares of what they are at the top.
CourseValue evenRise(CourseInput& input);

} // namespace kestrel::technique
