#pragma once

#include "model/units.h"

#include <vector>

/// Time in a clip. Three rates are kept apart: when a frame is shown (file time), how fast the file
/// plays, and how fast the camera saw (capture rate). A slow-motion file shows 30 frames a second
/// of what was seen at 240, all through or only in a stretch of it.
namespace kestrel::model {

/// From a frame on, the file plays this much slower than it happened.
struct SpeedStretch {
    int fromFrame = 0;
    double slowdown = 1.0; ///< file seconds in which one second of the field is shown; above 0

    friend bool operator==(const SpeedStretch&, const SpeedStretch&) = default;
};

/// The clock of a clip.
class ClipTime {
  public:
    ClipTime() = default;

    /// `fileTimes` are the presentation times of all frames, ascending; the file plays `slowdown`
    /// times slower than it happened, all through: 1 for ordinary film, 8 for 240 frames a second
    /// stored at 30.
    explicit ClipTime(std::vector<Seconds> fileTimes, double slowdown = 1.0);

    /// With changes of speed inside. `stretches` are in ascending order; frames before the first
    /// one run as it does. No stretch means ordinary film.
    ClipTime(std::vector<Seconds> fileTimes, const std::vector<SpeedStretch>& stretches);

    [[nodiscard]] int frameCount() const { return static_cast<int>(file_.size()); }
    [[nodiscard]] const std::vector<Seconds>& fileTimes() const { return file_; }
    /// Time on the field of every frame since the first.
    [[nodiscard]] const std::vector<Seconds>& fieldTimes() const { return field_; }

  private:
    std::vector<Seconds> file_;
    std::vector<Seconds> field_;
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

/// The last frame that was taken at or before `fieldTime`, counted as fieldTimes are.
int frameAtFieldTime(const ClipTime& time, Seconds fieldTime);

/// How much slower a file of `fileRate` frames a second plays when it was filmed at `captureRate`;
/// 1 when either is not known (0).
constexpr double slowdown(double fileRate, double captureRate) {
    return captureRate > 0.0 && fileRate > 0.0 ? captureRate / fileRate : 1.0;
}

} // namespace kestrel::model
