#pragma once

#include "model/clip_time.h"
#include "model/reading.h"
#include "model/record.h"

#include <cmath>

namespace kestrel::app {

/// How many frames a found instant may be off (95 %), the rounding to a frame included; at least 1.
inline int foundFrames(const model::FoundInstant& found, const model::ClipTime& time) {
    const double interval = model::frameInterval(time, found.frame).value;
    const double sd = std::hypot(found.sd.value, interval / std::sqrt(12.0));
    return std::max(1, static_cast<int>(std::lround(model::coverage95 * sd / interval)));
}

} // namespace kestrel::app
