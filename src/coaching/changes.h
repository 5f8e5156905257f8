#pragma once

#include "coaching/review.h"

#include <string>
#include <vector>

/// What is judged differently when the same rep is judged again: by another school, another edition
/// of its pack, or after an edit.
namespace kestrel::coaching {

struct Change {
    enum class Of {
        verdict, ///< of a measure
        range,   ///< of a measure, with the same verdict
        appears, ///< a fault is found that was not
        goes,    ///< a fault is found no more
        focus,   ///< the first thing to work on
    };
    Of of = Of::verdict;
    std::string id;          ///< of the measure or fault; of the new focus, empty for none
    std::string focusBefore; ///< of the earlier focus, empty for none
    model::Message before;   ///< verdict or range of a measure
    model::Message after;
};

/// Focus first, then faults, then verdicts, then ranges; empty when nothing changes.
std::vector<Change> changesBetween(const Review& before, const Review& after);

/// One sentence for each change, in the words of `pack`, which has to know all ids of the later
/// review; ids that only the earlier one knows are told as they are.
std::vector<model::Message> toldChanges(const technique::Pack& pack,
                                        const std::vector<Change>& changes);

} // namespace kestrel::coaching
