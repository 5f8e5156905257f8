#pragma once

#include "body/estimate.h"
#include "body/seen_rep.h"

#include <ceres/problem.h>

#include <cstddef>
#include <memory>
#include <span>

/// The least-squares problem whose smallest sum is the body in space. Only within this room.
namespace kestrel::body {

/// Cameras as coaches have them, where nothing is known: a phone at 8 to 12 m that looks a little
/// down (radians). Working figures.
inline constexpr double usualDistanceBh = 5.5;
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

    /// What of the camera stays as it is, until said otherwise.
    enum class Held { nothing, distance, all };
    void hold(Held held);

    /// Whether points move freely or along the sight on which they are seen. The latter has a third
    /// of the numbers, and solves many times as quickly.
    enum class Points { free, alongSight };
    void letMove(Points points);

    /// Twice the negative logarithm of how likely what is seen is with the parameters that are
    /// held, up to a constant: the smallest sum and, for how narrow it is, the logarithm of the
    /// determinant of the information matrix (Laplace's approximation). For points along their
    /// sights.
    double evidence();

    /// Moves all parameters that are not held to the nearest smallest sum.
    void solve(int mostRounds);

    /// Moves only these points there; all else stays. The whole sum of squares that is left.
    double solveFor(std::span<const PointRef> points, int mostRounds);

    [[nodiscard]] double cost();

    /// State and information matrix, with the derivatives where the parameters are now. Lets all of
    /// them move. Null when what is seen leaves some of them quite unknown.
    std::shared_ptr<Estimate> estimate();

    [[nodiscard]] double logDistance() const { return state_.camera[0]; }
    /// Moves the points so that they are seen where they were.
    void setLogDistance(double logDistance);

  private:
    /// The information matrix of all parameters that are not held, in the order that State has
    /// them, and the sum of squares.
    Eigen::SparseMatrix<double> information(double& sum);
    double* point(std::size_t instant, std::size_t index) { return state_.point(instant, index); }
    double* length(Part part) { return &state_.logLengths[static_cast<std::size_t>(part)]; }
    [[nodiscard]] std::size_t count() const { return rep_.instants.size(); }
    [[nodiscard]] double step(std::size_t i) const;

    [[nodiscard]] std::size_t errorNodes() const;
    void addPicture();
    void addNearer(std::size_t i);
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
    ceres::Problem problem_;
};

} // namespace kestrel::body
