#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace kestrel::technique {

/// A point of a measure or signal: weighted landmarks by role name, at a position or at the
/// instant looked at.
struct PointExpression {
    std::vector<std::pair<std::string, double>>
        terms;                   ///< role landmark name, weight; weights sum 1
    std::string position;        ///< empty: where the measure is taken
    bool isCentreOfMass = false; ///< bodies differ: its weights are not quite the player's own
};

/// The point that every pack knows without declaring it (motion/centre_of_mass.h).
inline constexpr std::string_view centreOfMassPoint = "centre_of_mass";

} // namespace kestrel::technique
