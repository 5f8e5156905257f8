#include "body/depth_flips.h"

#include "body/body_points.h"

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

namespace kestrel::body {
namespace {

/// What is turned to the other side.
enum class Over { upper, lower, both, feet, trunk, line };

/// A chain of two bones, what goes along with its end, and what may be turned over. The trunk has
/// the shoulders for joint and end. A line through hips or shoulders has the left one for root and
/// the right one for joint and end; what goes along with the left one is named apart.
struct Limb {
    std::size_t root;
    std::size_t joint;
    std::size_t end;
    std::vector<std::size_t> beyond;
    std::vector<Over> ways;
    std::vector<std::size_t> withRoot;
};

std::vector<std::size_t> leg(bool left) {
    std::vector<std::size_t> points;
    for (const Pair pair : {kneePair, anklePair, heelPair, toePair}) {
        points.push_back(left ? pair.left : pair.right);
    }
    return points;
}

std::vector<std::size_t> arm(bool left) {
    std::vector<std::size_t> points;
    for (const Pair pair : {elbowPair, wristPair, handPair}) {
        points.push_back(left ? pair.left : pair.right);
    }
    return points;
}

std::vector<Limb> limbs() {
    std::vector<Limb> all;
    for (const bool left : {true, false}) {
        const auto of = [&](Pair pair) { return left ? pair.left : pair.right; };
        all.push_back({of(hipPair),
                       of(kneePair),
                       of(anklePair),
                       {of(heelPair), of(toePair)},
                       {Over::both, Over::upper, Over::lower, Over::feet},
                       {}});
        all.push_back({of(shoulderPair),
                       of(elbowPair),
                       of(wristPair),
                       {of(handPair)},
                       {Over::both, Over::upper, Over::lower},
                       {}});
        all.push_back({of(elbowPair), of(wristPair), of(handPair), {}, {Over::lower}, {}});
    }
    Limb trunk{hipPair.left, shoulderPair.left, shoulderPair.right, {}, {Over::trunk}, {}};
    trunk.beyond = {indexOf(model::Landmark::headTop), indexOf(model::Landmark::head)};
    for (const bool left : {true, false}) {
        const auto along = arm(left);
        trunk.beyond.insert(trunk.beyond.end(), along.begin(), along.end());
    }
    all.push_back(std::move(trunk));
    all.push_back({shoulderPair.left,
                   shoulderPair.right,
                   shoulderPair.right,
                   arm(false),
                   {Over::line},
                   arm(true)});
    all.push_back(
        {hipPair.left, hipPair.right, hipPair.right, leg(false), {Over::line}, leg(true)});
    return all;
}

bool isLine(const Limb& limb) {
    return limb.ways.front() == Over::line;
}

/// What moves when it is turned over.
std::vector<std::size_t> movingWith(const Limb& limb) {
    std::vector<std::size_t> points{limb.joint};
    if (limb.end != limb.joint) {
        points.push_back(limb.end);
    }
    points.insert(points.end(), limb.beyond.begin(), limb.beyond.end());
    if (isLine(limb)) {
        points.push_back(limb.root);
        points.insert(points.end(), limb.withRoot.begin(), limb.withRoot.end());
    }
    return points;
}

/// So many instants before and after a stretch move along.
constexpr std::size_t around = 2;

/// A stretch of instants, both included.
struct Stretch {
    std::size_t first;
    std::size_t last;
};

double depthBetween(const State& state, std::size_t i, std::size_t a, std::size_t b) {
    return state.point(i, b)[2] - state.point(i, a)[2];
}

/// How much nearer the middle of the shoulders is than that of the hips.
double trunkLeans(const State& state, std::size_t i) {
    return 0.5 * (depthBetween(state, i, hipPair.left, shoulderPair.left) +
                  depthBetween(state, i, hipPair.right, shoulderPair.right));
}

/// Which way the bones that are turned over lean, at most.
double leaning(const State& state, std::size_t i, const Limb& limb, Over over) {
    const double upper = std::abs(depthBetween(state, i, limb.root, limb.joint));
    const double lower = std::abs(depthBetween(state, i, limb.joint, limb.end));
    switch (over) {
    case Over::upper:
        return upper;
    case Over::lower:
        return lower;
    case Over::both:
        return std::max(upper, lower);
    case Over::trunk:
        return std::abs(trunkLeans(state, i));
    case Over::line:
        return upper;
    case Over::feet:
        break;
    }
    return std::abs(depthBetween(state, i, limb.beyond.front(), limb.beyond.back()));
}

/// Where the bones lean out of the picture: stretches between instants at which they may have
/// passed through it, where they lean least or to another side.
std::vector<Stretch> stretches(const State& state, std::size_t count, const Limb& limb, Over over) {
    constexpr double worthWhile = 0.03; // standing heights
    constexpr double dip = 0.6;         // of what it leans on both sides
    constexpr double hardlyLeans = 0.07;
    constexpr double noLongerFlat = 0.10;
    std::vector<double> leans;
    for (std::size_t i = 0; i < count; ++i) {
        leans.push_back(leaning(state, i, limb, over));
    }
    const auto turns = [&](std::size_t i, std::size_t a, std::size_t b) {
        return depthBetween(state, i - 1, a, b) * depthBetween(state, i, a, b) < 0.0;
    };
    std::vector<std::size_t> begins{0};
    bool flatBefore = !leans.empty() && leans.front() < hardlyLeans;
    for (std::size_t i = 1; i < count; ++i) {
        const double before =
            *std::max_element(leans.begin() + static_cast<std::ptrdiff_t>(begins.back()),
                              leans.begin() + static_cast<std::ptrdiff_t>(i));
        double after = leans[i];
        bool least = true;
        for (std::size_t k = i; k < count && least && after * dip <= leans[i]; ++k) {
            least = leans[k] >= leans[i];
            after = std::max(after, leans[k]);
        }
        const bool dips = least && leans[i] < dip * before && leans[i] < dip * after;
        const bool crosses =
            over == Over::trunk  ? trunkLeans(state, i - 1) * trunkLeans(state, i) < 0.0
            : over == Over::feet ? turns(i, limb.beyond.front(), limb.beyond.back())
                                 : (over != Over::lower && turns(i, limb.root, limb.joint)) ||
                                       (over != Over::upper && turns(i, limb.joint, limb.end));
        // So little out of the picture that it may have passed through it unnoticed.
        const bool flat = flatBefore ? leans[i] < noLongerFlat : leans[i] < hardlyLeans;
        if (dips || crosses || flat != flatBefore) {
            begins.push_back(i);
        }
        flatBefore = flat;
    }
    std::vector<Stretch> found;
    for (std::size_t s = 0; s < begins.size(); ++s) {
        const std::size_t end = s + 1 < begins.size() ? begins[s + 1] : count;
        const double most =
            *std::max_element(leans.begin() + static_cast<std::ptrdiff_t>(begins[s]),
                              leans.begin() + static_cast<std::ptrdiff_t>(end));
        if (most >= worthWhile) {
            found.push_back({begins[s], end - 1});
        }
    }
    return found;
}

/// Along the sight on which it is seen.
void moveBy(State& state, std::size_t i, std::size_t p, double nearer) {
    double* place = state.point(i, p);
    const double share = 1.0 - nearer / (std::exp(state.camera[0]) - place[2]);
    place[0] *= share;
    place[1] *= share;
    place[2] += nearer;
}

void turnOver(State& state, std::size_t i, const Limb& limb, Over over) {
    if (over == Over::trunk) {
        const double moves = -2.0 * trunkLeans(state, i);
        moveBy(state, i, limb.joint, moves);
        moveBy(state, i, limb.end, moves);
        for (const std::size_t p : limb.beyond) {
            moveBy(state, i, p, moves);
        }
        return;
    }
    const double upper = depthBetween(state, i, limb.root, limb.joint);
    const double lower = depthBetween(state, i, limb.joint, limb.end);
    if (over == Over::line) {
        moveBy(state, i, limb.root, upper);
        moveBy(state, i, limb.joint, -upper);
        for (const std::size_t p : limb.withRoot) {
            moveBy(state, i, p, upper);
        }
        for (const std::size_t p : limb.beyond) {
            moveBy(state, i, p, -upper);
        }
        return;
    }
    double jointMoves = 0.0;
    double endMoves = 0.0;
    if (over == Over::upper || over == Over::both) {
        jointMoves -= 2.0 * upper;
        endMoves -= 2.0 * upper;
    }
    if (over == Over::lower || over == Over::both) {
        endMoves -= 2.0 * lower;
    }
    moveBy(state, i, limb.joint, jointMoves);
    moveBy(state, i, limb.end, endMoves);
    for (const std::size_t p : limb.beyond) {
        moveBy(state, i, p, endMoves);
        if (over == Over::feet || over == Over::both) {
            moveBy(state, i, p, -2.0 * depthBetween(state, i, limb.end, p));
        }
    }
}

/// The limb turned over, with all that may move there.
struct Turned {
    double gained = 0.0; ///< what the sum of squares is smaller
    std::size_t first = 0;
    std::size_t last = 0;
    std::vector<std::size_t> points;
};

/// Moves what moves with the limb as `move` says at each instant, and then to where it fits best.
template <class Move>
Turned moved(BodyProblem& problem, const Limb& limb, Stretch stretch, const Move& move) {
    constexpr int rounds = 8;
    Turned result;
    result.first = stretch.first - std::min(stretch.first, around);
    result.last = std::min(stretch.last + around, problem.rep().instants.size() - 1);
    result.points = movingWith(limb);
    std::vector<PointRef> moving;
    for (std::size_t i = result.first; i <= result.last; ++i) {
        for (const std::size_t p : result.points) {
            moving.push_back({i, p});
        }
    }
    const double cost = problem.costAround(moving);
    for (std::size_t i = stretch.first; i <= stretch.last; ++i) {
        move(problem.state(), i);
    }
    result.gained = cost - problem.solveAround(moving, rounds, cost);
    return result;
}

/// Leaves the problem turned.
Turned turned(BodyProblem& problem, const Limb& limb, Over over, Stretch stretch) {
    return moved(problem, limb, stretch,
                 [&](State& state, std::size_t i) { turnOver(state, i, limb, over); });
}

/// Whether any of what moves with a limb in a stretch is to be looked at.
bool isLookedAt(const Limb& limb, Stretch stretch, std::size_t count, const Where& where) {
    const std::vector<std::size_t> points = movingWith(limb);
    for (std::size_t i = stretch.first - std::min(stretch.first, around);
         i <= std::min(stretch.last + around, count - 1); ++i) {
        if (std::any_of(points.begin(), points.end(),
                        [&](std::size_t point) { return where(i, point); })) {
            return true;
        }
    }
    return false;
}

/// Calls `look` with each limb turned over each way wherever it leans; what it says is kept stays.
template <class Look> void turnEach(BodyProblem& problem, const Where& where, const Look& look) {
    const std::size_t count = problem.rep().instants.size();
    const std::vector<Limb> all = limbs();
    for (std::size_t l = 0; l < all.size(); ++l) {
        for (const Over over : all[l].ways) {
            for (const Stretch& stretch : stretches(problem.state(), count, all[l], over)) {
                if (!isLookedAt(all[l], stretch, count, where)) {
                    continue;
                }
                const State before = problem.state();
                if (!look(l, turned(problem, all[l], over, stretch))) {
                    problem.setState(before);
                }
            }
        }
    }
}

/// Less is no gain: twice the negative logarithm of how much likelier it has to be.
constexpr double leastGain = 1.0;

/// The depth from which those of what moves with the limb are told.
double depthOfBase(const State& state, std::size_t i, const Limb& limb) {
    const auto depth = [&](std::size_t p) { return state.point(i, p)[2]; };
    if (isLine(limb)) {
        return 0.5 * (depth(limb.root) + depth(limb.joint));
    }
    return limb.ways.front() == Over::trunk ? 0.5 * (depth(hipPair.left) + depth(hipPair.right))
                                            : depth(limb.root);
}

/// Where a limb is held another way in another state.
std::vector<Stretch> differences(const State& a, const State& b, std::size_t count,
                                 const Limb& limb) {
    constexpr double another = 0.03; // standing heights
    const std::vector<std::size_t> points = movingWith(limb);
    std::vector<Stretch> found;
    bool inside = false;
    for (std::size_t i = 0; i < count; ++i) {
        double most = 0.0;
        for (const std::size_t p : points) {
            most = std::max(most, std::abs((a.point(i, p)[2] - depthOfBase(a, i, limb)) -
                                           (b.point(i, p)[2] - depthOfBase(b, i, limb))));
        }
        if (most >= another && inside) {
            found.back().last = i;
        } else if (most >= another) {
            found.push_back({i, i});
        }
        inside = most >= another;
    }
    return found;
}

} // namespace

bool takeWhereBetter(BodyProblem& problem, const State& other) {
    bool any = false;
    for (const Limb& limb : limbs()) {
        const std::vector<std::size_t> points = movingWith(limb);
        for (const Stretch& stretch :
             differences(problem.state(), other, problem.rep().instants.size(), limb)) {
            const State before = problem.state();
            const Turned taken = moved(problem, limb, stretch, [&](State& state, std::size_t i) {
                const double base = depthOfBase(state, i, limb);
                const double otherBase = depthOfBase(other, i, limb);
                for (const std::size_t p : points) {
                    moveBy(state, i, p,
                           other.point(i, p)[2] - otherBase - (state.point(i, p)[2] - base));
                }
            });
            if (taken.gained > leastGain) {
                any = true;
            } else {
                problem.setState(before);
            }
        }
    }
    return any;
}

bool turnOverWhereBetter(BodyProblem& problem, const Where& where) {
    bool any = false;
    turnEach(problem, where, [&](std::size_t /*limb*/, const Turned& turned) {
        const bool better = turned.gained > leastGain;
        any = any || better;
        return better;
    });
    return any;
}

std::vector<Alternative> alternatives(BodyProblem& problem, const Where& where) {
    constexpr double leastOdds = 0.01;
    /// What moved less than this is the same answer, standing heights.
    constexpr double same = 0.02;
    std::vector<Alternative> found;
    const State state = problem.state();
    turnEach(problem, where, [&](std::size_t limb, const Turned& turned) {
        Alternative other;
        other.limb = limb;
        other.odds = std::exp(0.5 * std::min(0.0, turned.gained));
        other.first = turned.first;
        other.last = turned.last;
        other.points = turned.points;
        double moved = 0.0;
        for (std::size_t i = turned.first; i <= turned.last; ++i) {
            for (const std::size_t p : turned.points) {
                other.places.emplace_back(at(problem.state().point(i, p)));
                moved = std::max(moved, (other.places.back() - at(state.point(i, p))).norm());
            }
        }
        if (other.odds >= leastOdds && moved > same) {
            found.push_back(std::move(other));
        }
        return false;
    });
    return found;
}

} // namespace kestrel::body
