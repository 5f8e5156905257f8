#include "model/clip_time.h"

#include <algorithm>
#include <utility>

namespace kestrel::model {
namespace {

int lastAtOrBefore(const std::vector<Seconds>& times, Seconds time) {
    const auto after = std::upper_bound(times.begin(), times.end(), time);
    return std::max(0, static_cast<int>(after - times.begin()) - 1);
}

} // namespace

ClipTime::ClipTime(std::vector<Seconds> fileTimes, double slowdown)
    : ClipTime(std::move(fileTimes), std::vector{SpeedStretch{0, slowdown}}) {}

ClipTime::ClipTime(std::vector<Seconds> fileTimes, const std::vector<SpeedStretch>& stretches)
    : file_(std::move(fileTimes)) {
    field_.reserve(file_.size());
    double slowdown = stretches.empty() ? 1.0 : stretches.front().slowdown;
    auto next = stretches.begin();
    Seconds field(0.0);
    for (std::size_t i = 0; i < file_.size(); ++i) {
        if (i > 0) {
            field = field + (file_[i] - file_[i - 1]) * (1.0 / slowdown);
        }
        field_.push_back(field);
        for (; next != stretches.end() && next->fromFrame <= static_cast<int>(i); ++next) {
            slowdown = next->slowdown;
        }
    }
}

Seconds elapsed(const ClipTime& time, int from, int to) {
    const auto at = [&](int frame) {
        return time.fieldTimes().at(static_cast<std::size_t>(frame));
    };
    return at(to) - at(from);
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
    return lastAtOrBefore(time.fileTimes(), fileTime);
}

int frameAtFieldTime(const ClipTime& time, Seconds fieldTime) {
    return lastAtOrBefore(time.fieldTimes(), fieldTime);
}

} // namespace kestrel::model
