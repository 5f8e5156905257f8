#pragma once

#include "pose/person_detector.h"

#include <optional>
#include <vector>

namespace kestrel::track {

/// Nearer to each other than this share of a region's side, one person covers the other.
inline constexpr double clearOfBystanders = 0.2;

/// Bystander people around the one who is followed. Each is taken to walk on as they walked, also
/// where the player, or they behind the player, cannot be seen.
class Bystanders {
  public:
    /// One picture went by.
    void advance();

    /// Takes in what the detector sees. The player is expected at `player`; `side` is that of the
    /// player's region. Somebody is only taken for another person when first seen well beside the
    /// player.
    void see(const std::vector<pose::Person>& people, model::Point2 player, double side);

    /// How far from `place` the nearest of them is expected, pixels; nothing when there is nobody
    /// who was seen often enough to be sure of.
    [[nodiscard]] std::optional<double> distanceTo(model::Point2 place) const;

    /// Whether one of them is expected before somebody at `place` whose region has that side: at
    /// the same place, and not smaller, so not farther from the camera.
    [[nodiscard]] bool cover(model::Point2 place, double side) const;

    /// Whether a point of somebody whose region has that side may lie behind one of them: inside
    /// the outline of one who is not farther from the camera.
    [[nodiscard]] bool mayHide(model::Point2 point, double side) const;

    [[nodiscard]] bool isAnybody() const { return !bystanders_.empty(); }

  private:
    struct Bystander {
        model::Point2 place; ///< middle of the hips
        model::Point2 way;   ///< a picture
        double side = 0.0;   ///< of the region, running mean
        int seen = 1;
        int unseen = 0; ///< pictures since
    };

    [[nodiscard]] static bool isSure(const Bystander& other);
    /// Takes a sighting of `other` in; besides the player, with whom it may be mixed up, less.
    static void update(Bystander& other, const pose::PoseRegion& seen, bool besidePlayer);

    std::vector<Bystander> bystanders_;
};

} // namespace kestrel::track
