#pragma once

#include "body/estimate.h"
#include "body/seen_rep.h"

#include <ceres/problem.h>

#include <array>
#include <cstddef>
#include <memory>
#include <span>
#include <vector>

/// The least-squares problem whose smallest sum is the body in space. Only within this room.
namespace kestrel::body {

/// Cameras as coaches have them, where nothing is known: a phone at 8 to 12 m that looks a little
/// down (radians). Working figures.
inline constexpr double usualDistanceBh = 5.5;
inline constexpr double usualDistanceLogSd = 0.5;
inline constexpr double usualPitch = 0.05;

/// A point at an instant.
struct PointRef {
    std::size_t instant = 0;
    std::size_t point = 0;
};

class BodyProblem {
  public:
    /// `rep` must outlive it. The parameters start at `start`, whose unit is a standing height as
    /// it looks at `depthZero`: the player is at depth 0 then.
    BodyProblem(const SeenRep& rep, State start, model::Seconds depthZero);
    BodyProblem(const BodyProblem&) = delete; // the problem points into the state
    BodyProblem& operator=(const BodyProblem&) = delete;

    [[nodiscard]] const State& state() const { return state_; }
    /// To be moved from where it is; what its parts are keeps its place in memory.
    [[nodiscard]] State& state() { return state_; }
    /// As many instants as there are.
    void setState(const State& state);
    [[nodiscard]] const SeenRep& rep() const { return rep_; }

    /// What stays as it is, until said otherwise: the camera's distance; that, the lengths of the
    /// body and its height; all of the camera, gravity and the ground.
    enum class Held { nothing, distance, sizes, camera };
    void hold(Held held);

    /// Whether points move freely or along the sight on which they are seen. The latter has a third
    /// of the numbers, and solves many times as quickly.
    enum class Points { free, alongSight };
    void letMove(Points points);

    /// Twice the negative logarithm of how likely what is seen is with the parameters that are
    /// held, up to a constant: the smallest sum and, for how narrow it is, a share of the logarithm
    /// of the determinant of the information matrix. For points along their sights.
    double evidence();

    /// Logarithms of the lengths of the parts, and of the height.
    using Sizes = std::array<double, partCount + 1>;
    /// What the evidence has more than the sum of squares, as it grows with each size while all
    /// that is not a size goes along. For points along their sights.
    Sizes narrowing();
    /// Gives the sum of squares such slopes, so that the sizes go where the evidence is best.
    void setSlopes(const Sizes& slopes);

    /// Moves all parameters that are not held to the nearest smallest sum.
    void solve(int mostRounds);

    /// The sum of squares of all in which any of these points has a part.
    [[nodiscard]] double costAround(std::span<const PointRef> points) const;
    /// Moves only these points, along their sights, to where it is smallest; all else stays. Gives
    /// up when that turns out to be much more than `mostSum`. What it is then.
    double solveAround(std::span<const PointRef> points, int mostRounds, double mostSum);
    /// Moves only these points, freely, to where it is smallest; all else stays.
    void solveFreelyAround(std::span<const PointRef> points, int mostRounds);

    [[nodiscard]] double cost();

    /// State and information matrix, with the derivatives where the parameters are now. Lets all of
    /// them move. Of the distance no more is taken to be known than `distanceInformation`: one over
    /// the variance of its logarithm. Null when what is seen leaves some parameters quite unknown.
    std::shared_ptr<Estimate> estimate(double distanceInformation);

    [[nodiscard]] double logDistance() const { return state_.camera[0]; }
    /// Moves the points so that they are seen where they were.
    void setLogDistance(double logDistance);

  private:
    /// A term of the sum of squares. The problem owns both functions.
    struct Term {
        ceres::CostFunction* cost;
        ceres::LossFunction* loss;
        std::vector<double*> blocks;
    };

    /// The information matrix of all parameters that are not held, in the order that State has
    /// them, and the sum of squares.
    Eigen::SparseMatrix<double> information(double& sum);
    /// The sum of squares without the slopes.
    [[nodiscard]] double plainCost();
    /// The terms around points as a problem of its own, in which all stays as it is: the whole one
    /// would look at all its terms at each turn.
    [[nodiscard]] ceres::Problem heldAround(std::span<const PointRef> points);
    /// Indices of the terms in which points have a part, each once.
    [[nodiscard]] std::vector<std::size_t> termsAround(std::span<const PointRef> points) const;
    double* point(std::size_t instant, std::size_t index) { return state_.point(instant, index); }
    double* length(Part part) { return &state_.logLengths[static_cast<std::size_t>(part)]; }
    double* size(std::size_t k) {
        return k < partCount ? &state_.logLengths[k] : &state_.logHeight;
    }
    [[nodiscard]] std::size_t count() const { return rep_.instants.size(); }
    [[nodiscard]] double step(std::size_t i) const;

    [[nodiscard]] std::size_t errorNodes() const;
    void addPicture();
    void addNearer(std::size_t i);
    void addUsualPlaces();
    void addBones();
    void addShape();
    void addMotion();
    void addGround();
    void addUsual(model::Seconds depthZero);

    template <int Residuals, int... Sizes, class Cost, class... Blocks>
    void add(ceres::LossFunction* loss, const Cost& cost, Blocks... blocks);

    const SeenRep& rep_;
    State state_;
    Held held_ = Held::nothing;
    Sizes usualSizes_{};
    Sizes sizeSds_{};
    Sizes sizeMeans_{}; ///< the usual ones, moved to where they have the slopes
    std::vector<Term> terms_;
    std::vector<std::vector<std::size_t>> termsOfPoint_; ///< indices, by instant and point
    ceres::Problem problem_;
};

} // namespace kestrel::body
