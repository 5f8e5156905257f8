#pragma once

#include <cmath>
#include <iterator>
#include <map>

/// What is known at some frames, told for all of them. Only within this room.
namespace kestrel::report {

/// In proportion between the frames around it; as at the first or last beyond them. Of one frame or
/// more.
inline double betweenFrames(const std::map<int, double>& known, int frame) {
    const auto after = known.lower_bound(frame);
    if (after == known.begin()) {
        return after->second;
    }
    const auto before = std::prev(after);
    if (after == known.end()) {
        return before->second;
    }
    const double part = static_cast<double>(frame - before->first) / (after->first - before->first);
    return std::lerp(before->second, after->second, part);
}

} // namespace kestrel::report
