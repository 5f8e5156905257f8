#include "model/clip_time.h"

#include <algorithm>

namespace kestrel::model {

Seconds elapsed(const ClipTime& time, int from, int to) {
    const auto at = [&](int frame) { return time.fileTimes.at(static_cast<std::size_t>(frame)); };
    return (at(to) - at(from)) * time.realPerFileSecond;
}

Seconds frameInterval(const ClipTime& time, int frame) {
    const int first = std::max(0, frame - 1);
    const int last = std::min(time.frameCount() - 1, frame + 1);
    if (last <= first) {
        return Seconds(0.0);
    }
    return elapsed(time, first, last) * (1.0 / (last - first));
}

int frameAtFileTime(const ClipTime& time, Seconds fileTime) {
    const auto after = std::upper_bound(time.fileTimes.begin(), time.fileTimes.end(), fileTime);
    return std::max(0, static_cast<int>(after - time.fileTimes.begin()) - 1);
}

} // namespace kestrel::model
