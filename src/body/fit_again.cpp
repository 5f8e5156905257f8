#include "body/fit_again.h"

#include "body/between_instants.h"
#include "body/body_problem.h"
#include "body/depth_flips.h"
#include "body/depth_start.h"
#include "body/last_stage.h"
#include "body/search_end.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <iterator>
#include <utility>
#include <vector>

namespace kestrel::body {
namespace {

/// Whether a rep lies where a body was fitted, but for a little at its ends.
bool isOfSameTime(const SeenRep& rep, const FittedBody& before) {
    constexpr double beside = 0.25; // seconds
    return (before.times().front() - rep.instants.front().time).value < beside &&
           (rep.instants.back().time - before.times().back()).value < beside;
}

/// Which points are elsewhere in another state of the same instants, against the hips: that the
/// whole is nearer or farther makes no other body of it.
class Moved {
  public:
    Moved(const State& before, const State& now) {
        constexpr double little = 0.01; // standing heights
        for (std::size_t i = 0; i < now.points.size() / (3 * pointCount); ++i) {
            const auto way = [&](std::size_t point) {
                return Eigen::Vector3d(Eigen::Map<const Eigen::Vector3d>(now.point(i, point)) -
                                       Eigen::Map<const Eigen::Vector3d>(before.point(i, point)));
            };
            const Eigen::Vector3d hips = 0.5 * (way(hipPair.left) + way(hipPair.right));
            for (std::size_t point = 0; point < pointCount; ++point) {
                moved_.push_back((way(point) - hips).norm() > little);
            }
        }
    }
    bool operator()(std::size_t instant, std::size_t point) const {
        return moved_[instant * pointCount + point];
    }
    [[nodiscard]] std::vector<PointRef> all() const {
        std::vector<PointRef> points;
        for (std::size_t i = 0; i < moved_.size(); ++i) {
            if (moved_[i]) {
                points.push_back({i / pointCount, i % pointCount});
            }
        }
        return points;
    }

  private:
    std::vector<bool> moved_;
};

/// A landmark that is seen farther off than so many standard deviations was moved.
constexpr double elsewhereSds = 3.0;
/// The search begins next to where it ends.
constexpr int roundsAgain = 6;

/// All points of the instants at which landmarks are seen elsewhere, and right before and after.
std::vector<PointRef> whereMarksMoved(const State& state, const SeenRep& rep) {
    constexpr double beside = 0.1; // seconds
    std::vector<model::Seconds> moved;
    for (std::size_t i = 0; i < rep.instants.size(); ++i) {
        if (isSeenElsewhere(state, rep.instants[i], i, elsewhereSds)) {
            moved.push_back(rep.instants[i].time);
        }
    }
    std::vector<PointRef> points;
    for (std::size_t i = 0; i < rep.instants.size(); ++i) {
        const bool near = std::any_of(moved.begin(), moved.end(), [&](model::Seconds time) {
            return std::abs((time - rep.instants[i].time).value) <= beside;
        });
        for (std::size_t point = 0; near && point < pointCount; ++point) {
            points.push_back({i, point});
        }
    }
    return points;
}

/// Whether nothing of another answer moved, so that its odds stay.
bool stays(const Alternative& other, const Moved& moved) {
    for (std::size_t i = other.first; i <= other.last; ++i) {
        if (std::any_of(other.points.begin(), other.points.end(),
                        [&](std::size_t point) { return moved(i, point); })) {
            return false;
        }
    }
    return true;
}

} // namespace

std::optional<FittedBody> fitAgain(const SeenRep& rep, const FittedBody& before) {
    const std::optional<SearchEnd>& end = before.parts().end;
    const std::optional<HeightSeen> height = heightSeen(rep);
    if (!end || !height || before.times().size() < 2 || !isOfSameTime(rep, before)) {
        return std::nullopt;
    }
    const SeenRep fine = rep.thinned(fineStep);
    const State start = between(before.times(), stateAt(before.parts(), *end), fine);
    State placed = start;
    putWhereSeen(placed, fine, elsewhereSds);
    BodyProblem whole(fine, std::move(placed), height->time);
    whole.solveFreelyAround(whereMarksMoved(start, fine), freeRounds(fine));
    whole.hold(BodyProblem::Held::sizes);
    whole.letMove(BodyProblem::Points::alongSight);
    whole.solve(roundsAgain);
    Moved moved(start, whole.state());
    if (turnOverWhereBetter(whole, moved)) {
        whole.solve(roundsAgain);
    }
    moved = Moved(start, whole.state());
    whole.solveFreelyAround(moved.all(), freeRounds(fine));
    // Marks put elsewhere make it larger by some hundreds, sides exchanged by many thousands.
    constexpr double factor = 1.5;
    constexpr double someHundreds = 300.0;
    if (whole.cost() > factor * end->sum + someHundreds) {
        return std::nullopt;
    }
    const std::vector<model::Seconds> times(before.times().begin(), before.times().end());
    std::vector<Alternative> others = answersAt(times, *end, fine.times());
    std::erase_if(others, [&](const Alternative& other) { return !stays(other, moved); });
    std::vector<Alternative> anew = alternatives(whole, moved);
    others.insert(others.end(), std::make_move_iterator(anew.begin()),
                  std::make_move_iterator(anew.end()));
    return drawnBody(whole, end->distanceInformation, std::move(others),
                     endsAt(times, *end, fine.times()));
}

} // namespace kestrel::body
