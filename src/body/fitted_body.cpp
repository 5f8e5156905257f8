#include "body/fitted_body.h"

#include "body/between_times.h"
#include "body/body_points.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <stdexcept>

namespace kestrel::body {
namespace {

std::size_t indexIn(std::size_t instant, model::Landmark landmark) {
    return 3 * (instant * pointCount + indexOf(landmark));
}

/// The difference of two values of a quantity, the short way round.
double difference(double a, double b, double period) {
    const double d = a - b;
    return period > 0.0 ? std::remainder(d, period) : d;
}

} // namespace

FittedBody::FittedBody(FittedParts parts) : parts_(std::move(parts)) {
    const std::size_t numbers = 3 * pointCount * parts_.times.size();
    const bool whole = std::all_of(parts_.draws.begin(), parts_.draws.end(),
                                   [&](const auto& draw) { return draw.size() == numbers; });
    if (parts_.times.empty() || parts_.places.size() != numbers || !whole ||
        !std::is_sorted(parts_.times.begin(), parts_.times.end())) {
        throw std::invalid_argument("the parts of a fitted body do not go together");
    }
}

bool FittedBody::covers(model::Seconds time) const {
    constexpr double beside = 0.02; // seconds, a frame of slow film
    // Farther apart they are single instants, and nothing is known of what happens between.
    constexpr double closeTogether = 0.1;
    const auto& times = parts_.times;
    const auto after = std::lower_bound(times.begin(), times.end(), time);
    const bool known = after != times.end() && (*after - time).value <= beside;
    if (after == times.begin() || known) {
        return known;
    }
    const model::Seconds before = *std::prev(after);
    return (time - before).value <= beside ||
           (after != times.end() && (*after - before).value <= closeTogether);
}

Eigen::Vector3d FittedBody::place(PlaceRef ref) const {
    const BetweenTimes at = betweenTimes(parts_.times, ref.time);
    const float* from = parts_.places.data() + indexIn(at.from, ref.landmark);
    const float* to = parts_.places.data() + indexIn(at.to, ref.landmark);
    const auto one = [](const float* p) { return Eigen::Vector3d(p[0], p[1], p[2]); };
    return (1.0 - at.share) * one(from) + at.share * one(to);
}

Eigen::Vector3d FittedBody::drawn(std::size_t draw, PlaceRef ref) const {
    const BetweenTimes at = betweenTimes(parts_.times, ref.time);
    const std::int16_t* from = parts_.draws[draw].data() + indexIn(at.from, ref.landmark);
    const std::int16_t* to = parts_.draws[draw].data() + indexIn(at.to, ref.landmark);
    const auto one = [](const std::int16_t* p) { return Eigen::Vector3d(p[0], p[1], p[2]); };
    return place(ref) + drawStep * ((1.0 - at.share) * one(from) + at.share * one(to));
}

double FittedBody::length(Part part) const {
    return parts_.lengths[static_cast<std::size_t>(part)];
}

SpaceValue FittedBody::value(std::span<const PlaceRef> places,
                             const std::function<double(std::span<const Eigen::Vector3d>)>& of,
                             double period) const {
    std::vector<Eigen::Vector3d> at(places.size());
    std::transform(places.begin(), places.end(), at.begin(),
                   [&](const PlaceRef& ref) { return place(ref); });
    SpaceValue result{of(at), 0.0};
    double square = 0.0;
    for (std::size_t draw = 0; draw < drawCount(); ++draw) {
        std::transform(places.begin(), places.end(), at.begin(),
                       [&](const PlaceRef& ref) { return drawn(draw, ref); });
        const double miss = difference(of(at), result.value, period);
        square += miss * miss;
    }
    result.sd = drawCount() > 0 ? std::sqrt(square / static_cast<double>(drawCount())) : 0.0;
    return result;
}

} // namespace kestrel::body
