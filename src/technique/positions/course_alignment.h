#pragma once

#include "model/landmark.h"
#include "technique/positions/usual_course.h"

#include <map>
#include <string>
#include <vector>

/// A film brought in step with how its technique is usually done: all key positions at once, each
/// with its probability over the frames.
namespace kestrel::technique {

/// Where the body's landmarks are seen at an instant, from the middle of the hips, standing
/// heights, right and up.
struct SeenPose {
    double time = 0.0; ///< field time, seconds
    std::vector<std::pair<std::size_t, Eigen::Vector2d>> points;
};

/// What is known of when a position is.
struct PositionBelief {
    double inside = 0.0; ///< probability that the film has it
    /// Given that it has, at its most probable: the mean around there, and its standard deviation.
    model::Seconds time{0.0};
    model::Seconds sd{0.0};
    double here = 0.0; ///< probability, given that it has, that it is around there
};

struct CourseAlignment {
    std::map<std::string, PositionBelief> positions;
    double azimuth = 0.0; ///< radians, from the picture's right over away from the camera
};

/// A hidden Markov model: before the rep, each instant of the usual course at each tempo, after it.
/// The tempo is part of the state and changes seldom, so that durations have a distribution, as in
/// a semi-Markov model (Yu 2010, doi:10.1016/j.artint.2009.11.011). The course runs up to 2.5 times
/// as fast as usual, or stands; it may have begun before the film, or go on after it. What is seen
/// is as far from the usual pose as players are of each other, or anything before and after the
/// rep. Forward and backward passes give the probability of each position at each instant (Rabiner
/// 1989, doi:10.1109/5.18626). The camera sees the target at the likeliest of `azimuths`. `film` is
/// in ascending order of time; `known` are instants of positions that are certain, field time.
/// Nothing comes of a film of fewer than two instants, or of known instants that no rep has.
CourseAlignment align(const std::vector<SeenPose>& film, const UsualCourse& course,
                      const std::vector<double>& azimuths,
                      const std::map<std::string, double>& known = {});

} // namespace kestrel::technique
