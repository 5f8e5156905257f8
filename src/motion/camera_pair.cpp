#include "motion/camera_pair.h"

#include "motion/least_squares.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <optional>
#include <tuple>
#include <vector>

namespace kestrel::motion {
namespace {

using Eigen::Vector3d;
using Errors = Eigen::Matrix<double, 16, 1>;

/// How far apart the spots lie that one takes for the same joint from two sides, metres, sd.
/// Working figure.
constexpr double spotSdM = 0.01;

/// How far the lines of sight to a spot pass each other, metres, with its sign; nothing where they
/// run so nearly alike that they have no gap to speak of.
std::optional<double> gapBetween(const GroundCamera& first, const GroundCamera& second,
                                 Point2 seenFirst, Point2 seenSecond) {
    const Vector3d a = first.directionAt(seenFirst).normalized();
    const Vector3d b = second.directionAt(seenSecond).normalized();
    const Vector3d across = a.cross(b);
    constexpr double leastSine = 0.087; // 5°
    if (across.norm() < leastSine) {
        return std::nullopt;
    }
    return (second.position - first.position).dot(across.normalized());
}

struct Gap {
    const SeenByBoth* spot;
    double sd; ///< metres
};

/// The gaps that can be told, with what landmarks and their spots make them off by.
std::vector<Gap> gapsOf(const GroundCamera& first, const GroundCamera& second,
                        std::span<const SeenByBoth> spots) {
    std::vector<Gap> gaps;
    for (const SeenByBoth& spot : spots) {
        const auto gap = gapBetween(first, second, spot.first, spot.second);
        if (!gap) {
            continue;
        }
        double square = spotSdM * spotSdM * spot.instants;
        for (const Point2 way : {Point2{1.0, 0.0}, Point2{0.0, 1.0}}) {
            const auto one = gapBetween(first, second, spot.first + way, spot.second);
            const auto other = gapBetween(first, second, spot.first, spot.second + way);
            square += one ? std::pow((*one - *gap) * spot.firstSd, 2) : 0.0;
            square += other ? std::pow((*other - *gap) * spot.secondSd, 2) : 0.0;
        }
        gaps.push_back({&spot, std::sqrt(square)});
    }
    return gaps;
}

/// What tells both cameras: their marks on the ground, and the gaps.
struct Evidence {
    const GroundFit& first;
    const GroundFit& second;
    std::vector<Gap> gaps;

    /// All misses over their deviations, those of the ground as wide as they scatter; nothing where
    /// the cameras could not see the marks. A spot that has lost its gap on the way counts as met.
    [[nodiscard]] std::optional<Eigen::VectorXd>
    residuals(const std::pair<GroundCamera, GroundCamera>& cameras) const {
        const auto one = first.evidence.residuals(cameras.first);
        const auto other = second.evidence.residuals(cameras.second);
        if (!one || !other) {
            return std::nullopt;
        }
        Eigen::VectorXd all(one->size() + other->size() + static_cast<Eigen::Index>(gaps.size()));
        all.head(one->size()) = *one / std::sqrt(first.variance);
        all.segment(one->size(), other->size()) = *other / std::sqrt(second.variance);
        Eigen::Index row = one->size() + other->size();
        for (const Gap& gap : gaps) {
            all[row++] =
                gapBetween(cameras.first, cameras.second, gap.spot->first, gap.spot->second)
                    .value_or(0.0) /
                gap.sd;
        }
        return all;
    }
};

/// Beyond so many deviations a gap counts no more than one of so many.
constexpr double wild = 2.0;

/// The misses with the gaps brought to their own scatter and wild ones taken in.
Eigen::VectorXd tamed(Eigen::VectorXd residuals, Eigen::Index gaps, double gapSd) {
    for (Eigen::Index i = residuals.size() - gaps; i < residuals.size(); ++i) {
        const double m = residuals[i] / gapSd;
        // Huber's cost as a square: m² near 0, 2 wild |m| − wild² beyond.
        residuals[i] = std::abs(m) <= wild
                           ? m
                           : std::copysign(std::sqrt(2.0 * wild * std::abs(m) - wild * wild), m);
    }
    return residuals;
}

/// Root mean square of the gaps that are not wild, over their deviations; at least 1.
double gapScatter(const Eigen::VectorXd& residuals, Eigen::Index gaps) {
    const Eigen::VectorXd tame = tamed(residuals, gaps, 1.0).tail(gaps);
    return std::max(1.0, std::sqrt(tame.squaredNorm() / static_cast<double>(gaps)));
}

} // namespace

std::pair<GroundCamera, GroundCamera> changed(const CameraPair& pair, const Errors& errors) {
    const Errors change = pair.spread * errors;
    return {changed(pair.first, CameraChange(change.head<8>())),
            changed(pair.second, CameraChange(change.tail<8>()))};
}

CameraPair byGroundAlone(const GroundFit& first, const GroundFit& second) {
    CameraPair pair;
    pair.first = first.camera;
    pair.second = second.camera;
    pair.spread.topLeftCorner<8, 8>() = first.spread;
    pair.spread.bottomRightCorner<8, 8>() = second.spread;
    return pair;
}

CameraPair byGroundAndBody(const GroundFit& first, const GroundFit& second,
                           std::span<const SeenByBoth> spots) {
    CameraPair pair = byGroundAlone(first, second);
    const Evidence evidence{first, second, gapsOf(pair.first, pair.second, spots)};
    const auto gaps = static_cast<Eigen::Index>(evidence.gaps.size());
    constexpr Eigen::Index fewest = 8; // fewer say little, and one wild one among them much
    if (gaps < fewest) {
        return pair;
    }
    // Steps are taken in deviations of what the ground leaves open.
    using Both = std::pair<GroundCamera, GroundCamera>;
    const Eigen::Matrix<double, 16, 16> basis = pair.spread;
    double gapSd = 1.0;
    LeastSquares<Both> problem;
    problem.residuals = [&](const Both& cameras) -> std::optional<Eigen::VectorXd> {
        auto residuals = evidence.residuals(cameras);
        return residuals ? std::optional(tamed(std::move(*residuals), gaps, gapSd)) : std::nullopt;
    };
    problem.changed = [&](const Both& cameras, const Eigen::VectorXd& errors) {
        const Errors change = basis * errors;
        return Both{changed(cameras.first, CameraChange(change.head<8>())),
                    changed(cameras.second, CameraChange(change.tail<8>()))};
    };
    problem.freedom = Errors::RowsAtCompileTime;
    problem.nudge = 1e-4; // deviations
    problem.enough = 1e-8;
    problem.beforeRound = [&](const Both& cameras) {
        gapSd = gapScatter(*evidence.residuals(cameras), gaps);
    };
    const auto found = solved(problem, Both{pair.first, pair.second});
    if (!found) {
        return pair;
    }
    std::tie(pair.first, pair.second) = found->state;
    pair.spread = basis * spreadFrom(covarianceFrom(found->jacobian));
    pair.spots = static_cast<int>(gaps);
    double square = 0.0;
    for (const Gap& gap : evidence.gaps) {
        square += std::pow(
            gapBetween(pair.first, pair.second, gap.spot->first, gap.spot->second).value_or(0.0),
            2);
    }
    pair.gapM = std::sqrt(square / static_cast<double>(gaps));
    return pair;
}

} // namespace kestrel::motion
