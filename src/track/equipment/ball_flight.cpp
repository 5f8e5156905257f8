#include "track/equipment/ball_flight.h"

#include <Eigen/Core>
#include <Eigen/LU>

#include <algorithm>
#include <cmath>

namespace kestrel::track {
namespace {

constexpr double slowestFlight = 1.5; ///< heights a second: slower, it is no ball on its way
/// Heights a second squared: gravity is 6 for a grown player, and drag at most as much again.
constexpr double mostFalling = 20.0;

/// Whether all of it is one flight.
bool isOneFlight(std::span<const BallSighting> piece, double diameterPx, double bodyPx) {
    constexpr std::size_t fewest = 4;
    constexpr std::size_t fewestPlain = 3; // a pitch leaves the picture so soon
    const bool isPlain =
        std::all_of(piece.begin(), piece.end(), [](const BallSighting& s) { return s.plain; });
    if (piece.size() < (isPlain ? fewestPlain : fewest)) {
        return false;
    }
    // A parabola in time through the places, each axis on its own.
    const auto count = static_cast<Eigen::Index>(piece.size());
    double middle = 0.0;
    for (const BallSighting& s : piece) {
        middle += s.time / static_cast<double>(piece.size());
    }
    Eigen::MatrixXd terms(count, 3);
    Eigen::MatrixX2d places(count, 2);
    double way = 0.0;
    for (std::size_t i = 0; i < piece.size(); ++i) {
        const double t = piece[i].time - middle;
        const auto row = static_cast<Eigen::Index>(i);
        terms.row(row) << 1.0, t, 0.5 * t * t;
        places.row(row) << piece[i].at.x, piece[i].at.y;
        way += i > 0 ? length(piece[i].at - piece[i - 1].at) : 0.0;
    }
    const Eigen::Matrix3d inverse = (terms.transpose() * terms).inverse();
    const Eigen::Matrix<double, 3, 2> fit = inverse * terms.transpose() * places;
    const double misfit = std::sqrt((places - terms * fit).squaredNorm() / (2.0 * piece.size()));
    constexpr double allowedMisfit = 0.35; // of its diameter
    const double allowed = std::max(1.0, allowedMisfit * diameterPx);
    const double speed = fit.row(1).norm() / bodyPx;
    const double acceleration = fit.row(2).norm() / bodyPx;
    const double accelerationSd = allowed * std::sqrt(inverse(2, 2)) / bodyPx;
    constexpr double farEnough = 4.0; // diameters
    return misfit <= allowed && speed >= slowestFlight && way >= farEnough * diameterPx &&
           acceleration <= mostFalling + 2.0 * accelerationSd;
}

} // namespace

bool isFlight(std::span<const BallSighting> piece, double diameterPx, double bodyPx) {
    if (isOneFlight(piece, diameterPx, bodyPx)) {
        return true;
    }
    constexpr std::size_t together = 6;
    const auto plainOnes =
        std::count_if(piece.begin(), piece.end(), [](const BallSighting& s) { return s.plain; });
    if (piece.size() <= together || 2 * static_cast<std::size_t>(plainOnes) < piece.size()) {
        return false;
    }
    std::size_t covered = 0; // sightings that are part of such a stretch
    std::size_t end = 0;
    for (std::size_t first = 0; first + together <= piece.size(); ++first) {
        if (isOneFlight(piece.subspan(first, together), diameterPx, bodyPx)) {
            covered += first + together - std::max(end, first);
            end = first + together;
        }
    }
    constexpr double mostly = 0.9;
    return static_cast<double>(covered) >= mostly * static_cast<double>(piece.size());
}

} // namespace kestrel::track
