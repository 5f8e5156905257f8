#include "motion/segment_depth.h"

#include "motion/body_segments.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace kestrel::motion {
namespace {

using model::Degrees;
using model::LimbFold;

/// Tilts are weighed in steps of one degree, from 0.5° to 89.5°.
constexpr std::size_t tiltCount = 90;
using Shares = std::array<double, tiltCount>;

Degrees tiltAt(std::size_t i) {
    return Degrees(static_cast<double>(i) + 0.5);
}

double normal(double x, double sd) {
    return std::exp(-0.5 * x * x / (sd * sd)) / sd;
}

/// Most tilts are of the usual size; some players do otherwise. Working figures.
double usualShare(Degrees tilt, Degrees usual) {
    constexpr double otherwise = 0.15;
    constexpr double otherwiseSd = 40.0;
    return (1.0 - otherwise) * normal(tilt.value, usual.value) +
           otherwise * normal(tilt.value, otherwiseSd);
}

/// A tilt of no spread at all would forbid every other.
Degrees spreadOf(const SeenSegment& segment) {
    constexpr double least = 1.0;
    return Degrees(std::max(segment.usualTilt.value, least));
}

/// An error of scale that two segments have in common.
struct CommonError {
    double factor = 1.0;     ///< by which both are really longer than said
    double relativeSd = 0.0; ///< the part of each one's deviation that this is
};

/// Probability of each tilt together with that of the look it gives, not normalised.
Shares tiltsOf(const SeenSegment& segment, const CommonError& common = {}) {
    const Degrees usual = spreadOf(segment);
    Shares shares{};
    for (std::size_t i = 0; i < tiltCount; ++i) {
        if (!segment.full) {
            shares[i] = normal(tiltAt(i).value, usual.value);
            continue;
        }
        const double cosine = std::cos(toRadians(tiltAt(i)));
        const double shared = common.relativeSd * cosine * segment.full->px;
        const double square = segment.seen.sdPx * segment.seen.sdPx +
                              cosine * cosine * segment.full->sdPx * segment.full->sdPx -
                              shared * shared;
        constexpr double leastSdPx = 1e-3;
        shares[i] = usualShare(tiltAt(i), usual) *
                    normal(segment.seen.px - common.factor * cosine * segment.full->px,
                           std::sqrt(std::max(square, leastSdPx * leastSdPx)));
    }
    // A segment that looks far longer than it can be is as flat as can be.
    if (std::accumulate(shares.begin(), shares.end(), 0.0) < 1e-200) {
        shares.front() = 1e-200;
    }
    return shares;
}

Degrees likeliest(const Shares& shares) {
    const auto most = std::max_element(shares.begin(), shares.end()) - shares.begin();
    return most == 0 ? Degrees(0.0) : tiltAt(static_cast<std::size_t>(most));
}

/// Two steps are taken together in sums over both segments.
constexpr std::size_t pairCount = tiltCount / 2;

Degrees pairAt(std::size_t i) {
    return Degrees(2.0 * static_cast<double>(i) + 1.0);
}

std::array<double, pairCount> paired(const Shares& shares) {
    std::array<double, pairCount> pairs{};
    for (std::size_t i = 0; i < tiltCount; ++i) {
        pairs[i / 2] += shares[i];
    }
    return pairs;
}

/// Whether a segment looks so short that errors of lengths do not explain it, and shorter than it
/// usually does.
bool isClearlyOut(const SeenSegment& segment) {
    constexpr double clear = 2.0; // standard deviations
    return segment.full &&
           segment.full->px - segment.seen.px >
               clear * std::hypot(segment.seen.sdPx, segment.full->sdPx) &&
           foreshortening(segment.seen.px, segment.full->px) > segment.usualTilt;
}

/// What a limb is reckoned with: a segment that is not clearly out of the picture plane counts as
/// in it, as surely as it usually is, or no more surely than its length says.
SeenSegment reckoned(SeenSegment segment) {
    if (segment.full && !isClearlyOut(segment)) {
        segment.usualTilt =
            std::max(segment.usualTilt, foreshortening(segment.seen.px, segment.full->px));
        segment.full.reset();
    }
    return segment;
}

/// Tilts of two segments of one limb, of each alone and of both together, which sum to 1.
struct JointTilts {
    Shares first{};
    Shares second{};
    std::array<std::array<double, pairCount>, pairCount> both{};
};

/// Both lie at about the same distance from the camera and are told from the same height, so most
/// of what their lengths are off by they have in common: where both look short for that reason,
/// both are less tilted than they seem.
JointTilts jointTilts(const SeenSegment& first, const SeenSegment& second) {
    const auto relative = [](const SeenSegment& segment) {
        return segment.full ? std::hypot(segment.full->sdPx / segment.full->px,
                                         segment.seen.sdPx / std::max(segment.seen.px, 1.0))
                            : 0.0;
    };
    constexpr double commonPart = 0.8; // working figure
    const double common = commonPart * std::min(relative(first), relative(second));
    // Three-point Gauss–Hermite rule for a standard normal variable.
    constexpr std::array<std::pair<double, double>, 3> nodes{
        {{-1.7320508, 1.0 / 6.0}, {0.0, 2.0 / 3.0}, {1.7320508, 1.0 / 6.0}}};
    JointTilts tilts;
    double sum = 0.0;
    for (const auto& [at, weight] : nodes) {
        if (common == 0.0 && at != 0.0) {
            continue;
        }
        const CommonError error{1.0 + common * at, common};
        const Shares one = tiltsOf(first, error);
        const Shares other = tiltsOf(second, error);
        const double oneSum = std::accumulate(one.begin(), one.end(), 0.0);
        const double otherSum = std::accumulate(other.begin(), other.end(), 0.0);
        for (std::size_t i = 0; i < tiltCount; ++i) {
            tilts.first[i] += weight * one[i] * otherSum;
            tilts.second[i] += weight * other[i] * oneSum;
        }
        const auto onePairs = paired(one);
        const auto otherPairs = paired(other);
        for (std::size_t i = 0; i < pairCount; ++i) {
            for (std::size_t j = 0; j < pairCount; ++j) {
                tilts.both[i][j] += weight * onePairs[i] * otherPairs[j];
            }
        }
        sum += weight * oneSum * otherSum;
    }
    for (auto& row : tilts.both) {
        for (double& share : row) {
            share /= sum;
        }
    }
    return tilts;
}

Degrees angleWith(double cosSeen, Degrees first, Degrees second, LimbFold fold) {
    const double depth = std::sin(toRadians(first)) * std::sin(toRadians(second));
    const double cosine = std::cos(toRadians(first)) * std::cos(toRadians(second)) * cosSeen +
                          (fold == LimbFold::together ? depth : -depth);
    return model::degreesFromRadians(std::acos(std::clamp(cosine, -1.0, 1.0)));
}

} // namespace

std::optional<Length> fullLength(const std::optional<Length>& fromTable,
                                 std::span<const Length> seen) {
    if (seen.empty()) {
        return fromTable;
    }
    // The longest look, less its own error, so that one stray landmark does not make a long bone.
    const Length longest =
        *std::max_element(seen.begin(), seen.end(), [](const Length& a, const Length& b) {
            return a.px - a.sdPx < b.px - b.sdPx;
        });
    // How far it points out of the picture plane where it looks longest. Working figure.
    constexpr Degrees atBest{20.0};
    constexpr double leastFactor = 0.7;
    constexpr double mostFactor = 1.6;
    constexpr double step = 0.01;
    double sum = 0.0;
    double first = 0.0;
    double second = 0.0;
    const double middle = std::max(longest.px, fromTable ? fromTable->px : 0.0);
    for (double factor = leastFactor; factor < mostFactor; factor += step) {
        const double full = factor * middle;
        double share = 0.0;
        for (std::size_t i = 0; i < tiltCount / 2; ++i) {
            share += usualShare(pairAt(i), atBest) *
                     normal(longest.px - full * std::cos(toRadians(pairAt(i))),
                            std::max(longest.sdPx, step * middle));
        }
        if (fromTable) {
            share *= normal(full - fromTable->px, fromTable->sdPx);
        }
        sum += share;
        first += share * full;
        second += share * full * full;
    }
    if (sum <= 0.0) {
        return fromTable; // it looks longer than the table can explain: not the same segment
    }
    const double mean = first / sum;
    return Length{mean, std::sqrt(std::max(0.0, second / sum - mean * mean))};
}

AngleFromOneView jointAngleFromOneView(Degrees seen, const SeenSegment& first,
                                       const SeenSegment& second,
                                       const std::optional<LimbFold>& fold) {
    const JointTilts tilts = jointTilts(reckoned(first), reckoned(second));
    const double cosSeen = std::cos(toRadians(seen));
    AngleFromOneView angle;
    angle.firstTilt = likeliest(tilts.first);
    angle.secondTilt = likeliest(tilts.second);
    angle.together = angleWith(cosSeen, angle.firstTilt, angle.secondTilt, LimbFold::together);
    angle.through = angleWith(cosSeen, angle.firstTilt, angle.secondTilt, LimbFold::through);
    angle.value = !fold                         ? (angle.together + angle.through) * 0.5
                  : *fold == LimbFold::together ? angle.together
                                                : angle.through;
    double square = 0.0;
    double sum = 0.0;
    for (std::size_t i = 0; i < pairCount; ++i) {
        for (std::size_t j = 0; j < pairCount; ++j) {
            const double share = tilts.both[i][j];
            constexpr double negligible = 1e-6;
            if (share < negligible) {
                continue;
            }
            for (const LimbFold as : {LimbFold::together, LimbFold::through}) {
                if (!fold || *fold == as) {
                    const double error =
                        (angleWith(cosSeen, pairAt(i), pairAt(j), as) - angle.value).value;
                    square += share * error * error;
                    sum += share;
                }
            }
        }
    }
    angle.sd = Degrees(std::sqrt(square / sum));
    return angle;
}

Degrees likeliestTilt(const SeenSegment& segment) {
    return likeliest(tiltsOf(segment));
}

} // namespace kestrel::motion
