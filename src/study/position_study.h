#pragma once

#include "study/played_rep.h"
#include "technique/pack/pack.h"

#include <cstdint>
#include <functional>
#include <map>
#include <string>
#include <utility>
#include <vector>

/// How right key positions are that the program finds in reps as players really do them.
namespace kestrel::study {

/// Key positions found against the true instants. One is right within one frame at 60 a second, or
/// half a frame of the film if longer.
struct PositionTally {
    int there = 0;       ///< in the film, with a way to find them from this view
    int found = 0;       ///< of those
    int right = 0;       ///< of those
    int lasting = 0;     ///< right, or off by less than the position lasts: a frame is as good
    int inside95 = 0;    ///< of the found, inside their 95 % interval, rounding to frames included
    int sure = 0;        ///< of the found, not called doubtful
    int sureWrong = 0;   ///< of the sure, off by more than the position lasts
    int rightAsked = 0;  ///< of the right, called doubtful all the same
    int outside = 0;     ///< not in the film
    int outsideTold = 0; ///< of those, neither found nor to be looked for

    PositionTally& operator+=(const PositionTally& other);
};

/// What finds the positions.
enum class FoundBy {
    network,   ///< all together, as the program finds those of the packs that ship
    detectors, ///< each position's own, as it finds those of other packs
};

/// Reps of the synthetic player (played_rep.h), their positions found by the pack of the technique.
/// Nothing is counted where `packs` have none of it.
std::map<std::pair<FoundBy, Habit>, PositionTally>
studyPositions(const std::vector<technique::Pack>& packs, std::uint32_t seed, Around around);

/// The page on all habits, seeds `first` to `last`, from all around; `tell` is called with reps
/// done and in all.
std::string positionPage(const std::vector<technique::Pack>& packs, std::uint32_t first,
                         std::uint32_t last, const std::function<void(int done, int all)>& tell);

} // namespace kestrel::study
