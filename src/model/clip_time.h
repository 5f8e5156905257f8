#pragma once

#include "model/units.h"

#include <vector>

/// Time in a clip. Three rates are kept apart: when a frame is shown (file time), how fast the file
/// plays, and how fast the camera saw (capture rate). A slow-motion file shows 30 frames a second
/// of what was seen at 240.
namespace kestrel::model {

struct ClipTime {
    /// Presentation time of every frame in the file, ascending.
    std::vector<Seconds> fileTimes;
    /// Seconds that pass on the field in one second of the file: 1 for ordinary film, 0.125 for
    /// 240 frames a second stored at 30.
    double realPerFileSecond = 1.0;

    [[nodiscard]] int frameCount() const { return static_cast<int>(fileTimes.size()); }
};

/// Time that passed on the field from frame `from` to frame `to`, negative when `to` is earlier.
/// Every duration in the program comes from here. Throws std::out_of_range for a frame that the
/// clip does not have.
Seconds elapsed(const ClipTime& time, int from, int to);

/// Time on the field between `frame` and its neighbours (mean of both where there are two): the
/// finest step in which the film can tell an instant at this place. Zero for a one-frame clip.
Seconds frameInterval(const ClipTime& time, int frame);

/// The frame shown at `fileTime` (the last one that starts at or before it; 0 before the first).
int frameAtFileTime(const ClipTime& time, Seconds fileTime);

/// The factor for a file of `fileRate` frames a second filmed at `captureRate`.
constexpr double realPerFileSecond(double fileRate, double captureRate) {
    return captureRate > 0.0 ? fileRate / captureRate : 1.0;
}

} // namespace kestrel::model
