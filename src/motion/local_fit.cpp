#include "motion/local_fit.h"

#include <Eigen/Cholesky>
#include <Eigen/Core>

#include <algorithm>
#include <cmath>

namespace kestrel::motion {

std::optional<LocalFit> fitLocally(std::span<const Sample> samples, double at, double halfWidth) {
    constexpr int unknowns = 3;
    constexpr double rounding = 1e-9; // seconds; a sample at the very edge counts
    const auto first = std::lower_bound(samples.begin(), samples.end(), at - halfWidth - rounding,
                                        [](const Sample& s, double time) { return s.time < time; });
    const auto last = std::upper_bound(first, samples.end(), at + halfWidth + rounding,
                                       [](double time, const Sample& s) { return time < s.time; });
    const auto count = last - first;
    if (count <= unknowns || first->time > at || (last - 1)->time < at) {
        return std::nullopt;
    }
    // In units of the half width, so that the normal equations are well conditioned.
    Eigen::Matrix3d normal = Eigen::Matrix3d::Zero();
    Eigen::Vector3d right = Eigen::Vector3d::Zero();
    for (auto s = first; s != last; ++s) {
        const double u = (s->time - at) / halfWidth;
        const Eigen::Vector3d row(1.0, u, u * u);
        const double weight = 1.0 / (s->sd * s->sd);
        normal += weight * row * row.transpose();
        right += weight * s->value * row;
    }
    const Eigen::LDLT<Eigen::Matrix3d> solver(normal);
    const Eigen::Vector3d c = solver.solve(right);
    double misfit = 0.0;
    for (auto s = first; s != last; ++s) {
        const double u = (s->time - at) / halfWidth;
        const double miss = (s->value - c[0] - c[1] * u - c[2] * u * u) / s->sd;
        misfit += miss * miss;
    }
    const Eigen::Matrix3d covariance =
        solver.solve(Eigen::Matrix3d::Identity()) * misfit / static_cast<double>(count - unknowns);
    return LocalFit{c[0], c[1] / halfWidth, 2.0 * c[2] / (halfWidth * halfWidth),
                    std::sqrt(std::max(0.0, covariance(0, 0))),
                    std::sqrt(std::max(0.0, covariance(1, 1))) / halfWidth};
}

} // namespace kestrel::motion
