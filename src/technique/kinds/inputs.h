#pragma once

#include "model/reading.h"
#include "model/record.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"

#include <Eigen/Core>

#include <map>
#include <optional>
#include <string>
#include <vector>

/// What a reading is computed from: landmarks as independent numbers with their deviations. Only
/// within this room.
namespace kestrel::technique {

/// The landmarks a reading draws on, each once, as independent inputs x0, y0, x1, y1, …
class Inputs {
  public:
    Inputs(const Pack& pack, const model::Rep& rep, model::Hand hand)
        : pack_(pack), rep_(rep), hand_(hand) {}

    /// Index of the error in x (y is next) that carrying points of a frame's picture to the first
    /// frame's adds to all of them alike; `sd` is its standard deviation.
    std::size_t carryingError(int frame, double sd);

    /// Index of the error in x (y is next) that the body's own masses add to every centre of mass
    /// alike; `sd` is its standard deviation.
    std::size_t massError(double sd);

    /// Index of the landmark's x; nothing, with `missing` set, when it cannot be used.
    std::optional<std::size_t> index(const std::string& roleName, const std::string& position,
                                     std::optional<model::MissingReason>& missing);

    [[nodiscard]] std::optional<model::Landmark> landmark(const std::string& roleName) const;

    [[nodiscard]] Eigen::VectorXd values() const;
    /// Of landmarks and of carrying them.
    [[nodiscard]] Eigen::VectorXd sds() const;
    /// Of what is taken from tables about the body; all 0 when nothing is.
    [[nodiscard]] Eigen::VectorXd tableSds() const;

  private:
    const Pack& pack_;
    const model::Rep& rep_;
    model::Hand hand_;
    std::map<std::pair<int, model::Landmark>, std::size_t> indices_;
    std::map<int, std::size_t> errors_; ///< by the frame that is carried
    std::optional<std::size_t> massError_;
    double massSd_ = 0.0;
    std::vector<double> values_;
    std::vector<double> sds_;
};

/// How points of a frame's picture are carried to the first frame's when the camera moved.
struct Carrying {
    model::CameraPose pose;
    std::size_t error = 0; ///< index of its input, see Inputs::carryingError
};

/// A point expression with its landmarks resolved to inputs.
struct ResolvedPoint {
    std::vector<std::pair<std::size_t, double>> terms;
    int frame = 0;
    std::optional<model::Landmark> landmark; ///< when it is one landmark's own place
    model::Message name;                     ///< of one that is one landmark: “lead knee”
    std::optional<Carrying> carrying;
    std::optional<std::size_t> massError; ///< index of its input, see Inputs::massError

    [[nodiscard]] model::Point2 at(const Eigen::VectorXd& x) const;
};

using ResolvedPoints = std::vector<ResolvedPoint>;

/// The points of `expressions` at `position`; with a camera that moved, in the first frame's
/// picture. `massSdPx` is how far off a centre of mass is because bodies differ. Nothing, with
/// `missing` set, when a point cannot be had.
std::optional<ResolvedPoints> resolve(const std::vector<PointExpression>& expressions,
                                      const std::string& position, const model::Rep& rep,
                                      const model::CameraMotion& camera, double massSdPx,
                                      Inputs& inputs, std::optional<model::MissingReason>& missing);

/// Why no time can be read between these positions, if so: one is not set, or the capture rate is
/// not known.
std::optional<model::MissingReason> timeHindrance(const Pack& pack, const model::Rep& rep,
                                                  const Circumstances& circumstances,
                                                  const std::vector<std::string>& positions);

/// Standard deviation of an instant, seconds, at a position that has a frame: known only to its
/// frame, uniform over one interval, and more when only a machine found it.
double instantSd(const model::ClipTime& time, const model::Rep& rep, const std::string& position);

/// A point computed in the first frame's picture, as it is drawn in that of `frame`.
model::Point2 drawnIn(const Circumstances& circumstances, int frame, model::Point2 point);

/// How much larger the background looks in that frame's picture than in the first one's; 1 for a
/// camera that stood still.
double zoomAt(const model::CameraMotion& camera, int frame);

/// Length of the way through the points, pixels.
double pathLength(const ResolvedPoints& path, const Eigen::VectorXd& x);

std::vector<model::Point2> pointsAt(const ResolvedPoints& points, const Eigen::VectorXd& x);

} // namespace kestrel::technique
