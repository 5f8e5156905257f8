#pragma once

#include "model/units.h"

#include <Eigen/Core>

#include <optional>
#include <span>
#include <string>
#include <vector>

/// A camera that looks at level ground: from marked points whose places on the ground are known to
/// the place of any other point. Ground coordinates are metres: x towards the target, y to the left
/// as seen when facing it, z up; the ground is z = 0.
namespace kestrel::motion {

using model::Point2;

/// A pinhole with one term of radial distortion.
struct GroundCamera {
    Eigen::Vector3d position = Eigen::Vector3d::UnitZ();
    /// Rows: picture right, picture down, where it looks; orthonormal, in ground coordinates.
    Eigen::Matrix3d axes = Eigen::Matrix3d::Identity();
    double focalPx = 1.0;
    double distortion = 0.0; ///< a ray at tangent r from the axis is seen at r (1 + distortion r²)
    Point2 principal;        ///< taken to be the middle of the picture

    /// Where a place is seen; nothing behind the camera or so far aside that the lens does not
    /// show it.
    [[nodiscard]] std::optional<Point2> inPicture(const Eigen::Vector3d& place) const;
    /// The direction seen at a picture point; not of unit length.
    [[nodiscard]] Eigen::Vector3d directionAt(Point2 px) const;
    /// Where a picture point would be seen without the lens's distortion.
    [[nodiscard]] Point2 straightened(Point2 px) const;
    /// The place seen at a picture point at that height above the ground; nothing where the view
    /// goes over it, at or above the horizon.
    [[nodiscard]] std::optional<Eigen::Vector2d> onGround(Point2 px, double heightM = 0.0) const;
    /// Where the line of sight meets the upright plane through `through` that runs along
    /// `heading` (a level direction): how far along it, and how high, metres. Nothing where it
    /// does not, or where it nearly runs along the plane.
    [[nodiscard]] std::optional<Eigen::Vector2d>
    onUprightPlane(Point2 px, const Eigen::Vector2d& through, const Eigen::Vector2d& heading) const;
    /// How far the picture is turned against level, positive clockwise.
    [[nodiscard]] model::Degrees roll() const;
    /// The picture height at which level ground ends, above the middle of the picture; nothing
    /// when the camera looks straight down.
    [[nodiscard]] std::optional<double> horizonY() const;
};

/// A point of the ground that was marked.
struct GroundMark {
    Eigen::Vector2d place; ///< metres
    Point2 px;
};

/// Small changes of a camera: turn about its own three axes (radians), place (metres), log of the
/// focal length, distortion.
using CameraChange = Eigen::Matrix<double, 8, 1>;

GroundCamera changed(const GroundCamera& camera, const CameraChange& change);

/// What tells a camera over the ground: marks, edges, and what is known of cameras anyway.
struct GroundEvidence {
    std::vector<GroundMark> marks;
    std::vector<std::vector<Point2>> straightEdges; ///< see fitGroundCamera
    double usualFocalPx = 1.0;
    double markSd = 1.0;
    bool fromAbove = false;

    /// Marks minus where that camera would see them, edges off straight, and what is known of
    /// cameras, each over its deviation. Nothing when a mark would lie behind the camera.
    [[nodiscard]] std::optional<Eigen::VectorXd> residuals(const GroundCamera& camera) const;
    /// What the residuals can still vary by when the camera fits.
    [[nodiscard]] double freedom() const;
};

struct GroundFit {
    GroundCamera camera;
    GroundEvidence evidence; ///< that it was made of
    /// How much wider than stated the marks scatter, as a variance; at least 1.
    double variance = 1.0;
    /// Changes of the camera that eight independent errors of standard deviation 1 make, column
    /// by column: how surely the camera is known.
    Eigen::Matrix<double, 8, 8> spread = Eigen::Matrix<double, 8, 8>::Zero();
    double residualPx = 0.0; ///< root mean square distance of marks and where they ought to be
    std::vector<Point2> residuals; ///< mark by mark: marked minus fitted
};

/// Why no camera could be found, for the coach; each leaves everything as it was.
struct GroundRefusal {
    enum class Why {
        tooFewMarks,  ///< fewer than four
        onOneLine,    ///< or so nearly that nothing can be told across it
        doesNotMatch, ///< no camera sees these places at these points: marks mixed up or slipped
    };
    Why why = Why::tooFewMarks;
    double residualPx = 0.0; ///< of doesNotMatch
};

struct GroundResult {
    std::optional<GroundFit> fit;
    std::optional<GroundRefusal> refusal; ///< exactly one of the two is there
};

/// The camera that sees the marks where they are, by least squares (Levenberg–Marquardt), weighed
/// against what is known of cameras: most are held level within a few degrees and look little
/// downwards (straight down with `fromAbove`), few lenses bend straight lines much, and focal
/// lengths lie around the picture's width. `markSd` is the standard
/// deviation of a mark per axis, pixels; where the marks fit worse than that, their own scatter
/// counts. Method: Zhang (2000), IEEE Transactions on Pattern Analysis 22, for a plane in one view.
///
/// `straightEdges` are points along edges that are straight on the field, an edge an entry, marked
/// as surely as the rest: where the picture bends them, the lens does. An edge of fewer than three
/// points says nothing.
GroundResult fitGroundCamera(std::span<const GroundMark> marks, int width, int height,
                             double markSd, bool fromAbove = false,
                             std::span<const std::vector<Point2>> straightEdges = {});

} // namespace kestrel::motion
