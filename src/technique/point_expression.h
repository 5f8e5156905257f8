#pragma once

#include <string>
#include <utility>
#include <vector>

namespace kestrel::technique {

/// A point of a measure or signal: weighted landmarks by role name, at a position or at the
/// instant looked at.
struct PointExpression {
    std::vector<std::pair<std::string, double>>
        terms;            ///< role landmark name, weight; weights sum 1
    std::string position; ///< empty: where the measure is taken
};

} // namespace kestrel::technique
