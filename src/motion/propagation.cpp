#include "motion/propagation.h"

#include <cmath>

namespace kestrel::motion {

double standardUncertainty(const InputFunction& f, const Eigen::VectorXd& inputs,
                           const Eigen::VectorXd& sds) {
    // A fifth of a standard deviation: small against the curvature, large against rounding.
    constexpr double stepInSds = 0.2;
    double variance = 0.0;
    Eigen::VectorXd moved = inputs;
    for (Eigen::Index i = 0; i < inputs.size(); ++i) {
        if (sds[i] <= 0.0) {
            continue;
        }
        const double step = stepInSds * sds[i];
        moved[i] = inputs[i] + step;
        const double above = f(moved);
        moved[i] = inputs[i] - step;
        const double below = f(moved);
        moved[i] = inputs[i];
        const double effect = (above - below) / (2.0 * stepInSds);
        variance += effect * effect;
    }
    return std::sqrt(variance);
}

} // namespace kestrel::motion
