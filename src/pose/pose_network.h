#pragma once

#include "film/picture.h"
#include "pose/network.h"
#include "pose/pose_region.h"

#include <array>
#include <filesystem>

namespace kestrel::pose {

/// The points a pose network finds, in its own order.
enum class PosePoint {
    nose,
    leftEyeInner,
    leftEye,
    leftEyeOuter,
    rightEyeInner,
    rightEye,
    rightEyeOuter,
    leftEar,
    rightEar,
    mouthLeft,
    mouthRight,
    leftShoulder,
    rightShoulder,
    leftElbow,
    rightElbow,
    leftWrist,
    rightWrist,
    leftPinky,
    rightPinky,
    leftIndex,
    rightIndex,
    leftThumb,
    rightThumb,
    leftHip,
    rightHip,
    leftKnee,
    rightKnee,
    leftAnkle,
    rightAnkle,
    leftHeel,
    rightHeel,
    leftFootIndex,
    rightFootIndex,
};
inline constexpr std::size_t posePointCount = 33;

/// The network's own words on visibility and presence are left out: they are no measure of quality
/// (docs/accuracy.md).
struct SeenPoint {
    model::Point2 px;  ///< source pixels
    double peak = 0.0; ///< highest value of the heat map around the point, 0 to 1
    /// The network's word on how much farther than the hips it is from the camera, about in source
    /// pixels; rough, good for saying what lies before what.
    double depthPx = 0.0;
};

struct SeenPose {
    std::array<SeenPoint, posePointCount> points{};
    double personScore = 0.0; ///< the network's word that a person is there; no measure of quality
    PoseRegion next;          ///< where the same person is to be looked for in the next frame

    [[nodiscard]] const SeenPoint& at(PosePoint point) const {
        return points[static_cast<std::size_t>(point)];
    }
};

/// Finds the points of one person inside a region (256 × 256). Not thread-safe.
class PoseNetwork {
  public:
    /// Throws model::InputError when `file` cannot be used.
    explicit PoseNetwork(const std::filesystem::path& file, int threads = 1);

    SeenPose look(const film::Picture& picture, const PoseRegion& region);

  private:
    Network network_;
};

} // namespace kestrel::pose
