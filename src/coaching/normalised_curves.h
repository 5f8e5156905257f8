#pragma once

#include "technique/kinds/sequence.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

/// Courses of a measure over several reps on one scale of time, with their mean and scatter.
namespace kestrel::coaching {

/// A measure's course in one rep, and when its key positions are; seconds on the field.
struct TimedCourse {
    std::map<std::string, double> positions;
    std::vector<technique::CurvePoint> course;
};

struct NormalisedCurves {
    struct Mark {
        std::string positionId;
        double place = 0.0; ///< on the scale
    };
    struct BandPoint {
        double place = 0.0;
        double mean = 0.0;
        double sd = 0.0; ///< sample standard deviation over the reps
        int reps = 0;
    };
    /// Positions that all reps have, in order: the first at 0, the last at 100, those between where
    /// they are on average.
    std::vector<Mark> marks;
    /// By rep, in the order given: the value at each whole place from 0 to 100; nothing where the
    /// rep's course has a gap.
    std::vector<std::vector<std::optional<double>>> reps;
    std::vector<BandPoint> band; ///< places at which at least fewestReps have a value
};

/// Stretches each rep's time so that its key positions fall on those of the others. Reps that share
/// fewer than two positions with the others, in another order, cannot be laid over each other: then
/// everything is empty. Values between frames are interpolated where neighbours are at most three
/// of the course's usual steps apart.
NormalisedCurves normalised(const technique::Pack& pack, const std::vector<TimedCourse>& reps);

} // namespace kestrel::coaching
