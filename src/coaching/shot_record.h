#pragma once

#include "model/record.h"
#include "technique/pack/pack.h"

#include <string>
#include <string_view>
#include <vector>

/// Makes and tries, by spot where a pack's kinds of shot are spots.
namespace kestrel::coaching {

/// The observation whose yes is a make and whose no a miss, in packs that keep a record.
inline constexpr std::string_view wentIn = "went_in";

struct ShotCount {
    std::string shotId; ///< empty: the kind was not said
    std::string name;
    int made = 0;
    int tries = 0;
    /// Share of makes that the count is still compatible with, 95 % (Wilson 1927, Journal of the
    /// American Statistical Association 22:209).
    double low = 0.0;
    double high = 0.0;
};

/// One entry for each kind of shot with a try, in the pack's order, then that of shots of no said
/// kind. Reps in which it is not answered, or not visible, are no tries. Empty for packs that do
/// not ask.
std::vector<ShotCount> shotRecord(const technique::Pack& pack, const std::vector<model::Rep>& reps);

} // namespace kestrel::coaching
