#include "motion/least_squares.h"

#include <Eigen/Cholesky>
#include <Eigen/LU>

namespace kestrel::motion {

Eigen::VectorXd dampedStep(const Eigen::MatrixXd& jacobian, const Eigen::VectorXd& residuals,
                           double damping) {
    Eigen::MatrixXd normal = jacobian.transpose() * jacobian;
    normal.diagonal() *= 1.0 + damping;
    return -normal.ldlt().solve(jacobian.transpose() * residuals);
}

Eigen::MatrixXd covarianceFrom(const Eigen::MatrixXd& jacobian) {
    const Eigen::MatrixXd normal = jacobian.transpose() * jacobian;
    return normal.inverse();
}

Eigen::MatrixXd spreadFrom(const Eigen::MatrixXd& covariance) {
    return covariance.llt().matrixL();
}

} // namespace kestrel::motion
