#pragma once

#include <Eigen/Core>

#include <functional>

/// First-order propagation of uncertainty (GUM, JCGM 100:2008, section 5.1.3, note 2).
namespace kestrel::motion {

/// A reading as a function of its independent inputs.
using InputFunction = std::function<double(const Eigen::VectorXd& inputs)>;

/// Standard uncertainty of f(inputs) when each input is independent with standard deviation
/// `sds[i]` (same length as `inputs`): sqrt(Σ (½ (f(xᵢ + sdᵢ) − f(xᵢ − sdᵢ)))²), which also holds where
/// f bends, or ends, within a deviation.
/// Inputs with sd 0 are held fixed.
double standardUncertainty(const InputFunction& f, const Eigen::VectorXd& inputs,
                           const Eigen::VectorXd& sds);

} // namespace kestrel::motion
