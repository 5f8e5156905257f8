#pragma once

#include "film/picture.h"
#include "pose/person_detector.h"
#include "pose/pose_network.h"
#include "track/person/bystanders.h"
#include "track/person/evidence.h"

#include <array>
#include <optional>
#include <vector>

namespace kestrel::track {

/// Keeps to one person from picture to picture: the networks look where the person was, and the
/// detector is asked again when that fails or the person's trunk changes colour. Bystander people
/// nearby are kept in mind, so that somebody who walks past does not take the player's place.
class PersonFollower {
  public:
    PersonFollower(pose::PersonDetector& detector, pose::PoseNetwork& network);

    /// Finds the person to follow; false when there is nobody.
    bool begin(const film::Picture& picture, const SubjectSeed& seed);

    /// The pose in `picture`, the same one or a neighbour of the last; nothing while lost.
    std::optional<pose::SeenPose> look(const film::Picture& picture);

    /// Whether a point of the pose that look() saw last may lie behind somebody else, who was seen
    /// in its place then.
    [[nodiscard]] bool mayBeBehindSomebody(model::Point2 point) const;

    /// Whether what look() saw last was seen for a moment only so far, with somebody else near.
    [[nodiscard]] bool isUnsure() const { return seenFor_ < surelyBack && crossing_; }

    /// The standing height that the pose found by begin() speaks for, source pixels.
    [[nodiscard]] double heightAtBegin() const { return beginHeight_; }

  private:
    /// Pictures in a row in which the player is seen again after a loss, to be sure of it.
    static constexpr int surelyBack = 8;
    using Colour = std::array<double, 3>; ///< red, green, blue, 0 to 255
    /// What somebody wears: mean colours.
    struct Clothes {
        Colour trunk{};
        Colour thighs{};
    };

    /// Where the lost player may be, the likeliest place first.
    [[nodiscard]] std::vector<pose::PoseRegion> candidates(const film::Picture& picture) const;
    /// How far from where the player is expected somebody may be taken for the player, in sides.
    [[nodiscard]] double farthestJump() const;
    [[nodiscard]] static Clothes clothesOf(const film::Picture& picture,
                                           const pose::SeenPose& pose);
    /// How unlike the player's the clothes of a pose are: the largest difference of a colour.
    [[nodiscard]] double unlike(const film::Picture& picture, const pose::SeenPose& pose) const;
    /// Of those seen where the lost player may be, the one who is most like the player.
    [[nodiscard]] std::optional<pose::SeenPose> found(const film::Picture& picture);
    /// Keeps the other people in mind, and whether one is near, up to date.
    void lookAround(const film::Picture& picture);
    /// Whether a middle of hips seen there is rather somebody else's than the player's.
    [[nodiscard]] bool isSomebodyElse(model::Point2 centre) const;
    [[nodiscard]] bool isSame(const film::Picture& picture, const pose::SeenPose& pose) const;

    pose::PersonDetector& detector_;
    pose::PoseNetwork& network_;
    pose::PoseRegion region_; ///< where to look next
    double beginHeight_ = 0.0;
    Clothes clothes_;       ///< running mean while nobody else is near
    double sureSide_ = 0.0; ///< of the region, likewise
    bool lost_ = false;
    int seenFor_ = 0;           ///< pictures in a row
    int sinceLost_ = 0;         ///< pictures since the player was last seen for certain
    pose::PoseRegion lastSure_; ///< where that was
    model::Point2 lastSureWay_; ///< and how the middle moved, a picture
    model::Point2 way_;         ///< of the region's middle, a picture
    Bystanders bystanders_;
    int sinceLookedAround_ = 0; ///< pictures
    /// Somebody else is so near that the networks may mix the two up, or was, and the player is not
    /// surely back.
    bool crossing_ = false;
};

} // namespace kestrel::track
