#include "body/depth_start.h"

#include "body/residuals.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <iterator>
#include <limits>
#include <optional>
#include <tuple>

namespace kestrel::body {
namespace {

using Eigen::Vector2d;
using model::Landmark;

double usualLength(const SeenRep& rep, Part part) {
    return rep.lengths[static_cast<std::size_t>(part)].mean;
}

/// A landmark's picture place over the instants, standing heights from the centre, y up; between
/// instants that show it on the straight line, before and after them where it was.
std::vector<Vector2d> picturePath(const SeenRep& rep, Landmark landmark, double scalePx,
                                  model::Point2 centre) {
    std::vector<Vector2d> path(rep.instants.size(), Vector2d::Zero());
    std::optional<std::size_t> last;
    for (std::size_t i = 0; i < path.size(); ++i) {
        const auto seen = rep.instants[i].points.find(landmark);
        if (seen == rep.instants[i].points.end()) {
            continue;
        }
        path[i] = {(seen->second.px.x - centre.x) / scalePx,
                   (centre.y - seen->second.px.y) / scalePx};
        for (std::size_t between = last ? *last + 1 : 0; between < i; ++between) {
            const double share =
                last ? static_cast<double>(between - *last) / static_cast<double>(i - *last) : 1.0;
            path[between] =
                last ? Vector2d(path[*last] + share * (path[i] - path[*last])) : path[i];
        }
        last = i;
    }
    for (std::size_t i = last ? *last + 1 : path.size(); i < path.size(); ++i) {
        path[i] = path[*last];
    }
    return path;
}

/// At each instant that shows all of it, the way from the ankles up to the top of the head.
std::vector<HeightSeen> heights(const SeenRep& rep) {
    std::vector<HeightSeen> all;
    for (const SeenInstant& instant : rep.instants) {
        bool whole = true;
        const auto px = [&](Landmark landmark) {
            const auto seen = instant.points.find(landmark);
            whole = whole && seen != instant.points.end();
            return whole ? seen->second.px : model::Point2{};
        };
        const auto middle = [&](Landmark left) {
            return (px(left) + px(model::mirrored(left))) * 0.5;
        };
        double way = 0.0;
        for (const Landmark hip : {Landmark::leftHip, Landmark::rightHip}) {
            const bool left = hip == Landmark::leftHip;
            const model::Point2 knee = px(left ? Landmark::leftKnee : Landmark::rightKnee);
            const model::Point2 ankle = px(left ? Landmark::leftAnkle : Landmark::rightAnkle);
            way += 0.5 * (model::length(px(hip) - knee) + model::length(knee - ankle));
        }
        const model::Point2 shoulders = middle(Landmark::leftShoulder);
        way += model::length(shoulders - middle(Landmark::leftHip));
        way += model::length(px(Landmark::head) - shoulders);
        way += model::length(px(Landmark::headTop) - px(Landmark::head));
        if (whole) {
            all.push_back({way / (1.0 - ankleHeight), instant.time});
        }
    }
    return all;
}

/// Nearly the tallest: landmarks that err make the tallest too tall.
std::optional<HeightSeen> nearlyTallest(std::vector<HeightSeen> all) {
    if (all.empty()) {
        return std::nullopt;
    }
    constexpr double nearly = 0.95;
    const auto at =
        all.begin() + static_cast<std::ptrdiff_t>(nearly * static_cast<double>(all.size() - 1));
    std::nth_element(all.begin(), at, all.end(),
                     [](const HeightSeen& a, const HeightSeen& b) { return a.px < b.px; });
    return *at;
}

/// How tall the player looks meanwhile, pixels: of what is seen within a while, nearly the tallest,
/// evened out.
std::vector<double> heightsMeanwhile(const SeenRep& rep) {
    constexpr double whileS = 0.4;
    const std::vector<HeightSeen> all = heights(rep);
    std::vector<double> tall;
    for (const SeenInstant& instant : rep.instants) {
        std::vector<HeightSeen> near;
        std::copy_if(all.begin(), all.end(), std::back_inserter(near), [&](const HeightSeen& h) {
            return std::abs((h.time - instant.time).value) <= whileS;
        });
        const auto tallest = nearlyTallest(std::move(near));
        tall.push_back(tallest ? tallest->px : tall.empty() ? all.front().px : tall.back());
    }
    std::vector<double> even;
    for (std::size_t i = 0; i < tall.size(); ++i) {
        double sum = 0.0;
        int count = 0;
        for (std::size_t j = 0; j < tall.size(); ++j) {
            if (std::abs((rep.instants[j].time - rep.instants[i].time).value) <= whileS) {
                sum += tall[j];
                ++count;
            }
        }
        even.push_back(sum / count);
    }
    return even;
}

/// States 0 … states − 1 at each instant; the path of least cost, each instant's own and that of
/// going from one state to the next (Viterbi 1967).
std::vector<int> leastCostPath(std::size_t instants, int states,
                               const std::function<double(std::size_t, int)>& own,
                               const std::function<double(std::size_t, int, int)>& step) {
    std::vector<std::vector<int>> cameFrom(instants,
                                           std::vector<int>(static_cast<std::size_t>(states)));
    std::vector<double> cost(static_cast<std::size_t>(states));
    for (int s = 0; s < states; ++s) {
        cost[static_cast<std::size_t>(s)] = own(0, s);
    }
    for (std::size_t i = 1; i < instants; ++i) {
        std::vector<double> next(cost.size(), std::numeric_limits<double>::max());
        for (int to = 0; to < states; ++to) {
            for (int from = 0; from < states; ++from) {
                const double sum = cost[static_cast<std::size_t>(from)] + step(i, from, to);
                if (sum < next[static_cast<std::size_t>(to)]) {
                    next[static_cast<std::size_t>(to)] = sum;
                    cameFrom[i][static_cast<std::size_t>(to)] = from;
                }
            }
            next[static_cast<std::size_t>(to)] += own(i, to);
        }
        cost = std::move(next);
    }
    std::vector<int> path(instants);
    path.back() = static_cast<int>(std::min_element(cost.begin(), cost.end()) - cost.begin());
    for (std::size_t i = instants - 1; i > 0; --i) {
        path[i - 1] = cameFrom[i][static_cast<std::size_t>(path[i])];
    }
    return path;
}

/// Bit `bit` of a state as a sign.
double sign(int state, int bit) {
    return ((state >> bit) & 1) != 0 ? 1.0 : -1.0;
}

// Costs are negative logarithms of likelihoods. Working figures; the estimate that follows has its
// own and may leave what was chosen here.
constexpr double turnOverCostPerBh = 30.0; ///< of a jump in depth from one instant to the next
constexpr double usualTwist = 0.6;         ///< radians between hips and shoulders
constexpr double facingOff = 0.6;          ///< sine between foot and pelvis
constexpr double kneeBehind = 0.02;        ///< standing heights
constexpr double elbowBehind = 0.1;        ///< standing heights
/// Costs of neighbouring instants are not independent: they count once in so many seconds.
constexpr double independentAfter = 0.1;

class Start {
  public:
    Start(const SeenRep& rep, double unitPx, double distance)
        : rep_(rep), count_(rep.instants.size()) {
        start_.centre = {(rep.width - 1) / 2.0, (rep.height - 1) / 2.0};
        start_.places.assign(count_, Places::Zero());
        // A body that looks a little smaller may be bent; one that looks much smaller is farther.
        constexpr double bent = 0.08;
        for (const double tall : heightsMeanwhile(rep)) {
            const double smaller = unitPx / tall;
            farther_.push_back(smaller > 1.0 + bent   ? smaller - bent
                               : smaller < 1.0 - bent ? smaller + bent
                                                      : 1.0);
        }
        for (std::size_t point = 0; point < pointCount; ++point) {
            const auto path = picturePath(rep, landmarkAt(point), unitPx, start_.centre);
            for (std::size_t i = 0; i < count_; ++i) {
                auto place = start_.places[i].col(static_cast<Eigen::Index>(point));
                place.head<2>() = farther_[i] * path[i];
            }
        }
        distance_ = distance;
    }

    DepthStart made() {
        trunk();
        for (const bool left : {true, false}) {
            leg(left);
            arm(left);
        }
        feet();
        return atDistance();
    }

    DepthStart asTold() {
        for (std::size_t point = 0; point < pointCount; ++point) {
            double known = 0.0;
            for (std::size_t i = 0; i < count_; ++i) {
                if (const auto told = nearer(i, point)) {
                    known = told->bh;
                }
                depth(i, point) = known;
            }
        }
        constexpr double handBeyond = 0.37; // of the forearm's length
        for (std::size_t i = 0; i < count_; ++i) {
            for (const auto& [elbow, wrist, hand] :
                 {std::tuple(elbowPair.left, wristPair.left, handPair.left),
                  std::tuple(elbowPair.right, wristPair.right, handPair.right)}) {
                depth(i, hand) = depth(i, wrist) + handBeyond * (depth(i, wrist) - depth(i, elbow));
            }
            for (const Landmark of : {Landmark::head, Landmark::headTop}) {
                depth(i, indexOf(of)) =
                    0.5 * (depth(i, shoulderPair.left) + depth(i, shoulderPair.right));
            }
        }
        return atDistance();
    }

    DepthStart asUsual(double azimuth) {
        for (std::size_t i = 0; i < count_; ++i) {
            for (std::size_t point = 0; point < pointCount; ++point) {
                depth(i, point) = -withTargetAt(rep_.instants[i].usual[point], azimuth).y();
            }
        }
        return atDistance();
    }

  private:
    DepthStart atDistance() {
        for (std::size_t i = 0; i < count_; ++i) {
            start_.places[i].row(2).array() += distance_ * (1.0 - farther_[i]);
        }
        return std::move(start_);
    }

    [[nodiscard]] Eigen::Vector3d at(std::size_t i, std::size_t point) const {
        return start_.places[i].col(static_cast<Eigen::Index>(point));
    }
    double& depth(std::size_t i, std::size_t point) {
        return start_.places[i](2, static_cast<Eigen::Index>(point));
    }

    /// By how much one end lies nearer or farther than the other.
    [[nodiscard]] static double out(const Eigen::Vector3d& a, const Eigen::Vector3d& b,
                                    double length) {
        return std::sqrt(std::max(0.0, length * length - (a - b).head<2>().squaredNorm()));
    }
    [[nodiscard]] double out(std::size_t i, std::size_t a, std::size_t b, Part part) const {
        return out(at(i, a), at(i, b), usualLength(rep_, part));
    }

    /// How much of a piece of evidence an instant counts.
    [[nodiscard]] double share(std::size_t i) const {
        const std::size_t a = i == 0 ? 0 : i - 1;
        const std::size_t b = std::min(i + 1, count_ - 1);
        const double step = (rep_.instants[b].time - rep_.instants[a].time).value /
                            static_cast<double>(std::max<std::size_t>(b - a, 1));
        return std::min(1.0, step / independentAfter);
    }

    [[nodiscard]] std::optional<NearerThanHips> nearer(std::size_t i, std::size_t point) const {
        const auto seen = rep_.instants[i].points.find(landmarkAt(point));
        return seen == rep_.instants[i].points.end() ? std::nullopt : seen->second.nearer;
    }
    /// Cost of `by`, which a machine takes to be the difference between two points.
    [[nodiscard]] double hintCost(std::size_t i, std::size_t point, std::size_t against,
                                  double by) const {
        const auto a = nearer(i, point);
        const auto b = nearer(i, against);
        if (!a || !b) {
            return 0.0;
        }
        const double miss = (by - (a->bh - b->bh)) / std::hypot(a->sdBh, b->sdBh);
        return 0.5 * miss * miss * share(i);
    }

    void trunk() {
        const auto middle = [&](std::size_t i, Pair pair) {
            return Eigen::Vector3d(0.5 * (at(i, pair.left) + at(i, pair.right)));
        };
        const auto parts = [&](std::size_t i, int state) {
            return Eigen::Vector3d(
                sign(state, 0) * out(i, hipPair.left, hipPair.right, Part::hips),
                sign(state, 1) * out(i, shoulderPair.left, shoulderPair.right, Part::shoulders),
                sign(state, 2) * out(middle(i, hipPair), middle(i, shoulderPair),
                                     usualLength(rep_, Part::trunk)));
        };
        const auto own = [&](std::size_t i, int state) {
            const Eigen::Vector3d by = parts(i, state);
            const auto leftward = [&](Pair pair, double depth) {
                Eigen::Vector3d way = at(i, pair.left) - at(i, pair.right);
                way.z() = depth;
                return way;
            };
            const Eigen::Vector3d hips = leftward(hipPair, by[0]);
            const Eigen::Vector3d shoulders = leftward(shoulderPair, by[1]);
            const double twist = std::atan2(hips.z() * shoulders.x() - hips.x() * shoulders.z(),
                                            hips.x() * shoulders.x() + hips.z() * shoulders.z()) /
                                 usualTwist;
            double cost = 0.5 * twist * twist;
            // Leaning much towards or away from the camera is rarer than not.
            cost += 0.5 * std::pow(by[2] / 0.15, 2);
            const double facesRight = -hips.z() / std::max(hips.norm(), 1e-6);
            for (const auto& [heel, toe] : {std::pair(heelPair.left, toePair.left),
                                            std::pair(heelPair.right, toePair.right)}) {
                const double points = std::clamp(
                    (at(i, toe).x() - at(i, heel).x()) / usualLength(rep_, Part::foot), -1.0, 1.0);
                cost += 0.5 * std::pow((points - facesRight) / facingOff, 2);
            }
            cost *= share(i);
            cost += hintCost(i, hipPair.left, hipPair.right, by[0]);
            cost += hintCost(i, shoulderPair.left, shoulderPair.right, by[1]);
            const auto a = nearer(i, shoulderPair.left);
            const auto b = nearer(i, shoulderPair.right);
            if (a && b) {
                const double miss = (by[2] - 0.5 * (a->bh + b->bh)) / a->sdBh;
                cost += 0.5 * miss * miss * share(i);
            }
            return cost;
        };
        const auto step = [&](std::size_t i, int from, int to) {
            return turnOverCostPerBh * (parts(i, to) - parts(i - 1, from)).lpNorm<1>();
        };
        const auto states = leastCostPath(count_, 8, own, step);
        for (std::size_t i = 0; i < count_; ++i) {
            const Eigen::Vector3d by = parts(i, states[i]);
            depth(i, hipPair.left) = 0.5 * by[0];
            depth(i, hipPair.right) = -0.5 * by[0];
            depth(i, shoulderPair.left) = by[2] + 0.5 * by[1];
            depth(i, shoulderPair.right) = by[2] - 0.5 * by[1];
            for (const Landmark of : {Landmark::head, Landmark::headTop}) {
                depth(i, indexOf(of)) = by[2];
            }
        }
    }

    [[nodiscard]] Eigen::Vector3d facing(std::size_t i) const {
        const Eigen::Vector3d left = at(i, hipPair.left) - at(i, hipPair.right);
        return left.cross(Eigen::Vector3d::UnitY()).normalized();
    }

    /// A limb of two bones from a root whose depth is known.
    void limb(std::size_t root, std::size_t joint, std::size_t end, Part upper, Part lower,
              const std::function<double(std::size_t, double, double)>& shapeCost) {
        const auto parts = [&](std::size_t i, int state) {
            return Eigen::Vector2d(sign(state, 0) * out(i, root, joint, upper),
                                   sign(state, 1) * out(i, joint, end, lower));
        };
        const auto own = [&](std::size_t i, int state) {
            const Eigen::Vector2d by = parts(i, state);
            return shapeCost(i, by[0], by[1]) * share(i) + hintCost(i, joint, root, by[0]) +
                   hintCost(i, end, joint, by[1]);
        };
        const auto step = [&](std::size_t i, int from, int to) {
            return turnOverCostPerBh * (parts(i, to) - parts(i - 1, from)).lpNorm<1>();
        };
        const auto states = leastCostPath(count_, 4, own, step);
        for (std::size_t i = 0; i < count_; ++i) {
            const Eigen::Vector2d by = parts(i, states[i]);
            depth(i, joint) = depth(i, root) + by[0];
            depth(i, end) = depth(i, joint) + by[1];
        }
    }

    void leg(bool left) {
        const auto of = [&](Pair pair) { return left ? pair.left : pair.right; };
        limb(of(hipPair), of(kneePair), of(anklePair), Part::thigh, Part::shank,
             [&](std::size_t i, double upper, double lower) {
                 const Eigen::Vector3d hip = at(i, of(hipPair));
                 Eigen::Vector3d knee = at(i, of(kneePair));
                 Eigen::Vector3d ankle = at(i, of(anklePair));
                 knee.z() = hip.z() + upper;
                 ankle.z() = knee.z() + lower;
                 const Eigen::Vector3d down = (ankle - hip).normalized();
                 Eigen::Vector3d outward = knee - hip;
                 outward -= outward.dot(down) * down;
                 // The foot's own depth is not known yet: where the pelvis faces stands for it.
                 Eigen::Vector3d ahead = facing(i);
                 ahead.x() =
                     0.5 * ahead.x() + 0.5 * (at(i, of(toePair)).x() - at(i, of(heelPair)).x()) /
                                           usualLength(rep_, Part::foot);
                 const double before = outward.dot(ahead);
                 return before < 0.0 ? 0.5 * std::pow(before / kneeBehind, 2) : 0.0;
             });
    }

    void arm(bool left) {
        const auto of = [&](Pair pair) { return left ? pair.left : pair.right; };
        limb(of(shoulderPair), of(elbowPair), of(wristPair), Part::upperArm, Part::forearm,
             [&](std::size_t i, double upper, double lower) {
                 const Eigen::Vector3d left2 = at(i, shoulderPair.left) - at(i, shoulderPair.right);
                 const Eigen::Vector3d front = left2.cross(Eigen::Vector3d::UnitY()).normalized();
                 const Eigen::Vector3d shoulder = at(i, of(shoulderPair));
                 Eigen::Vector3d elbow = at(i, of(elbowPair));
                 Eigen::Vector3d wrist = at(i, of(wristPair));
                 elbow.z() = shoulder.z() + upper;
                 wrist.z() = elbow.z() + lower;
                 double cost = 0.0;
                 for (const Eigen::Vector3d& point : {elbow, wrist}) {
                     const double before = (point - shoulder).dot(front);
                     cost += before < 0.0 ? 0.5 * std::pow(before / elbowBehind, 2) : 0.0;
                 }
                 return cost;
             });
        for (std::size_t i = 0; i < count_; ++i) {
            // As the forearm goes on.
            const double ahead = depth(i, of(wristPair)) - depth(i, of(elbowPair));
            depth(i, of(handPair)) =
                depth(i, of(wristPair)) +
                std::copysign(out(i, of(wristPair), of(handPair), Part::hand), ahead);
        }
    }

    void feet() {
        for (const bool left : {true, false}) {
            const auto of = [&](Pair pair) { return left ? pair.left : pair.right; };
            for (std::size_t i = 0; i < count_; ++i) {
                const double long_ = out(i, of(heelPair), of(toePair), Part::foot);
                const double ahead = facing(i).z() >= 0.0 ? long_ : -long_;
                const double ankle = depth(i, of(anklePair));
                constexpr double heelShare = 0.26; // of the foot behind the ankle
                depth(i, of(heelPair)) = ankle - heelShare * ahead;
                depth(i, of(toePair)) = ankle + (1.0 - heelShare) * ahead;
            }
        }
    }

    const SeenRep& rep_;
    std::size_t count_;
    double distance_ = 0.0;
    /// Distance from the camera at each instant, as a share of that of depth 0.
    std::vector<double> farther_;
    DepthStart start_;
};

} // namespace

std::optional<HeightSeen> heightSeen(const SeenRep& rep) {
    return nearlyTallest(heights(rep));
}

DepthStart depthStart(const SeenRep& rep, double unitPx, double distanceBh) {
    return Start(rep, unitPx, distanceBh).made();
}

DepthStart depthStartAsTold(const SeenRep& rep, double unitPx, double distanceBh) {
    return Start(rep, unitPx, distanceBh).asTold();
}

DepthStart depthStartAsUsual(const SeenRep& rep, double unitPx, double distanceBh, double azimuth) {
    return Start(rep, unitPx, distanceBh).asUsual(azimuth);
}

} // namespace kestrel::body
