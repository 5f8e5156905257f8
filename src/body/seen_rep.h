#pragma once

#include "body/proportions.h"
#include "model/landmark.h"
#include "model/units.h"

#include <map>
#include <optional>
#include <vector>

/// What a film shows of a player in one rep: what the body in space is estimated from.
namespace kestrel::body {

/// A landmark as it was seen at one instant, in the picture that all instants are carried to.
struct Seen {
    model::Point2 px;
    double sdPx = 0.0;      ///< per axis, from instant to instant
    double lastingPx = 0.0; ///< per axis, the part of the error that stays alike for a while
    bool trusted = false;   ///< placed or confirmed by a coach: it is no wild point
    /// How much nearer to the camera than the middle of the hips a machine takes it to be, body
    /// heights.
    std::optional<double> nearerBh;
};

struct SeenInstant {
    model::Seconds time;
    bool wanted = false; ///< what is read there counts: the instant is never left out
    std::map<model::Landmark, Seen> points; ///< landmarks of the body; others are not looked at
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
    /// How good the machine's word on depth is: standard deviation in body heights, and for how
    /// long its error stays alike.
    double nearerSdBh = 0.08;
    model::Seconds nearerErrorLasts{0.1};
};

} // namespace kestrel::body
