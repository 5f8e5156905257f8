#include "model/time_warp.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>
#include <utility>

namespace kestrel::model {
namespace {

using Same = TimeWarp::Same;

Seconds warped(const std::vector<Same>& same, Seconds time, Seconds Same::*from,
               Seconds Same::*to) {
    const auto after = std::find_if(same.begin(), same.end(), [&](const Same& instant) {
        return (instant.*from).value > time.value;
    });
    if (after == same.begin() || after == same.end()) {
        const Same& nearest = after == same.end() ? same.back() : same.front();
        return Seconds((nearest.*to).value + time.value - (nearest.*from).value);
    }
    const Same& before = *std::prev(after);
    const double share =
        (time.value - (before.*from).value) / ((*after.*from).value - (before.*from).value);
    return Seconds(std::lerp((before.*to).value, (*after.*to).value, share));
}

} // namespace

TimeWarp::TimeWarp(std::vector<Same> same) {
    if (same.empty()) {
        throw std::invalid_argument("a warp needs an instant that both have");
    }
    std::sort(same.begin(), same.end(), [](const Same& a, const Same& b) {
        return std::pair(a.here, a.there) < std::pair(b.here, b.there);
    });
    for (const Same& instant : same) {
        if (same_.empty() || (instant.here.value > same_.back().here.value &&
                              instant.there.value > same_.back().there.value)) {
            same_.push_back(instant);
        }
    }
}

Seconds TimeWarp::there(Seconds here) const {
    return warped(same_, here, &Same::here, &Same::there);
}

Seconds TimeWarp::here(Seconds there) const {
    return warped(same_, there, &Same::there, &Same::here);
}

} // namespace kestrel::model
