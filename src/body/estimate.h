#pragma once

#include "body/body_points.h"
#include "body/proportions.h"
#include "body/residuals.h"
#include "body/seen_rep.h"

#include <Eigen/CholmodSupport>
#include <Eigen/SparseCore>

#include <algorithm>
#include <array>
#include <optional>
#include <vector>

namespace kestrel::body {

/// The parameters of the estimate, in the order of the information matrix: points of the first
/// instant, of the second …, then lengths, camera, gravity, ground, height, azimuth, lean,
/// errors of landmarks.
struct State {
    std::vector<double> points;                 ///< three numbers each, camera's axes
    std::array<double, partCount> logLengths{}; ///< in standing heights
    std::array<double, cameraSize> camera{};
    std::array<double, gravitySize> gravity{};
    double ground = 0.0;                 ///< height of the ground along the direction up
    double logHeight = 0.0;              ///< of the player, in units of places
    double azimuth = 0.0;                ///< of the target line, radians from the picture's right
    std::array<double, leanSize> lean{}; ///< otherwise than usual
    double unitPx = 0.0;                 ///< how long that unit looks at depth 0; no parameter
    /// Errors of landmarks that stay alike for a while, at nodes in time, and after the last node
    /// those that stay: two numbers each, in standard deviations.
    std::vector<double> landmarkErrors;

    [[nodiscard]] double* landmarkError(std::size_t node, std::size_t index) {
        return &landmarkErrors[2 * (node * pointCount + index)];
    }
    [[nodiscard]] double* point(std::size_t instant, std::size_t index) {
        return &points[3 * (instant * pointCount + index)];
    }
    [[nodiscard]] const double* point(std::size_t instant, std::size_t index) const {
        return &points[3 * (instant * pointCount + index)];
    }
    [[nodiscard]] Eigen::Index indexOfPoint(std::size_t instant, std::size_t index) const {
        return static_cast<Eigen::Index>(3 * (instant * pointCount + index));
    }
    [[nodiscard]] Eigen::Index indexOfGravity() const {
        return static_cast<Eigen::Index>(points.size() + partCount + cameraSize);
    }
    [[nodiscard]] Eigen::Index indexOfHeight() const { return indexOfGravity() + gravitySize + 1; }
    [[nodiscard]] Eigen::Index indexOfAzimuth() const { return indexOfHeight() + 1; }
    [[nodiscard]] Eigen::Index size() const {
        return static_cast<Eigen::Index>(points.size() + partCount + cameraSize + gravitySize + 3 +
                                         leanSize + landmarkErrors.size());
    }
};

/// Another answer: a limb that may lean to the other side for a while, because what is seen hardly
/// tells.
struct Alternative {
    std::size_t limb = 0;  ///< alternatives of one limb exclude one another
    double odds = 0.0;     ///< against the state
    std::size_t first = 0; ///< instants, both included
    std::size_t last = 0;
    std::vector<std::size_t> points;
    std::vector<Eigen::Vector3d> places; ///< of `points` at the first instant, at the second, …

    /// Where a point is at an instant; nothing where it is where the state has it.
    [[nodiscard]] std::optional<Eigen::Vector3d> place(std::size_t instant,
                                                       std::size_t point) const {
        const auto at = std::find(points.begin(), points.end(), point);
        if (instant < first || instant > last || at == points.end()) {
            return std::nullopt;
        }
        return places[(instant - first) * points.size() +
                      static_cast<std::size_t>(at - points.begin())];
    }
};

/// Another answer of the whole body: where else the search ended, and with what evidence.
struct OtherEnd {
    double odds = 0.0; ///< against the state
    /// By how much each point lies elsewhere against the hips, of the first instant, of the second
    /// …: level axes, standing heights.
    std::vector<double> beside;
};

/// The Cholesky factor of an information matrix.
class InformationFactor : public Eigen::CholmodSupernodalLLT<Eigen::SparseMatrix<double>> {
  public:
    InformationFactor() = default;
    explicit InformationFactor(const Eigen::SparseMatrix<double>& information) {
        compute(information);
    }

    /// Pᵀ L⁻ᵀ b, where the matrix is Pᵀ L Lᵀ P.
    [[nodiscard]] Eigen::MatrixXd transposedHalfSolve(Eigen::MatrixXd b);
};

/// State, and how surely it is known.
struct Estimate {
    std::vector<model::Seconds> times;
    State state;
    std::vector<Alternative> alternatives;
    std::vector<OtherEnd> otherEnds;
    bool targetKnown = false; ///< whether the state's azimuth says anything
    InformationFactor factor;
};

} // namespace kestrel::body
