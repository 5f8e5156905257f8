#pragma once

#include "body/proportions.h"
#include "model/landmark.h"
#include "model/units.h"

#include <Eigen/Core>

#include <map>
#include <optional>
#include <vector>

/// What a film shows of a player in one rep: what the body in space is estimated from.
namespace kestrel::body {

/// What a machine says of a landmark's depth: how much nearer to the camera than the middle of the
/// hips it is, body heights.
struct NearerThanHips {
    double bh = 0.0;
    double sdBh = 0.0;
};

/// A landmark as it was seen at one instant, in the picture that all instants are carried to.
struct Seen {
    model::Point2 px;
    double sdPx = 0.0;      ///< per axis, from instant to instant
    double fadingPx = 0.0;  ///< per axis, the part of the error that stays alike for a while
    double stayingPx = 0.0; ///< per axis, the part that stays alike through the film
    bool trusted = false;   ///< placed or confirmed by a coach: it is no wild point
    std::optional<NearerThanHips> nearer;
};

struct SeenInstant {
    model::Seconds time;
    bool wanted = false; ///< what is read there counts: the instant is never left out
    std::map<model::Landmark, Seen> points; ///< landmarks of the body; others are not looked at
    /// How a player who does this technique usually stands then: places of all landmarks of the
    /// body, head to foot, from the middle of the hips; body heights; x towards the target, z up,
    /// in right-handed axes. Empty where nothing is known; of all instants or of none.
    std::vector<Eigen::Vector3d> usual;
};

/// What is known of the camera before the film is looked at. Unset: what coaches' cameras are like.
struct KnownCamera {
    /// From the player, body heights.
    std::optional<double> distanceBh;
    double distanceRelativeSd = 0.0;
    /// How far it looks down, and how far its right side hangs lower than its left.
    std::optional<model::Degrees> pitch;
    model::Degrees pitchSd{0.0};
    model::Degrees roll{0.0};
    model::Degrees rollSd{1.5};
};

struct SeenRep {
    std::vector<SeenInstant> instants; ///< in order of time
    int width = 0;                     ///< of the picture, pixels
    int height = 0;
    bool feetGlide = false; ///< on skates: a foot on the ground need not stand still
    PartLengths lengths;    ///< of this player as far as they are known before
    KnownCamera camera;
    /// For how long the error of the machine's word on depth stays alike.
    model::Seconds nearerErrorLasts{0.1};

    /// Whether instants follow one another closely enough to show how the body moves between them;
    /// else it is known at single instants, such as the key positions.
    [[nodiscard]] bool showsMotion() const;
    /// Whether landmarks have errors that stay alike for a while.
    [[nodiscard]] bool errs() const;
    [[nodiscard]] std::vector<model::Seconds> times() const;
    /// The same with instants at least so far apart; the first, the last and those wanted stay.
    [[nodiscard]] SeenRep thinned(model::Seconds step) const;
};

} // namespace kestrel::body
