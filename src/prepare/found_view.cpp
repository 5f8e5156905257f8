#include "prepare/found_view.h"

#include "prepare/usual_motion.h"
#include "technique/pack/roles.h"

#include <Eigen/Core>
#include <Eigen/Geometry>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>
#include <utility>
#include <vector>

namespace kestrel::prepare {
namespace {

using Eigen::Vector2d;
using model::Landmark;

constexpr std::size_t pointCount = std::tuple_size_v<UsualPose>;
/// Seconds between the instants that are compared.
constexpr double step = 0.04;

/// Where the body's landmarks are seen at an instant, from the middle of the hips, standing
/// heights, right and up.
struct SeenPose {
    double time = 0.0; ///< field time, seconds
    std::vector<std::pair<std::size_t, Vector2d>> points;
};

std::vector<UsualPose> usualPoses(const synth::PlayerMotion& motion) {
    const auto byTime = [](const auto& a, const auto& b) { return a.second < b.second; };
    const auto [first, last] =
        std::minmax_element(motion.events().begin(), motion.events().end(), byTime);
    std::vector<UsualPose> poses;
    for (double time = first->second; time <= last->second; time += step) {
        poses.push_back(usualPose(motion, time));
    }
    return poses;
}

std::vector<SeenPose> seenPoses(const track::Evidence& evidence, const model::ClipTime& time) {
    std::vector<SeenPose> poses;
    for (const auto& [frame, seen] : evidence.frames) {
        const auto left = seen.proposals.find(Landmark::leftHip);
        const auto right = seen.proposals.find(Landmark::rightHip);
        if (left == seen.proposals.end() || right == seen.proposals.end() ||
            frame >= time.frameCount()) {
            continue;
        }
        SeenPose pose{time.fieldTimes()[static_cast<std::size_t>(frame)].value, {}};
        constexpr double rounding = 1e-6;
        if (!poses.empty() && pose.time < poses.back().time + step - rounding) {
            continue;
        }
        const model::Point2 hips = (left->second.px + right->second.px) * 0.5;
        for (const auto& [landmark, proposal] : seen.proposals) {
            if (const auto l = static_cast<std::size_t>(landmark); l < pointCount) {
                const model::Point2 way = (proposal.px - hips) * (1.0 / evidence.bodyPx);
                pose.points.emplace_back(l, Vector2d(way.x, -way.y));
            }
        }
        poses.push_back(std::move(pose));
    }
    return poses;
}

/// How unlike a pose is to a usual one that is seen with its target at that azimuth: mean of robust
/// squares (Cauchy), for players have manners and networks take one limb for another.
double unlikeness(const SeenPose& seen, const UsualPose& usual, double cosine, double sine) {
    constexpr double usualMiss = 0.08; // standing heights
    double sum = 0.0;
    for (const auto& [l, place] : seen.points) {
        const Vector2d there(cosine * usual[l].x() - sine * usual[l].y(), usual[l].z());
        sum += std::log1p(0.5 * (place - there).squaredNorm() / (usualMiss * usualMiss));
    }
    return sum / static_cast<double>(seen.points.size());
}

/// Mean unlikeness of the whole motion to that stretch of the film that it is least unlike to. A
/// player is up to three times as slow, or stands still in between; being as fast costs least.
double warpedUnlikeness(const std::vector<SeenPose>& film, const std::vector<UsualPose>& motion,
                        double azimuth) {
    constexpr double far = std::numeric_limits<double>::infinity();
    struct Way {
        std::size_t back; ///< so many instants of the film for one of the motion
        double cost;
    };
    constexpr std::array ways{Way{1, 0.0}, Way{2, 0.05}, Way{3, 0.15}, Way{0, 0.1}};
    const double cosine = std::cos(azimuth);
    const double sine = std::sin(azimuth);
    std::vector<double> before(film.size(), 0.0); // it may begin anywhere
    std::vector<double> now(film.size());
    for (std::size_t j = 0; j < motion.size(); ++j) {
        for (std::size_t i = 0; i < film.size(); ++i) {
            double least = far;
            for (const Way& way : ways) {
                if (j == 0 || way.back <= i) {
                    least = std::min(least, j == 0 ? 0.0 : before[i - way.back] + way.cost);
                }
            }
            now[i] = least + unlikeness(film[i], motion[j], cosine, sine);
        }
        std::swap(before, now);
    }
    return *std::min_element(before.begin(), before.end()) / static_cast<double>(motion.size());
}

/// The view that is nearest to a camera that sees the target at that azimuth (radians, from the
/// picture's right over away from the camera).
model::FoundView nearestView(const technique::Pack& pack, model::Hand hand, double azimuth) {
    constexpr double quarter = 0.5 * std::numbers::pi;
    const double quarters = std::round(azimuth / quarter);
    const model::Degrees off = model::degreesFromRadians(azimuth - quarters * quarter);
    constexpr int all = 4;
    switch ((static_cast<int>(quarters) % all + all) % all) {
    case 1:
        return {model::View::rear, off};
    case 3:
        return {model::View::front, off};
    case 0:
        return {technique::positiveSign(pack, hand, model::View::openSide) > 0
                    ? model::View::openSide
                    : model::View::closedSide,
                off};
    default:
        return {technique::positiveSign(pack, hand, model::View::openSide) > 0
                    ? model::View::closedSide
                    : model::View::openSide,
                off};
    }
}

} // namespace

std::optional<Likeness> likeness(const technique::Pack& pack, const model::Player& player,
                                 const track::Evidence& evidence,
                                 const technique::Circumstances& circumstances) {
    const auto usual = usualPlayer(pack, player, circumstances);
    if (!usual || !circumstances.captureRateKnown || evidence.bodyPx <= 0.0) {
        return std::nullopt;
    }
    const std::vector<SeenPose> film = seenPoses(evidence, circumstances.time);
    const std::vector<UsualPose> motion = usualPoses(synth::PlayerMotion(*usual));
    constexpr std::size_t fewest = 8;
    if (film.size() < fewest || motion.empty()) {
        return std::nullopt;
    }
    constexpr std::size_t directions = 36;
    constexpr double wholeTurn = 2.0 * std::numbers::pi;
    const auto azimuth = [](std::size_t k) {
        return wholeTurn / directions * static_cast<double>(k);
    };
    std::array<double, directions> unlike{};
    for (std::size_t k = 0; k < directions; ++k) {
        unlike[k] = warpedUnlikeness(film, motion, azimuth(k));
    }
    const auto best =
        static_cast<std::size_t>(std::min_element(unlike.begin(), unlike.end()) - unlike.begin());
    // Set on 24 rendered films with seeds for setting (docs/body.md).
    constexpr double clearly = 0.05;
    constexpr double another = 0.75; // radians; what lies nearer looks alike
    Likeness found{unlike[best], nearestView(pack, circumstances.hand, azimuth(best)), true};
    for (std::size_t k = 0; k < directions; ++k) {
        const bool elsewhere =
            std::abs(std::remainder(azimuth(k) - azimuth(best), wholeTurn)) > another;
        found.clear = found.clear && (!elsewhere || unlike[k] >= unlike[best] + clearly);
    }
    return found;
}

std::optional<model::FoundView> foundView(const technique::Pack& pack, const model::Player& player,
                                          const track::Evidence& evidence,
                                          const technique::Circumstances& circumstances) {
    const auto found = likeness(pack, player, evidence, circumstances);
    return found && found->clear && found->unlikeness < mostUnlike ? std::optional(found->view)
                                                                   : std::nullopt;
}

} // namespace kestrel::prepare
