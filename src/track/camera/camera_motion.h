#pragma once

#include "film/picture.h"
#include "model/clip_time.h"
#include "model/film_study.h"

#include <memory>

namespace kestrel::track {

/// Follows the background of a film through one pass over its frames, to tell a camera that moves
/// from a player who does. Corners are followed by pyramidal Lucas–Kanade there and back; a turn, a
/// zoom and a shift are fitted to them by RANSAC, so that the player's own corners, as long as they
/// are the fewer, do not count. Poses are against the first frame throughout, not summed up from
/// frame to frame, until too few of its corners are left.
class CameraMotionTracker {
  public:
    /// `sourceWidth` is the width of the film's pictures, pixels; poses are in those.
    explicit CameraMotionTracker(int frameCount, int sourceWidth);
    ~CameraMotionTracker();
    CameraMotionTracker(const CameraMotionTracker&) = delete;
    CameraMotionTracker& operator=(const CameraMotionTracker&) = delete;

    void add(int frame, const film::GrayPicture& picture);

    /// One pose for each frame; empty when the background showed too few corners somewhere on the
    /// way to be sure.
    [[nodiscard]] model::CameraMotion result() const;

  private:
    struct State;
    std::unique_ptr<State> state_;
};

/// How a camera moved over a film, source pixels.
struct CameraSteadiness {
    double shakePx = 0.0; ///< root mean square of its quick movement at the middle of the picture
    double driftPx = 0.0; ///< farthest it went from where it stood at first
};

/// `width` and `height` are those of the film's pictures.
CameraSteadiness steadiness(const model::CameraMotion& motion, const model::ClipTime& time,
                            int width, int height);

} // namespace kestrel::track
