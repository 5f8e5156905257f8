#include "body/mirrored_body.h"

#include "body/body_points.h"

#include <numbers>

namespace kestrel::body {
namespace {

constexpr std::size_t perPoint = 3;

/// Places or steps of all points, one instant after the other.
template <class Number> std::vector<Number> mirroredPlaces(const std::vector<Number>& places) {
    std::vector<Number> seen(places.size());
    constexpr std::size_t perInstant = perPoint * pointCount;
    for (std::size_t instant = 0; instant < places.size(); instant += perInstant) {
        for (std::size_t point = 0; point < pointCount; ++point) {
            const std::size_t of = indexOf(model::mirrored(landmarkAt(point)));
            const std::size_t from = instant + perPoint * of;
            const std::size_t to = instant + perPoint * point;
            seen[to] = static_cast<Number>(-places[from]);
            seen[to + 1] = places[from + 1];
            seen[to + 2] = places[from + 2];
        }
    }
    return seen;
}

} // namespace

FittedBody mirrored(const FittedBody& body) {
    FittedParts parts = body.parts();
    parts.places = mirroredPlaces(parts.places);
    for (std::vector<std::int16_t>& draw : parts.draws) {
        draw = mirroredPlaces(draw);
    }
    if (parts.target) {
        parts.target->radians = std::numbers::pi - parts.target->radians;
    }
    parts.end.reset(); // of the search for the body as it was filmed
    return FittedBody(std::move(parts));
}

} // namespace kestrel::body
