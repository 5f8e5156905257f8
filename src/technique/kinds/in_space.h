#pragma once

#include <Eigen/Core>

#include <span>

/// Formulas of kinds that read places in space. They are the same whoever says where the places
/// are: two films over marked ground, or the body in space of one film.
namespace kestrel::technique {

/// Which level direction a kind with one counts along.
enum class LevelDirection {
    toTarget,
    aside, ///< square to the target line, positive to the throwing or hitting side
};

/// What a kind computes from in space. x runs towards the target, y to the left as seen when facing
/// it, z up.
struct SpaceInput {
    std::span<const Eigen::Vector3d> places; ///< in the order the kind names its points
    /// Direction along y, 1 or −1, in which the lead end of hips and shoulders lies when the chest
    /// faces the target.
    int leading = 1;
    double bodyHeight = 0.0; ///< in the unit of the places; 0 when it is not known
    LevelDirection direction = LevelDirection::toTarget;
    int dominantSide = -1; ///< direction along y, 1 or −1, of the throwing or hitting side

    /// The part of a way along the direction.
    [[nodiscard]] double along(const Eigen::Vector3d& way) const {
        return direction == LevelDirection::toTarget ? way.x() : dominantSide * way.y();
    }
};

/// Interior angle of a joint, degrees.
double interiorAngleInSpace(const SpaceInput& input);
/// 180° less that.
double flexionInSpace(const SpaceInput& input);
/// Angle between the directions of two lines, degrees.
double angleBetweenInSpace(const SpaceInput& input);
/// Of the line from the first point to the second against level, degrees, up positive.
double elevationInSpace(const SpaceInput& input);
/// Of the line from the first point to the second against the vertical, in the upright plane
/// through the direction, degrees, positive along it.
double leanInSpace(const SpaceInput& input);
/// Forearm (elbow, wrist) against the trunk (hips, neck) in the upright plane through the target
/// line: 90° along it, 180° straight back from it (−90…270).
double layBackInSpace(const SpaceInput& input);
/// Distance in body heights.
double distanceInSpace(const SpaceInput& input);
/// Distance of the first two points over that of the others.
double ratioInSpace(const SpaceInput& input);
/// From the first point to the second along the direction, body heights.
double offsetInSpace(const SpaceInput& input);
/// How far along the level way from the first point to the second the third stands, percent.
double balanceInSpace(const SpaceInput& input);
/// How far the second point is above the first, body heights.
double heightAboveInSpace(const SpaceInput& input);
/// How far the point farthest, along the direction, from the upright through the points' mean lies
/// beside it, body heights.
double alignmentInSpace(const SpaceInput& input);
/// Turn of the line from trail end to lead end over the ground: 0 along the target line, 90 square
/// to it with the chest to the target, degrees.
double headingInSpace(const SpaceInput& input);
/// That of the hips less that of the shoulders, −180…180.
double separationInSpace(const SpaceInput& input);

} // namespace kestrel::technique
