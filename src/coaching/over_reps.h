#pragma once

#include "coaching/visit.h"

#include <optional>
#include <string>
#include <vector>

/// A measure over the reps of a visit, and from one visit to another.
namespace kestrel::coaching {

struct OverReps {
    double mean = 0.0;
    double u95 = 0.0; ///< 95 % half width of the mean
    int reps = 0;
    /// What makes up the half width, each a 95 % half width: what differs from rep to rep, what the
    /// reps of a film are off by together, and what every film of the player is.
    double ofReps95 = 0.0;
    double ofFilm95 = 0.0;
    double ofPlayer95 = 0.0;
};

/// The measure over the reps in which it was read; nothing when in none. The half width holds what
/// the readings' own uncertainty leaves of the mean, and what the reps' scatter does: reps of one
/// child are not the same reading made again. What the reps of a film are off by together does not
/// become less by their number. A visit has too few reps to tell their scatter from them alone, so
/// it is drawn together with a usual one (a scaled inverse chi-square prior with four degrees of
/// freedom; Gelman et al., Bayesian Data Analysis, section 3.3).
std::optional<OverReps> overReps(const std::vector<RepOfVisit>& reps, const std::string& measureId);

/// 95 % half width of the difference of two visits of one player: what both have alike cancels.
double differenceU95(const OverReps& before, const OverReps& now);

} // namespace kestrel::coaching
