#include "body/fit.h"

#include "body/between_instants.h"
#include "body/between_times.h"
#include "body/body_draws.h"
#include "body/body_problem.h"
#include "body/depth_flips.h"
#include "body/depth_start.h"
#include "body/last_stage.h"
#include "body/usual_pose.h"

#include <algorithm>
#include <cmath>
#include <future>
#include <iterator>
#include <map>
#include <utility>
#include <vector>

namespace kestrel::body {
namespace {

bool seenAtAll(const SeenRep& rep) {
    constexpr std::size_t fewest = 4;
    if (rep.instants.size() < fewest) {
        return false;
    }
    for (std::size_t p = 0; p < pointCount; ++p) {
        const bool seen =
            std::any_of(rep.instants.begin(), rep.instants.end(), [&](const SeenInstant& instant) {
                return instant.points.contains(landmarkAt(p));
            });
        if (!seen) {
            return false;
        }
    }
    return true;
}

/// Where the depths are that the search begins with.
enum class Depths {
    leaning, ///< where bones lean to by how long they look
    asTold,  ///< where the machine has them
    asUsual  ///< as the technique is usually done
};

/// Where the search begins.
struct SearchStart {
    double taller;     ///< than the player looks at the tallest
    double distanceBh; ///< of the camera
    Depths depths = Depths::leaning;
    double azimuth = 0.0; ///< of the target line
};

/// From one start alone the search ends in another answer too often: a player may crouch all the
/// time, a near camera shows limbs much larger than a far one, and landmarks that err look as if
/// bones leaned that do not.
std::vector<SearchStart> startsOf(const SeenRep& rep, const HeightSeen& seen) {
    std::vector<SearchStart> all{{1.0, 6.0}};
    const std::vector<double> azimuths = likelyAzimuths(rep, seen.px);
    if (azimuths.empty()) {
        all.insert(all.end(), {{1.04, 2.5}, {1.08, 6.0}, {1.12, 3.5}});
    }
    if (rep.errs()) {
        all.push_back({1.0, 6.0, Depths::asTold});
    }
    if (rep.errs() && azimuths.empty()) {
        all.push_back({1.06, 4.0, Depths::asTold});
    }
    for (SearchStart& start : all) {
        start.azimuth = azimuths.empty() ? 0.0 : azimuths.front();
    }
    constexpr std::size_t mostAzimuths = 2;
    for (std::size_t k = 0; k < std::min(azimuths.size(), mostAzimuths); ++k) {
        all.push_back({1.0, 6.0, Depths::asUsual, azimuths[k]});
    }
    if (!azimuths.empty()) {
        all.push_back({1.06, 3.5, Depths::asUsual, azimuths.front()});
    }
    return all;
}

/// Points move freely for a few rounds, and then along their sights.
void solve(BodyProblem& problem) {
    problem.letMove(BodyProblem::Points::free);
    problem.solve(freeRounds(problem.rep()));
    problem.letMove(BodyProblem::Points::alongSight);
    problem.solve(rounds);
}

struct Found {
    State state;
    double evidence = 0.0; ///< the smaller the better
};

DepthStart depthsAt(const SeenRep& rep, double unitPx, const SearchStart& start) {
    switch (start.depths) {
    case Depths::asTold:
        return depthStartAsTold(rep, unitPx, start.distanceBh);
    case Depths::asUsual:
        return depthStartAsUsual(rep, unitPx, start.distanceBh, start.azimuth);
    case Depths::leaning:
        break;
    }
    return depthStart(rep, unitPx, start.distanceBh);
}

/// Places as the start takes them to be, in units that look as long as the player is seen to be
/// tall; a standing height is `taller` of them.
State stateAt(const SeenRep& rep, const HeightSeen& seen, const SearchStart& start) {
    const DepthStart depths = depthsAt(rep, seen.px * start.taller, start);
    State state;
    state.points.resize(3 * pointCount * rep.instants.size());
    for (std::size_t i = 0; i < depths.places.size(); ++i) {
        Eigen::Map<Places>(state.point(i, 0)) = start.taller * depths.places[i];
        state.ground = std::min(state.ground, start.taller * depths.places[i].row(1).minCoeff());
    }
    for (std::size_t part = 0; part < partCount; ++part) {
        state.logLengths[part] = std::log(rep.lengths[part].mean);
    }
    state.azimuth = start.azimuth;
    state.unitPx = seen.px;
    state.logHeight = std::log(start.taller);
    state.camera = {std::log(start.taller * start.distanceBh), depths.centre.x, depths.centre.y,
                    0.0};
    state.gravity = {model::toRadians(rep.camera.roll),
                     rep.camera.pitch ? model::toRadians(*rep.camera.pitch) : usualPitch};
    return state;
}

/// The best that is found from there with the camera held, and then free but for its distance.
Found foundFrom(const SeenRep& rep, const HeightSeen& seen, SearchStart start) {
    if (rep.camera.distanceBh || !rep.showsMotion()) {
        start.distanceBh = rep.camera.distanceBh.value_or(usualDistanceBh);
    }
    BodyProblem problem(rep, stateAt(rep, seen, start), seen.time);
    // A camera that is free to come near makes sense of many a limb that leans the wrong way.
    problem.hold(BodyProblem::Held::camera);
    solve(problem);
    turnOverWhereBetter(problem);
    problem.hold(BodyProblem::Held::distance);
    solve(problem);
    constexpr int rehearsals = 3;
    for (int again = 0; again < rehearsals && turnOverWhereBetter(problem); ++again) {
        solve(problem);
    }
    const double evidence = problem.evidence();
    return {problem.state(), evidence};
}

/// Where the search ended from all starts.
struct Searched {
    State best;               ///< the best of them, with what any other does better
    std::vector<Found> found; ///< the best first
};

Searched bestOfAll(const SeenRep& rep, const HeightSeen& seen) {
    std::vector<std::future<Found>> searches;
    const std::vector<SearchStart> all = startsOf(rep, seen);
    searches.reserve(all.size());
    for (const SearchStart& start : all) {
        searches.push_back(std::async(
            std::launch::async, [&rep, &seen, start] { return foundFrom(rep, seen, start); }));
    }
    std::vector<Found> found;
    found.reserve(searches.size());
    for (auto& search : searches) {
        found.push_back(search.get());
    }
    std::sort(found.begin(), found.end(),
              [](const Found& a, const Found& b) { return a.evidence < b.evidence; });
    BodyProblem problem(rep, found.front().state, seen.time);
    problem.letMove(BodyProblem::Points::alongSight);
    problem.hold(BodyProblem::Held::distance);
    for (std::size_t k = 1; k < found.size(); ++k) {
        if (takeWhereBetter(problem, found[k].state)) {
            solve(problem);
        }
    }
    return {problem.state(), std::move(found)};
}

/// Where the body is elsewhere in another state, against the hips, at the instants of `fine`. Both
/// states are at those of `coarse`.
std::vector<double> beside(const SeenRep& coarse, const State& state, const State& other,
                           const SeenRep& fine) {
    const std::vector<double> here = inLevelAxes(state);
    const std::vector<double> there = inLevelAxes(other);
    const auto way = [&](std::size_t instant, std::size_t index) {
        const auto of = [&](std::size_t p) {
            const std::size_t at = 3 * (instant * pointCount + p);
            return Eigen::Vector3d(Eigen::Map<const Eigen::Vector3d>(there.data() + at) -
                                   Eigen::Map<const Eigen::Vector3d>(here.data() + at));
        };
        return Eigen::Vector3d(of(index) - 0.5 * (of(hipPair.left) + of(hipPair.right)));
    };
    std::vector<double> all;
    const std::vector<model::Seconds> times = coarse.times();
    for (const SeenInstant& instant : fine.instants) {
        const BetweenTimes at = betweenTimes(times, instant.time);
        for (std::size_t p = 0; p < pointCount; ++p) {
            const Eigen::Vector3d to =
                (1.0 - at.share) * way(at.from, p) + at.share * way(at.to, p);
            all.insert(all.end(), to.begin(), to.end());
        }
    }
    return all;
}

/// The other ends of the search with their odds. What is not in the model, such as how a network
/// errs from pose to pose, makes differences of evidence count for less than they would: by so
/// much. Working figure.
std::vector<OtherEnd> otherEnds(const SeenRep& coarse, const State& state,
                                const std::vector<Found>& found, const SeenRep& fine) {
    constexpr double countsLess = 4.0;
    constexpr double leastOdds = 0.02;
    std::vector<OtherEnd> ends;
    for (const Found& other : found) {
        const double odds = std::exp(-0.5 * (other.evidence - found.front().evidence) / countsLess);
        if (odds >= leastOdds) {
            ends.push_back({odds, beside(coarse, state, other.state, fine)});
        }
    }
    return ends;
}

/// A distance of the camera with what is likeliest there.
struct Tried {
    double evidence;
    State state;
};

constexpr int settlingRounds = 12;

Tried tried(BodyProblem& problem, double logDistance) {
    problem.setLogDistance(logDistance);
    problem.solve(settlingRounds);
    return {problem.evidence(), problem.state()};
}

/// How surely the distance is known before: one over the variance of its logarithm. At single
/// instants no more than that: a camera that is free to come near makes sense of much that a player
/// does otherwise than usual (players 7 m away were taken to be 3 m away).
double informationBefore(const KnownCamera& camera) {
    const double sd = camera.distanceBh ? camera.distanceRelativeSd : usualDistanceLogSd;
    return 1.0 / (sd * sd);
}

/// How far away the camera is, where the evidence is best. (The smallest sum would have it too
/// near: the nearer it is, the more of the landmarks' errors can be made sense of as depth.)
/// Returns how surely it is known: one over the variance of its logarithm.
double settleDistance(BodyProblem& problem, model::Seconds depthZero) {
    constexpr double step = 0.35; // of its logarithm
    constexpr double nearest = 0.45;
    constexpr double farthest = 3.0;
    const double start = problem.logDistance();
    std::map<double, Tried> all;
    all.emplace(start, tried(problem, start));
    const auto onwards = [&](double way) {
        // As long as it may get better again.
        constexpr double muchWorse = 40.0;
        const Tried& from = all.at(start);
        BodyProblem there(problem.rep(), from.state, depthZero);
        there.letMove(BodyProblem::Points::alongSight);
        there.hold(BodyProblem::Held::distance);
        std::map<double, Tried> found;
        double best = from.evidence;
        for (double at = start + way * step; at > nearest && at < farthest; at += way * step) {
            Tried next = tried(there, at);
            const double evidence = next.evidence;
            found.emplace(at, std::move(next));
            best = std::min(best, evidence);
            if (evidence > best + muchWorse) {
                break;
            }
        }
        return found;
    };
    auto nearer = std::async(std::launch::async, [&] { return onwards(-1.0); });
    std::map<double, Tried> farther = onwards(1.0);
    std::map<double, Tried> closer = nearer.get();
    all.merge(farther);
    all.merge(closer);
    const auto best = std::min_element(all.begin(), all.end(), [](const auto& a, const auto& b) {
        return a.second.evidence < b.second.evidence;
    });
    double at = best->first;
    double information = 1.0 / (step * step);
    if (best != all.begin() && std::next(best) != all.end()) {
        // The parabola through the best and its neighbours, which are a step away.
        const double before = std::prev(best)->second.evidence;
        const double after = std::next(best)->second.evidence;
        const double bend = before + after - 2.0 * best->second.evidence;
        if (bend > 0.0 && std::isfinite(bend)) { // there is no evidence where nothing fits
            at += 0.5 * step * (before - after) / bend;
            information = std::max(0.5 * bend / (step * step), information);
        }
    }
    problem.setState(best->second.state);
    problem.setLogDistance(at);
    problem.solve(settlingRounds);
    return information;
}

} // namespace

std::optional<FittedBody> fitBody(const SeenRep& rep, const FitProgress& progress) {
    const auto goOn = [&](double share) { return !progress || progress(share); };
    if (!seenAtAll(rep) || !goOn(0.0)) {
        return std::nullopt;
    }
    const std::optional<HeightSeen> height = heightSeen(rep);
    if (!height) {
        return std::nullopt;
    }
    constexpr double coarseStep = 0.05; // seconds
    const SeenRep coarse = rep.thinned(model::Seconds(coarseStep));
    const Searched searched = bestOfAll(coarse, *height);
    BodyProblem rough(coarse, searched.best, height->time);
    // The shares are as long as they take.
    if (!goOn(0.35)) {
        return std::nullopt;
    }
    rough.letMove(BodyProblem::Points::alongSight);
    rough.hold(BodyProblem::Held::distance);
    const double distanceInformation =
        rep.showsMotion() ? settleDistance(rough, height->time) : informationBefore(rep.camera);
    if (turnOverWhereBetter(rough)) {
        solve(rough);
    }
    rough.setSlopes(rough.narrowing());
    rough.solve(rounds);
    if (!goOn(0.6)) {
        return std::nullopt;
    }
    const SeenRep fine = rep.thinned(fineStep);
    State start = between(coarse.times(), rough.state(), fine);
    putWhereSeen(start, fine, 0.0);
    BodyProblem whole(fine, std::move(start), height->time);
    whole.hold(BodyProblem::Held::sizes);
    whole.letMove(BodyProblem::Points::alongSight);
    whole.solve(rounds);
    if (turnOverWhereBetter(whole)) {
        whole.solve(rounds);
    }
    whole.letMove(BodyProblem::Points::free);
    whole.solve(freeRounds(fine));
    whole.letMove(BodyProblem::Points::alongSight);
    if (!goOn(0.85)) {
        return std::nullopt;
    }
    std::vector<Alternative> others = alternatives(whole);
    return drawnBody(whole, distanceInformation, std::move(others),
                     otherEnds(coarse, rough.state(), searched.found, fine));
}

} // namespace kestrel::body
