#pragma once

#include "synth/body.h"
#include "synth/curve.h"
#include "synth/flight.h"
#include "synth/implement.h"
#include "synth/motion_sheet.h"

#include <string>

/// From channels to bones: where every joint is at one instant.
namespace kestrel::synth {

struct PointCurve {
    Curve x;
    Curve y;
    Curve z;

    [[nodiscard]] Vector at(double time) const { return {x(time), y(time), z(time)}; }
};

/// Headings of body and feet are 0° to the open side of a right-hander (−y), 90° to the target.
/// Lengths are in standing heights, angles in degrees.
struct SideChannels {
    PointCurve foot; ///< the toe's place with the foot flat
    Curve footHeading;
    Curve footPitch; ///< positive on the toes, the heel up; negative on the heel, the toes up
    Curve kneeTurn;  ///< the knee points so much further round than the toes
    Curve raise;     ///< upper arm from hanging (0) through level with the shoulders (90)
    Curve forward;   ///< upper arm forward of the shoulder line
    Curve turn;      ///< forearm about the upper arm: 0 forwards, 90 up, 180 back
    Curve bend;      ///< flexion of the elbow
    PointCurve hand; ///< from the middle between the shoulders: outwards, forwards, up the trunk
    Curve elbow;     ///< where it points with the hand led: 0 down the trunk, 90 outwards, 180 up
    Curve grip;      ///< metres along the implement from its butt
};

struct Channels {
    PointCurve pelvis;
    Curve pelvisHeading;
    Curve pelvisTilt; ///< off hip up
    Curve trunkLean;  ///< towards the target
    Curve trunkSide;  ///< towards +y
    Curve thoraxHeading;
    Curve shoulderTilt; ///< of the shoulder line against the trunk, off shoulder up
    Curve headHeading;
    Curve headPitch; ///< looking up
    SideChannels main;
    SideChannels off;
    PointCurve grip; ///< of an implement led by a point in the trunk's frame, as SideChannels::hand
    PointCurve tool; ///< of an implement led by its head: the head's place in the world
    PointCurve shaft; ///< direction from butt to tip in the world, of any length
    PointCurve face;  ///< direction the face looks, of any length
    Curve shaftBend;
    PointCurve
        palm; ///< from the main hand to the middle of a ball on it, trunk's frame, any length
};

struct Body {
    double heightM = 0.0;
    Proportions proportions;
    Implement implement;
    ArmLed mainArm = ArmLed::byAngles;
    ArmLed offArm = ArmLed::byAngles;
    ImplementLed implementLed = ImplementLed::byMainHand;
    bool wearsGlove = false;
};

Body bodyOf(const MotionSheet& sheet, const Build& build);

/// The right-hander's pose without the ball. `outOfReach`, if given, becomes the largest distance
/// in metres by which a hand or a standing foot misses its place.
Pose poseOf(const Channels& channels, const Body& body, double time, double* outOfReach = nullptr);

/// The middle of a ball that is held at `place`: "main_hand", "off_hand", "both_hands", "palm" (on
/// the main hand, in the direction `palm` of the trunk's frame), "glove", "implement_head". Throws
/// std::invalid_argument for another name.
Vector ballPlace(const Pose& pose, const std::string& place, const Projectile& ball,
                 const Vector& palm);

} // namespace kestrel::synth
