#pragma once

#include <Eigen/Core>

#include <functional>

/// First-order propagation of uncertainty (GUM, JCGM 100:2008, section 5.1.3, note 2).
namespace kestrel::motion {

/// A reading as a function of its independent inputs.
using InputFunction = std::function<double(const Eigen::VectorXd& inputs)>;

/// How far to both sides of an input is looked, in its deviations: whole ones; or nearby, where
/// deviations are those of a fit and mean little farther from where it ended.
inline constexpr double wholeDeviations = 1.0;
inline constexpr double nearby = 0.2;

/// Standard uncertainty of f(inputs) when each input is independent with standard deviation
/// `sds[i]` (same length as `inputs`): sqrt(Σ ((f(xᵢ + r sdᵢ) − f(xᵢ − r sdᵢ)) / 2r)²) with r the
/// `reach`; with 1 it also holds where f bends, or ends, within a deviation. Inputs with sd 0 are
/// held fixed.
double standardUncertainty(const InputFunction& f, const Eigen::VectorXd& inputs,
                           const Eigen::VectorXd& sds, double reach = wholeDeviations);

} // namespace kestrel::motion
