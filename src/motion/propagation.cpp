#include "motion/propagation.h"

#include <cmath>

namespace kestrel::motion {

double standardUncertainty(const InputFunction& f, const Eigen::VectorXd& inputs,
                           const Eigen::VectorXd& sds, double reach) {
    double variance = 0.0;
    Eigen::VectorXd moved = inputs;
    for (Eigen::Index i = 0; i < inputs.size(); ++i) {
        if (sds[i] <= 0.0) {
            continue;
        }
        moved[i] = inputs[i] + reach * sds[i];
        const double above = f(moved);
        moved[i] = inputs[i] - reach * sds[i];
        const double below = f(moved);
        moved[i] = inputs[i];
        const double effect = (above - below) / (2.0 * reach);
        variance += effect * effect;
    }
    return std::sqrt(variance);
}

} // namespace kestrel::motion
