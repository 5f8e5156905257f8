#pragma once

#include <array>

namespace kestrel::motion {

/// Gauss–Hermite rules for the mean of a function of a standard normal variable (Abramowitz and
/// Stegun 1972, table 25.10; abscissas scaled by √2 and weights by 1/√π).
struct QuadratureNode {
    double at;     ///< standard deviations
    double weight; ///< those of a rule sum to 1
};

inline constexpr std::array<QuadratureNode, 5> fivePointRule{{{-2.856970, 0.0112574},
                                                              {-1.355626, 0.2220759},
                                                              {0.0, 0.5333333},
                                                              {1.355626, 0.2220759},
                                                              {2.856970, 0.0112574}}};

inline constexpr std::array<QuadratureNode, 9> ninePointRule{{{-4.512745863, 2.234584401e-5},
                                                              {-3.205429003, 2.789141321e-3},
                                                              {-2.076847979, 4.991640677e-2},
                                                              {-1.023255664, 2.440975029e-1},
                                                              {0.0, 4.063492063e-1},
                                                              {1.023255664, 2.440975029e-1},
                                                              {2.076847979, 4.991640677e-2},
                                                              {3.205429003, 2.789141321e-3},
                                                              {4.512745863, 2.234584401e-5}}};

} // namespace kestrel::motion
