#pragma once

#include <Eigen/Cholesky>
#include <Eigen/Core>

#include <vector>

/// Linear estimates of a state that moves on from instant to instant: forward filter (Kalman 1960)
/// and backward smoother (Rauch, Tung and Striebel 1965).
namespace kestrel::motion {

/// What is known of a state of `Size` numbers, for `Columns` such states that are seen alike (the
/// two axes of a picture) and share their covariance.
template <int Size, int Columns> struct StateEstimate {
    using Mean = Eigen::Matrix<double, Size, Columns>;
    using Covariance = Eigen::Matrix<double, Size, Size>;
    using Row = Eigen::Matrix<double, 1, Size>;
    using Value = Eigen::Matrix<double, 1, Columns>;

    Mean mean = Mean::Zero();
    Covariance covariance = Covariance::Zero();

    /// Moves on to the next instant: the state times `carry`, and what is added meanwhile.
    void moveOn(const Covariance& carry, const Covariance& processNoise) {
        mean = carry * mean;
        covariance = carry * covariance * carry.transpose() + processNoise;
    }

    /// What an update was made of.
    struct Innovation {
        Value residual; ///< measured minus expected
        double variance = 0.0;
    };

    /// Takes in that `row` times the state was measured as `value` with that variance.
    Innovation update(const Row& row, const Value& value, double variance) {
        const Eigen::Matrix<double, Size, 1> toRow = covariance * row.transpose();
        const Innovation innovation{value - row * mean, row.dot(toRow) + variance};
        const Eigen::Matrix<double, Size, 1> gain = toRow / innovation.variance;
        mean += gain * innovation.residual;
        covariance -= gain * toRow.transpose();
        covariance = 0.5 * (covariance + covariance.transpose()).eval();
        return innovation;
    }
};

/// How what is learned later changes a filtered estimate: its gain, with `predicted` what was known
/// of the next instant before anything was measured there.
template <int Size, int Columns>
typename StateEstimate<Size, Columns>::Covariance
smootherGain(const StateEstimate<Size, Columns>& filtered,
             const StateEstimate<Size, Columns>& predicted,
             const typename StateEstimate<Size, Columns>::Covariance& carry) {
    return predicted.covariance.ldlt().solve(carry * filtered.covariance).transpose();
}

/// The estimates with all measurements, those of later instants included. `carries` has for each
/// instant how the state came there from the one before.
template <int Size, int Columns>
std::vector<StateEstimate<Size, Columns>>
smoothedBack(std::vector<StateEstimate<Size, Columns>> filtered,
             const std::vector<StateEstimate<Size, Columns>>& predicted,
             const std::vector<typename StateEstimate<Size, Columns>::Covariance>& carries) {
    for (std::size_t i = filtered.size() - 1; i-- > 0;) {
        const auto gain = smootherGain(filtered[i], predicted[i + 1], carries[i + 1]);
        const auto& later = filtered[i + 1]; // smoothed by now
        filtered[i].mean += gain * (later.mean - predicted[i + 1].mean);
        filtered[i].covariance +=
            gain * (later.covariance - predicted[i + 1].covariance) * gain.transpose();
    }
    return filtered;
}

} // namespace kestrel::motion
