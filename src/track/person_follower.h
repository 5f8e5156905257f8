#pragma once

#include "film/picture.h"
#include "pose/person_detector.h"
#include "pose/pose_network.h"
#include "track/evidence.h"

#include <array>
#include <optional>

namespace kestrel::track {

/// Keeps to one person from picture to picture: the networks look where the person was, and the
/// detector is asked again when that fails or the person's trunk changes colour.
class PersonFollower {
  public:
    PersonFollower(pose::PersonDetector& detector, pose::PoseNetwork& network);

    /// Finds the person to follow; false when there is nobody.
    bool begin(const film::Picture& picture, const Whom& whom);

    /// The pose in `picture`, the same one or a neighbour of the last; nothing while lost.
    std::optional<pose::SeenPose> look(const film::Picture& picture);

    /// The standing height that the pose found by begin() speaks for, source pixels.
    [[nodiscard]] double heightAtBegin() const { return beginHeight_; }

    /// Goes back to where begin() found the person, to follow the other way.
    void returnToBegin();

  private:
    using Colour = std::array<double, 3>; ///< red, green, blue, 0 to 255

    [[nodiscard]] std::optional<pose::PoseRegion> find(const film::Picture& picture) const;
    [[nodiscard]] static Colour trunkColour(const film::Picture& picture,
                                            const pose::SeenPose& pose);
    [[nodiscard]] bool isSame(const film::Picture& picture, const pose::SeenPose& pose) const;

    pose::PersonDetector& detector_;
    pose::PoseNetwork& network_;
    pose::PoseRegion begin_;
    pose::PoseRegion region_; ///< where to look next
    Colour beginTrunk_{};
    double beginHeight_ = 0.0;
    Colour trunk_{}; ///< running mean
    bool lost_ = false;
};

} // namespace kestrel::track
