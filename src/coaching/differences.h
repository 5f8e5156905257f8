#pragma once

#include "model/finding.h"
#include "model/reading.h"
#include "technique/pack/pack.h"

#include <optional>
#include <string>
#include <vector>

/// Two reps of one technique side by side: what differs, and how surely.
namespace kestrel::coaching {

/// What two reps have in common, so that what it is off by cancels in their difference.
enum class InCommon { film, player, nothing };

/// One measure of both.
struct Difference {
    std::string measureId;
    std::string positionId;
    model::Unit unit = model::Unit::degrees;
    std::optional<double> here;
    std::optional<double> there;
    std::optional<model::Range> range; ///< of the rep here
    double by = 0.0;                   ///< here − there; means nothing unless both are read
    double u95 = 0.0;                  ///< 95 % half width of `by`

    [[nodiscard]] bool read() const { return here && there; }
    /// Whether the two differ for certain.
    [[nodiscard]] bool told() const { return read() && (by > u95 || by < -u95); }
    /// How much it is: against the width of the range, and without one against what is uncertain
    /// about it.
    [[nodiscard]] double size() const;
};

/// One for each measure of the pack that either rep has a reading of, in the pack's order. Both are
/// read with this pack; of readings of another unit the difference is not read.
std::vector<Difference> differencesOf(const technique::Pack& pack,
                                      const std::vector<model::Reading>& here,
                                      const std::vector<model::Reading>& there, InCommon common);

/// In what order differences are looked at.
enum class DifferenceOrder {
    byPosition, ///< as the motion goes
    bySize,     ///< what differs for certain first, the most of it first
    byPlan,     ///< what the focus and what is to be watched is judged by first
};

/// `plan` counts for DifferenceOrder::byPlan only.
std::vector<Difference> ordered(const technique::Pack& pack, std::vector<Difference> differences,
                                DifferenceOrder order, const model::Plan& plan);

/// What both show, and what only one of them does.
struct FaultsBetween {
    std::vector<std::string> onlyHere;
    std::vector<std::string> inBoth;
    std::vector<std::string> onlyThere;
};

/// Faults by id, in the order of their priority in the rep that shows them.
FaultsBetween faultsBetween(const model::Findings& here, const model::Findings& there);

/// What differs for certain, a sentence each, the most of it first and at most `most`; one sentence
/// that nothing does when that is so. `thanThere` says what the other rep is: “than in October”.
std::vector<model::Message> toldDifferences(const technique::Pack& pack,
                                            const std::vector<Difference>& differences,
                                            const model::Message& thanThere, std::size_t most);

} // namespace kestrel::coaching
