#include "body/depth_flips.h"

#include "body/body_points.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace kestrel::body {
namespace {

/// A chain of two bones, and what goes along with its end.
struct Limb {
    std::size_t root;
    std::size_t joint;
    std::size_t end;
    std::vector<std::size_t> beyond;
};

std::vector<Limb> limbs() {
    std::vector<Limb> all;
    for (const bool left : {true, false}) {
        const auto of = [&](Pair pair) { return left ? pair.left : pair.right; };
        all.push_back({of(hipPair), of(kneePair), of(anklePair), {of(heelPair), of(toePair)}});
        all.push_back({of(shoulderPair), of(elbowPair), of(wristPair), {of(handPair)}});
        all.push_back({of(elbowPair), of(wristPair), of(handPair), {}});
    }
    return all;
}

enum class Over { upper, lower, both, feet };

/// A stretch of instants, both included.
struct Stretch {
    std::size_t first;
    std::size_t last;
};

double depthBetween(const State& state, std::size_t i, std::size_t a, std::size_t b) {
    return state.point(i, b)[2] - state.point(i, a)[2];
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
    std::vector<double> leans;
    for (std::size_t i = 0; i < count; ++i) {
        leans.push_back(leaning(state, i, limb, over));
    }
    const auto turns = [&](std::size_t i, std::size_t a, std::size_t b) {
        return depthBetween(state, i - 1, a, b) * depthBetween(state, i, a, b) < 0.0;
    };
    std::vector<std::size_t> begins{0};
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
        const bool crosses = over == Over::feet
                                 ? turns(i, limb.beyond.front(), limb.beyond.back())
                                 : (over != Over::lower && turns(i, limb.root, limb.joint)) ||
                                       (over != Over::upper && turns(i, limb.joint, limb.end));
        if (dips || crosses) {
            begins.push_back(i);
        }
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

void turnOver(State& state, std::size_t i, const Limb& limb, Over over) {
    const double upper = depthBetween(state, i, limb.root, limb.joint);
    const double lower = depthBetween(state, i, limb.joint, limb.end);
    double jointMoves = 0.0;
    double endMoves = 0.0;
    if (over == Over::upper || over == Over::both) {
        jointMoves -= 2.0 * upper;
        endMoves -= 2.0 * upper;
    }
    if (over == Over::lower || over == Over::both) {
        endMoves -= 2.0 * lower;
    }
    state.point(i, limb.joint)[2] += jointMoves;
    state.point(i, limb.end)[2] += endMoves;
    const double end = state.point(i, limb.end)[2];
    for (const std::size_t p : limb.beyond) {
        double& depth = state.point(i, p)[2];
        depth += endMoves;
        if (over == Over::feet || over == Over::both) {
            depth = 2.0 * end - depth;
        }
    }
}

bool triedAndKept(BodyProblem& problem, const Limb& limb, Over over, Stretch stretch) {
    constexpr std::size_t around = 2;
    constexpr int rounds = 8;
    /// Less is no gain: twice the negative logarithm of how much likelier it has to be.
    constexpr double leastGain = 1.0;
    std::vector<PointRef> points;
    const std::size_t first = stretch.first - std::min(stretch.first, around);
    const std::size_t last = std::min(stretch.last + around, problem.rep().instants.size() - 1);
    for (std::size_t i = first; i <= last; ++i) {
        points.push_back({i, limb.joint});
        points.push_back({i, limb.end});
        for (const std::size_t p : limb.beyond) {
            points.push_back({i, p});
        }
    }
    const State before = problem.state();
    const double cost = problem.cost();
    for (std::size_t i = stretch.first; i <= stretch.last; ++i) {
        turnOver(problem.state(), i, limb, over);
    }
    if (problem.solveFor(points, rounds) < cost - leastGain) {
        return true;
    }
    problem.setState(before);
    return false;
}

} // namespace

bool turnOverWhereBetter(BodyProblem& problem) {
    bool any = false;
    for (const Limb& limb : limbs()) {
        for (const Over over : {Over::both, Over::upper, Over::lower, Over::feet}) {
            const bool isHand = limb.beyond.empty();
            if ((over == Over::feet && limb.beyond.size() < 2) || (isHand && over != Over::lower)) {
                continue;
            }
            for (const Stretch& stretch :
                 stretches(problem.state(), problem.rep().instants.size(), limb, over)) {
                any = triedAndKept(problem, limb, over, stretch) || any;
            }
        }
    }
    return any;
}

} // namespace kestrel::body
