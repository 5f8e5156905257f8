#include "motion/ground_camera.h"

#include "motion/least_squares.h"

#include <Eigen/Eigenvalues>
#include <Eigen/Geometry>
#include <Eigen/LU>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace kestrel::motion {
namespace {

using Eigen::Matrix3d;
using Eigen::Vector2d;
using Eigen::Vector3d;
using model::Degrees;

// What is known of cameras before anything is marked.
/// How far from level a camera is held, as the sine of its roll: some 3°.
constexpr double rollSd = 0.05;
/// The focal length over the picture's longer side: phones have 0.7 to 2.3 (their data sheets),
/// cameras with a long lens more.
constexpr double usualFocal = 1.3;
constexpr double focalLogSd = 0.6;
/// Lenses of phones are straightened; what is left, and wide ones, as a working figure.
constexpr double distortionSd = 0.03;

/// How steeply a camera on a tripod or in a hand looks down, as a sine: a little, seldom more than
/// 25°. Without it a symmetric rectangle has a second, steeper camera that sees it the same.
constexpr double usualSteepness = 0.1;
constexpr double steepnessSd = 0.15;

constexpr double nearest = 0.05; ///< metres in front of the camera

/// How far each point, straightened, lies beside the straight line that fits them all, pixels.
Eigen::VectorXd offStraight(const GroundCamera& camera, const std::vector<Point2>& edge) {
    Eigen::Matrix2Xd points(2, static_cast<Eigen::Index>(edge.size()));
    for (std::size_t i = 0; i < edge.size(); ++i) {
        const Point2 p = camera.straightened(edge[i]);
        points.col(static_cast<Eigen::Index>(i)) << p.x, p.y;
    }
    const Vector2d middle = points.rowwise().mean();
    points.colwise() -= middle;
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> axes(points * points.transpose());
    return points.transpose() * axes.eigenvectors().col(0); // across its longest direction
}

constexpr Eigen::Index knownOfCameras = 4;
constexpr std::size_t fewestOnEdge = 3;

std::size_t edgePoints(const GroundEvidence& evidence) {
    std::size_t count = 0;
    for (const auto& edge : evidence.straightEdges) {
        count += edge.size() >= fewestOnEdge ? edge.size() : 0;
    }
    return count;
}

LeastSquares<GroundCamera> problemOf(const GroundEvidence& evidence, int mostRounds) {
    LeastSquares<GroundCamera> problem;
    problem.residuals = [&](const GroundCamera& camera) { return evidence.residuals(camera); };
    problem.changed = [](const GroundCamera& camera, const Eigen::VectorXd& change) {
        return changed(camera, CameraChange(change));
    };
    problem.freedom = CameraChange::RowsAtCompileTime;
    problem.mostRounds = mostRounds;
    return problem;
}

/// A level camera that looks at `middle` from that side and that steeply, so far away that things
/// look as large as they do.
GroundCamera startFrom(const Vector2d& middle, Point2 middlePx, double extentM, double extentPx,
                       double focalPx, double azimuth, double steepness, Point2 principal) {
    GroundCamera camera;
    camera.focalPx = focalPx;
    camera.principal = principal;
    const double away = focalPx * extentM / extentPx;
    const Vector3d back(std::cos(azimuth) * std::cos(steepness),
                        std::sin(azimuth) * std::cos(steepness), std::sin(steepness));
    camera.position = Vector3d(middle.x(), middle.y(), 0.0) + away * back;
    const Vector3d forward = -back;
    const Vector3d right(-std::sin(azimuth), std::cos(azimuth), 0.0);
    camera.axes.row(0) = right;
    camera.axes.row(1) = forward.cross(right);
    camera.axes.row(2) = forward;
    // Turned so that the middle of the marks is seen where it is.
    const double x = (middlePx.x - principal.x) / focalPx;
    const double y = (middlePx.y - principal.y) / focalPx;
    const Matrix3d turn = (Eigen::AngleAxisd(std::atan(x), Vector3d::UnitY()) *
                           Eigen::AngleAxisd(-std::atan(y), Vector3d::UnitX()))
                              .toRotationMatrix();
    camera.axes = turn * camera.axes;
    return camera;
}

struct Spread {
    Vector2d middle = Vector2d::Zero();
    Point2 middlePx;
    double extentM = 0.0;
    double extentPx = 0.0;
    double acrossShare = 0.0; ///< extent across the longest direction over that along it
};

double acrossShareOf(const Eigen::Matrix2d& scatter) {
    const double half = 0.5 * scatter.trace();
    const double root = std::sqrt(std::max(0.0, half * half - scatter.determinant()));
    return std::sqrt(std::max(0.0, half - root) / (half + root));
}

Spread spreadOf(std::span<const GroundMark> marks) {
    Spread spread;
    const auto count = static_cast<double>(marks.size());
    for (const GroundMark& mark : marks) {
        spread.middle += mark.place / count;
        spread.middlePx = spread.middlePx + mark.px * (1.0 / count);
    }
    Eigen::Matrix2d onGround = Eigen::Matrix2d::Zero();
    Eigen::Matrix2d inPicture = Eigen::Matrix2d::Zero();
    for (const GroundMark& mark : marks) {
        const Vector2d m = mark.place - spread.middle;
        const Vector2d p(mark.px.x - spread.middlePx.x, mark.px.y - spread.middlePx.y);
        onGround += m * m.transpose();
        inPicture += p * p.transpose();
        spread.extentM = std::max(spread.extentM, m.norm());
        spread.extentPx = std::max(spread.extentPx, p.norm());
    }
    if (spread.extentM > 0.0 && spread.extentPx > 0.0) {
        spread.acrossShare = std::min(acrossShareOf(onGround), acrossShareOf(inPicture));
    }
    return spread;
}

} // namespace

std::optional<Point2> GroundCamera::inPicture(const Vector3d& place) const {
    const Vector3d p = axes * (place - position);
    if (p.z() < nearest) {
        return std::nullopt;
    }
    const double x = p.x() / p.z();
    const double y = p.y() / p.z();
    const double square = x * x + y * y;
    // Farther out the one term of distortion would fold the picture back on itself.
    constexpr double folds = 0.2;
    if (1.0 + 3.0 * distortion * square < folds) {
        return std::nullopt;
    }
    const double stretch = focalPx * (1.0 + distortion * square);
    return principal + Point2{stretch * x, stretch * y};
}

Vector3d GroundCamera::directionAt(Point2 px) const {
    const double x = (px.x - principal.x) / focalPx;
    const double y = (px.y - principal.y) / focalPx;
    double shrink = 1.0;
    constexpr int rounds = 10; // the fixed point is found to 1e-6 for lenses worth measuring with
    for (int round = 0; round < rounds; ++round) {
        shrink = 1.0 / (1.0 + distortion * shrink * shrink * (x * x + y * y));
    }
    return axes.transpose() * Vector3d(shrink * x, shrink * y, 1.0);
}

Point2 GroundCamera::straightened(Point2 px) const {
    const Vector3d seen = axes * directionAt(px);
    return principal + Point2{seen.x(), seen.y()} * focalPx;
}

std::optional<Vector2d> GroundCamera::onGround(Point2 px, double heightM) const {
    const Vector3d direction = directionAt(px);
    constexpr double flattest = 1e-3; // slope below which a pixel covers kilometres
    const double fall = position.z() - heightM;
    if (direction.z() > -flattest || fall <= 0.0) {
        return std::nullopt;
    }
    const Vector3d place = position + direction * (fall / -direction.z());
    return Vector2d(place.x(), place.y());
}

std::optional<Vector2d> GroundCamera::onUprightPlane(Point2 px, const Vector2d& through,
                                                     const Vector2d& heading) const {
    const Vector3d direction = directionAt(px).normalized();
    const Vector2d along = heading.normalized();
    const Vector3d square(-along.y(), along.x(), 0.0);
    const double towards = direction.dot(square);
    constexpr double leastAngle = 0.17; // sine of 10°
    if (std::abs(towards) < leastAngle) {
        return std::nullopt;
    }
    const Vector3d start(through.x(), through.y(), 0.0);
    const double way = (start - position).dot(square) / towards;
    if (way <= nearest) {
        return std::nullopt;
    }
    const Vector3d place = position + way * direction - start;
    return Vector2d(place.x() * along.x() + place.y() * along.y(), place.z());
}

model::Degrees GroundCamera::roll() const {
    return model::degreesFromRadians(std::asin(std::clamp(-axes(0, 2), -1.0, 1.0)));
}

std::optional<double> GroundCamera::horizonY() const {
    const Vector3d forward = axes.row(2);
    const double level = std::hypot(forward.x(), forward.y());
    constexpr double straightDown = 0.05;
    if (level < straightDown) {
        return std::nullopt;
    }
    const Vector3d ahead(forward.x() / level, forward.y() / level, 0.0);
    const Vector3d p = axes * ahead;
    const double y = p.y() / p.z();
    return principal.y + focalPx * y * (1.0 + distortion * y * y);
}

std::optional<Eigen::VectorXd> GroundEvidence::residuals(const GroundCamera& camera) const {
    Eigen::VectorXd result(static_cast<Eigen::Index>(2 * marks.size() + edgePoints(*this)) +
                           knownOfCameras);
    Eigen::Index row = 0;
    for (const GroundMark& mark : marks) {
        const auto seen = camera.inPicture({mark.place.x(), mark.place.y(), 0.0});
        if (!seen) {
            return std::nullopt;
        }
        result[row++] = (mark.px.x - seen->x) / markSd;
        result[row++] = (mark.px.y - seen->y) / markSd;
    }
    for (const auto& edge : straightEdges) {
        if (edge.size() >= fewestOnEdge) {
            const auto count = static_cast<Eigen::Index>(edge.size());
            result.segment(row, count) = offStraight(camera, edge) / markSd;
            row += count;
        }
    }
    result[row++] = -camera.axes(0, 2) / rollSd;
    result[row++] = -std::log(camera.focalPx / usualFocalPx) / focalLogSd;
    result[row++] = -camera.distortion / distortionSd;
    result[row++] = (-(fromAbove ? 1.0 : usualSteepness) - camera.axes(2, 2)) / steepnessSd;
    return result;
}

double GroundEvidence::freedom() const {
    double edges = 0.0; // every one lies anyhow it likes
    for (const auto& edge : straightEdges) {
        edges += edge.size() >= fewestOnEdge ? 1.0 : 0.0;
    }
    return static_cast<double>(2 * marks.size() + edgePoints(*this)) + knownOfCameras - 8.0 -
           2.0 * edges;
}

GroundCamera changed(const GroundCamera& camera, const CameraChange& change) {
    GroundCamera result = camera;
    const Vector3d turn = change.head<3>();
    if (const double angle = turn.norm(); angle > 0.0) {
        result.axes =
            Eigen::AngleAxisd(angle, turn / angle).toRotationMatrix().transpose() * camera.axes;
    }
    result.position += change.segment<3>(3);
    result.focalPx *= std::exp(change[6]);
    result.distortion += change[7];
    return result;
}

namespace {

/// The camera that fits best, looked for from every side; nothing where none can see the marks.
std::optional<Solved<GroundCamera>> bestCamera(const GroundEvidence& evidence, const Spread& spread,
                                               int width, int height) {
    const Point2 principal{(width - 1) / 2.0, (height - 1) / 2.0};
    const auto cost = [](const Solved<GroundCamera>& found) {
        return found.residuals.squaredNorm();
    };
    // A few rounds from every side show which starts are worth going on with.
    std::vector<Solved<GroundCamera>> rough;
    constexpr int roughRounds = 6;
    constexpr int mostRounds = 60;
    constexpr std::size_t worthIt = 8;
    constexpr std::array steepnesses{0.08, 0.45, 1.2};
    constexpr std::array focals{0.7, 2.2};
    constexpr int sides = 8;
    const LeastSquares<GroundCamera> roughly = problemOf(evidence, roughRounds);
    for (int side = 0; side < sides; ++side) {
        for (const double steepness : steepnesses) {
            for (const double focal : focals) {
                auto found =
                    solved(roughly,
                           startFrom(spread.middle, spread.middlePx, spread.extentM,
                                     spread.extentPx, focal * std::max(width, height),
                                     2.0 * std::numbers::pi * side / sides, steepness, principal));
                if (found) {
                    rough.push_back(std::move(*found));
                }
            }
        }
    }
    std::sort(rough.begin(), rough.end(),
              [&](const auto& a, const auto& b) { return cost(a) < cost(b); });
    rough.resize(std::min(rough.size(), worthIt));
    // Picture down may point a little up when the camera looks straight down.
    constexpr double mostUpsideDown = 0.2;
    std::optional<Solved<GroundCamera>> best;
    const LeastSquares<GroundCamera> exactly = problemOf(evidence, mostRounds);
    for (const auto& start : rough) {
        auto found = solved(exactly, start.state);
        const bool above =
            found && found->state.position.z() > 0.0 && found->state.axes(1, 2) < mostUpsideDown;
        if (above && (!best || cost(*found) < cost(*best))) {
            best = std::move(found);
        }
    }
    return best;
}

} // namespace

GroundResult fitGroundCamera(std::span<const GroundMark> marks, int width, int height,
                             double markSd, bool fromAbove,
                             std::span<const std::vector<Point2>> straightEdges) {
    constexpr std::size_t fewest = 4;
    if (marks.size() < fewest) {
        return {std::nullopt, GroundRefusal{GroundRefusal::Why::tooFewMarks, 0.0}};
    }
    const Spread spread = spreadOf(marks);
    constexpr double narrowest = 0.015; // across over along, on the ground or in the picture
    if (spread.acrossShare < narrowest) {
        return {std::nullopt, GroundRefusal{GroundRefusal::Why::onOneLine, 0.0}};
    }
    const GroundEvidence evidence{{marks.begin(), marks.end()},
                                  {straightEdges.begin(), straightEdges.end()},
                                  usualFocal * std::max(width, height),
                                  markSd,
                                  fromAbove};
    const auto best = bestCamera(evidence, spread, width, height);
    if (!best) {
        return {std::nullopt, GroundRefusal{GroundRefusal::Why::doesNotMatch, 0.0}};
    }
    GroundFit fit;
    fit.camera = best->state;
    double square = 0.0;
    for (const GroundMark& mark : marks) {
        const auto seen = fit.camera.inPicture({mark.place.x(), mark.place.y(), 0.0});
        fit.residuals.push_back(mark.px - *seen);
        square += std::pow(model::length(fit.residuals.back()), 2);
    }
    fit.residualPx = std::sqrt(square / static_cast<double>(marks.size()));
    // A misplaced or mixed-up mark shows as marks that no camera can see so.
    const double tooMuch = 6.0 * markSd;
    if (fit.residualPx > tooMuch) {
        return {std::nullopt, GroundRefusal{GroundRefusal::Why::doesNotMatch, fit.residualPx}};
    }
    const auto jacobian = jacobianOf(problemOf(evidence, 0), fit.camera, best->residuals);
    if (!jacobian) {
        return {std::nullopt, GroundRefusal{GroundRefusal::Why::doesNotMatch, fit.residualPx}};
    }
    fit.evidence = evidence;
    fit.variance = std::max(1.0, best->residuals.squaredNorm() / evidence.freedom());
    fit.spread = spreadFrom(covarianceFrom(*jacobian) * fit.variance);
    return {fit, std::nullopt};
}

} // namespace kestrel::motion
