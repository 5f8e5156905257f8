#pragma once

#include "motion/camera_pair.h"
#include "technique/kinds/both_films.h"

#include <Eigen/Core>

#include <optional>
#include <string>
#include <vector>

/// What a reading in space is computed from: picture places of both films and what the two cameras
/// may be off by, as independent numbers with their deviations. Only within this room.
namespace kestrel::technique {

/// One term of a point: a landmark with its weight, seen by both cameras; four inputs from `first`.
struct SeenTerm {
    double weight = 1.0;
    std::size_t first = 0;
    model::Point2 velocity; ///< in the second film, pixels a second
};

/// A point, made of its terms.
using SeenPoint = std::vector<SeenTerm>;

/// The inputs of one reading: picture places of both films, sixteen errors of the two cameras
/// (motion/camera_pair.h), and how far the films are out of step, seconds. Films and cameras must
/// outlive it.
class SpaceInputs {
  public:
    SpaceInputs(const BothFilms& films, const motion::CameraPair& cameras)
        : films_(films), cameras_(cameras) {}

    /// Adds a landmark at a position, or in a frame of the first film, to a point; false when one
    /// of the films lacks it.
    bool addAt(model::Landmark landmark, const std::string& position, double weight,
               SeenPoint& point);
    bool addIn(model::Landmark landmark, int frame, double weight, SeenPoint& point);

    [[nodiscard]] Eigen::VectorXd values() const;
    /// Of placing.
    [[nodiscard]] Eigen::VectorXd placingSds() const;
    /// Of the two cameras.
    [[nodiscard]] Eigen::VectorXd cameraSds() const;
    /// Of the two films' step.
    [[nodiscard]] Eigen::VectorXd stepSds() const;
    /// Whether the second film shows a landmark at its own frame of a position only.
    [[nodiscard]] bool ownFrames() const { return ownFrames_; }

    /// The point in space; nothing where the two sights do not tell it.
    [[nodiscard]] std::optional<Eigen::Vector3d> place(const SeenPoint& point,
                                                       const Eigen::VectorXd& x) const;

  private:
    static constexpr Eigen::Index cameraErrors = 16; // of both

    bool add(const std::optional<SeenLandmark>& one, const std::optional<SeenLandmark>& other,
             double weight, SeenPoint& point);
    [[nodiscard]] Eigen::Index size() const {
        return static_cast<Eigen::Index>(values_.size()) + cameraErrors + 1;
    }

    const BothFilms& films_;
    const motion::CameraPair& cameras_;
    bool ownFrames_ = false;
    std::vector<double> values_;
    std::vector<double> sds_;
};

} // namespace kestrel::technique
