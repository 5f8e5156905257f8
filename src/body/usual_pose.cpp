#include "body/usual_pose.h"

#include "body/body_points.h"
#include "body/residuals.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <numbers>

namespace kestrel::body {
namespace {

using model::Landmark;

/// How unlike what is seen the technique looks from there: mean of robust squares (Cauchy).
double unlikeness(const SeenRep& rep, double unitPx, double azimuth) {
    constexpr double usualMiss = 0.08; // body heights
    double sum = 0.0;
    int count = 0;
    for (const SeenInstant& instant : rep.instants) {
        const auto left = instant.points.find(Landmark::leftHip);
        const auto right = instant.points.find(Landmark::rightHip);
        if (left == instant.points.end() || right == instant.points.end()) {
            continue;
        }
        const model::Point2 hips = (left->second.px + right->second.px) * 0.5;
        for (const auto& [landmark, seen] : instant.points) {
            if (indexOf(landmark) >= pointCount) {
                continue;
            }
            const Eigen::Vector3d usual = withTargetAt(instant.usual[indexOf(landmark)], azimuth);
            const model::Point2 way = (seen.px - hips) * (1.0 / unitPx);
            const Eigen::Vector2d miss(way.x - usual.x(), -way.y - usual.z());
            sum += std::log1p(0.5 * miss.squaredNorm() / (usualMiss * usualMiss));
            ++count;
        }
    }
    return count > 0 ? sum / count : 0.0;
}

} // namespace

UsualSpread usualSpread(Landmark landmark) {
    switch (landmark) {
    case Landmark::headTop:
    case Landmark::head:
        return {0.08, 0.04};
    case Landmark::leftShoulder:
    case Landmark::rightShoulder:
        return {0.07, 0.05};
    case Landmark::leftElbow:
    case Landmark::rightElbow:
        return {0.07, 0.07};
    case Landmark::leftWrist:
    case Landmark::rightWrist:
        return {0.08, 0.08};
    case Landmark::leftHand:
    case Landmark::rightHand:
        return {0.09, 0.09};
    case Landmark::leftHip:
    case Landmark::rightHip:
        return {0.02, 0.015};
    default:
        return {0.05, 0.04}; // knees and feet
    }
}

std::vector<double> likelyAzimuths(const SeenRep& rep, double unitPx) {
    if (rep.instants.empty() || rep.instants.front().usual.empty()) {
        return {};
    }
    constexpr std::size_t directions = 72;
    constexpr double step = 2.0 * std::numbers::pi / directions;
    std::array<double, directions> unlike{};
    for (std::size_t k = 0; k < directions; ++k) {
        unlike[k] = unlikeness(rep, unitPx, step * static_cast<double>(k));
    }
    std::vector<std::size_t> best;
    for (std::size_t k = 0; k < directions; ++k) {
        if (unlike[k] <= unlike[(k + 1) % directions] &&
            unlike[k] < unlike[(k + directions - 1) % directions]) {
            best.push_back(k);
        }
    }
    std::sort(best.begin(), best.end(),
              [&](std::size_t a, std::size_t b) { return unlike[a] < unlike[b]; });
    std::vector<double> azimuths;
    std::transform(best.begin(), best.end(), std::back_inserter(azimuths), [&](std::size_t k) {
        return std::remainder(step * static_cast<double>(k), 2.0 * std::numbers::pi);
    });
    return azimuths;
}

} // namespace kestrel::body
