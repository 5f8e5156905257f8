#pragma once

#include "model/reading.h"
#include "technique/pack/pack.h"

#include <optional>
#include <string>
#include <vector>

/// How well a player repeats what is measured, over the reps of a clip or a visit.
namespace kestrel::coaching {

/// One measure over several reps.
struct Repeatability {
    std::string measureId;
    model::Unit unit = model::Unit::degrees;
    int reps = 0; ///< reps in which it could be read
    double mean = 0.0;
    double sd = 0.0; ///< sample standard deviation over the reps
    /// Of `sd`, what placing and frame spacing alone would scatter; the rest is the player's.
    double ofReading = 0.0;
    /// The player's own scatter: sqrt(sd² − ofReading²), 0 where the readings explain all of it.
    double ofPlayer = 0.0;
    /// ofPlayer over the width of the range in force; nothing for a range with an open end, or
    /// none.
    std::optional<double> shareOfRange;
};

/// Fewest reps in which a measure has to be read to say something of its scatter.
inline constexpr int fewestReps = 3;

/// One entry for each measure read in at least fewestReps of `reps` (readings of one rep each, as
/// technique::evaluate gives them); the least repeatable against their range first, then those
/// without a closed range, in the pack's order.
std::vector<Repeatability> consistencyOf(const technique::Pack& pack,
                                         const std::vector<std::vector<model::Reading>>& reps);

} // namespace kestrel::coaching
