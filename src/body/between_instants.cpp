#include "body/between_instants.h"

#include <algorithm>
#include <cmath>

namespace kestrel::body {
namespace {

/// Where a point would be, at its depth, if it were where its landmark is seen; and how far off
/// that is in the picture.
struct SeenPlace {
    double x = 0.0;
    double y = 0.0;
    double offPx = 0.0;
};

SeenPlace seenPlace(const State& state, const double* place, const Seen& seen) {
    const double nearer = 1.0 - place[2] * std::exp(-state.camera[0]);
    SeenPlace at;
    at.x = nearer * (seen.px.x - state.camera[1]) / state.unitPx;
    at.y = nearer * (state.camera[2] - seen.px.y) / state.unitPx;
    at.offPx = std::hypot(place[0] - at.x, place[1] - at.y) * state.unitPx / nearer;
    return at;
}

} // namespace

State between(std::span<const model::Seconds> times, const State& known, const SeenRep& rep) {
    State state = known;
    state.points.resize(3 * pointCount * rep.instants.size());
    const std::size_t last = times.size() - 1;
    const auto time = [&](std::size_t k) { return times[k].value; };
    std::size_t after = 1;
    for (std::size_t i = 0; i < rep.instants.size(); ++i) {
        const double now = rep.instants[i].time.value;
        while (after < last && time(after) < now) {
            ++after;
        }
        const std::size_t from = after - 1;
        const double step = time(after) - time(from);
        const double t = std::clamp((now - time(from)) / step, 0.0, 1.0);
        for (std::size_t k = 0; k < 3 * pointCount; ++k) {
            const auto at = [&](std::size_t instant) { return known.point(instant, 0)[k]; };
            const auto rate = [&](std::size_t a, std::size_t b) {
                return (at(b) - at(a)) / (time(b) - time(a));
            };
            const double r0 = step * rate(from == 0 ? 0 : from - 1, after);
            const double r1 = step * rate(from, std::min(after + 1, last));
            const double way = at(after) - at(from);
            state.point(i, 0)[k] =
                at(from) + t * (r0 + t * (3.0 * way - 2.0 * r0 - r1 + t * (r0 + r1 - 2.0 * way)));
        }
    }
    return state;
}

void putWhereSeen(State& state, const SeenRep& rep, double beyondSds) {
    for (std::size_t i = 0; i < rep.instants.size(); ++i) {
        for (const auto& [landmark, seen] : rep.instants[i].points) {
            if (indexOf(landmark) >= pointCount || seen.fadingPx > 0.0 || seen.stayingPx > 0.0) {
                continue;
            }
            double* place = state.point(i, indexOf(landmark));
            const SeenPlace at = seenPlace(state, place, seen);
            if (at.offPx > beyondSds * seen.sdPx) {
                place[0] = at.x;
                place[1] = at.y;
            }
        }
    }
}

bool isSeenElsewhere(const State& state, const SeenInstant& instant, std::size_t i,
                     double beyondSds) {
    return std::any_of(instant.points.begin(), instant.points.end(), [&](const auto& point) {
        const auto& [landmark, seen] = point;
        const double sd = std::hypot(seen.sdPx, seen.fadingPx, seen.stayingPx);
        return indexOf(landmark) < pointCount &&
               seenPlace(state, state.point(i, indexOf(landmark)), seen).offPx > beyondSds * sd;
    });
}

} // namespace kestrel::body
