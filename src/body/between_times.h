#pragma once

#include "model/units.h"

#include <algorithm>
#include <cstddef>
#include <span>

/// Between which instants a time lies. Only within this room.
namespace kestrel::body {

/// Indices of the instants around a time, and how far on the way from one to the other it lies. At
/// or beyond an end both are that end.
struct BetweenTimes {
    std::size_t from = 0;
    std::size_t to = 0;
    double share = 0.0;
};

/// Of ascending times, at least one.
inline BetweenTimes betweenTimes(std::span<const model::Seconds> times, model::Seconds time) {
    const auto after = std::lower_bound(times.begin(), times.end(), time);
    if (after == times.begin()) {
        return {};
    }
    const std::size_t last = times.size() - 1;
    if (after == times.end()) {
        return {last, last, 0.0};
    }
    const auto to = static_cast<std::size_t>(after - times.begin());
    const double step = times[to].value - times[to - 1].value;
    return {to - 1, to, step > 0.0 ? (time.value - times[to - 1].value) / step : 1.0};
}

} // namespace kestrel::body
