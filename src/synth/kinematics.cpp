#include "synth/kinematics.h"

#include "model/units.h"
#include "synth/angles.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace kestrel::synth {
namespace {

using model::Landmark;

/// Level: 0° to −y, 90° to the target.
Vector facing(double headingDeg) {
    return {std::sin(radians(headingDeg)), -std::cos(radians(headingDeg)), 0.0};
}

/// From the right side to the left side of a body with that heading.
Vector leftward(double headingDeg) {
    return {std::cos(radians(headingDeg)), std::sin(radians(headingDeg)), 0.0};
}

/// Right-handed axes of a part of the body.
struct Axes {
    Vector left;
    Vector front;
    Vector up;
};

struct FootPlace {
    Vector ankle;
    Vector heel;
    Vector toe;
};

FootPlace footAt(const Vector& place, double headingDeg, double pitchDeg, const Body& body) {
    const Proportions& p = body.proportions;
    const double h = body.heightM;
    const Vector level = facing(headingDeg);
    const double pitch = radians(pitchDeg);
    const Vector forward = std::cos(pitch) * level - std::sin(pitch) * Vector::UnitZ();
    const Vector up = std::cos(pitch) * Vector::UnitZ() + std::sin(pitch) * level;
    const double length = h * (p.heelBehindAnkle + p.toeAheadOfAnkle);
    // On the toes the foot turns about the toe, on the heel about the heel.
    const Vector heel =
        pitchDeg >= 0.0 ? Vector(place - length * forward) : Vector(place - length * level);
    return {heel + h * p.heelBehindAnkle * forward + h * p.ankleHeight * up, heel,
            heel + length * forward};
}

/// How firmly a foot at that height stands: 1 on the ground, 0 from 3 cm up.
double standing(double height) {
    const double s = std::clamp(1.0 - height / 0.03, 0.0, 1.0);
    return s * s * (3.0 - 2.0 * s);
}

/// How much the hip must come down for the leg to reach the ankle with a little bend left.
double tooHigh(const Vector& hip, const Vector& ankle, double leg) {
    const double level = std::hypot(hip.x() - ankle.x(), hip.y() - ankle.y());
    const double most = 0.998 * leg;
    const double upright = std::sqrt(std::max(0.0, most * most - level * level));
    return std::max(0.0, hip.z() - ankle.z() - upright);
}

class PoseBuilder {
  public:
    PoseBuilder(const Channels& channels, const Body& body, double time)
        : c_(channels), b_(body), p_(body.proportions), h_(body.heightM), t_(time) {}

    Pose build() {
        feet();
        pelvis();
        trunk();
        implementByItself();
        arm(c_.main, b_.mainArm, false);
        if (b_.implementLed == ImplementLed::byMainHand) {
            place(pose_, b_.implement, pose_.at(Landmark::rightHand) - c_.main.grip(t_) * shaft(),
                  shaft(), c_.face.at(t_));
        }
        arm(c_.off, b_.offArm, true);
        pose_.implementBend = radians(c_.shaftBend(t_));
        if (b_.wearsGlove) {
            const Vector& hand = pose_.at(Landmark::leftHand);
            pose_.set(Landmark::glove,
                      hand + 0.035 * h_ * (hand - pose_.at(Landmark::leftWrist)).normalized());
        }
        legs();
        return pose_;
    }

    [[nodiscard]] double outOfReach() const { return missed_; }

  private:
    void feet() {
        mainFoot_ =
            footAt(h_ * c_.main.foot.at(t_), c_.main.footHeading(t_), c_.main.footPitch(t_), b_);
        offFoot_ =
            footAt(h_ * c_.off.foot.at(t_), c_.off.footHeading(t_), c_.off.footPitch(t_), b_);
    }

    void pelvis() {
        Vector middle = h_ * c_.pelvis.at(t_);
        const double heading = c_.pelvisHeading(t_);
        const double tilt = radians(c_.pelvisTilt(t_));
        const Vector line = std::cos(tilt) * leftward(heading) + std::sin(tilt) * Vector::UnitZ();
        const double half = h_ * p_.halfHips;
        const double leg = h_ * (p_.thigh + p_.shank);
        // A standing foot stays where it is: the pelvis comes down to it.
        const double down = std::max(standing(c_.off.foot.z(t_) * h_) *
                                         tooHigh(middle + half * line, offFoot_.ankle, leg),
                                     standing(c_.main.foot.z(t_) * h_) *
                                         tooHigh(middle - half * line, mainFoot_.ankle, leg));
        middle.z() -= down;
        pose_.set(Landmark::leftHip, middle + half * line);
        pose_.set(Landmark::rightHip, middle - half * line);
        pose_.pelvisFront = facing(heading);
        pelvis_ = middle;
    }

    void trunk() {
        axes_.up =
            Vector(std::tan(radians(c_.trunkLean(t_))), std::tan(radians(c_.trunkSide(t_))), 1.0)
                .normalized();
        neck_ = pelvis_ + h_ * p_.trunk * axes_.up;
        const Vector heading = leftward(c_.thoraxHeading(t_));
        axes_.left = (heading - heading.dot(axes_.up) * axes_.up).normalized();
        axes_.front = axes_.up.cross(-axes_.left).normalized();
        const Vector trunkUp = axes_.up;
        const double tilt = radians(c_.shoulderTilt(t_));
        const Vector level = axes_.left;
        axes_.left = std::cos(tilt) * level + std::sin(tilt) * trunkUp;
        axes_.up = std::cos(tilt) * trunkUp - std::sin(tilt) * level;
        pose_.chest = axes_.front;
        pose_.set(Landmark::leftShoulder, neck_ + h_ * p_.halfShoulders * axes_.left);
        pose_.set(Landmark::rightShoulder, neck_ - h_ * p_.halfShoulders * axes_.left);

        const double lookUp = radians(c_.headPitch(t_));
        const Vector look =
            std::cos(lookUp) * facing(c_.headHeading(t_)) + std::sin(lookUp) * Vector::UnitZ();
        const Vector upright = (trunkUp + Vector::UnitZ()).normalized();
        const Vector tipped = (upright - upright.dot(look) * look).normalized();
        // The neck takes a third of the head's tip.
        const Vector neckLine = (2.0 * upright + tipped).normalized();
        pose_.set(Landmark::head, neck_ + h_ * p_.shoulderToHead * neckLine);
        pose_.set(Landmark::headTop, pose_.at(Landmark::head) + h_ * p_.headToTop * tipped);
        pose_.face = look;
    }

    [[nodiscard]] Vector shaft() const {
        const Vector along = c_.shaft.at(t_);
        return along.norm() > 1e-9 ? Vector(along.normalized()) : Vector(Vector::UnitX());
    }

    /// A point of the trunk's frame, `out` to the side given.
    [[nodiscard]] Vector inTrunk(const Vector& outFrontUp, bool left) const {
        return neck_ + h_ * (outFrontUp.x() * (left ? axes_.left : Vector(-axes_.left)) +
                             outFrontUp.y() * axes_.front + outFrontUp.z() * axes_.up);
    }

    void implementByItself() {
        if (b_.implementLed == ImplementLed::byTrunkPoint) {
            Vector butt = inTrunk(c_.grip.at(t_), false);
            // Hands that would not reach draw it in.
            const double arm = 0.99 * h_ * (p_.upperArm + p_.forearm + p_.hand);
            for (int round = 0; round < 3; ++round) {
                for (const bool left : {true, false}) {
                    const ArmLed led = left ? b_.offArm : b_.mainArm;
                    if (led != ArmLed::onImplement) {
                        continue;
                    }
                    const double grip = (left ? c_.off.grip : c_.main.grip)(t_);
                    const Vector& shoulder =
                        pose_.at(left ? Landmark::leftShoulder : Landmark::rightShoulder);
                    const Vector span = butt + grip * shaft() - shoulder;
                    if (span.norm() > arm) {
                        butt -= (span.norm() - arm) * span.normalized();
                    }
                }
            }
            place(pose_, b_.implement, butt, shaft(), c_.face.at(t_));
        } else if (b_.implementLed == ImplementLed::byHeadPoint) {
            // Built at the origin first, to learn where its head comes to lie.
            place(pose_, b_.implement, Vector::Zero(), shaft(), c_.face.at(t_));
            const Vector butt = h_ * c_.tool.at(t_) - pose_.at(Landmark::implementHead);
            place(pose_, b_.implement, butt, shaft(), c_.face.at(t_));
        }
    }

    void arm(const SideChannels& side, ArmLed led, bool left) {
        const Vector shoulder = pose_.at(left ? Landmark::leftShoulder : Landmark::rightShoulder);
        const Vector outward = left ? axes_.left : Vector(-axes_.left);
        Vector elbow;
        Vector lower; // unit, elbow to hand
        if (led == ArmLed::byAngles) {
            const double raise = radians(side.raise(t_));
            const double forward = radians(side.forward(t_));
            const double turn = radians(side.turn(t_));
            const double bend = radians(side.bend(t_));
            const Vector level = std::cos(forward) * outward + std::sin(forward) * axes_.front;
            const Vector upper = std::sin(raise) * level - std::cos(raise) * axes_.up;
            const Vector ahead = -std::sin(forward) * outward + std::cos(forward) * axes_.front;
            const Vector above = std::cos(raise) * level + std::sin(raise) * axes_.up;
            elbow = shoulder + h_ * p_.upperArm * upper;
            lower = std::cos(bend) * upper +
                    std::sin(bend) * (std::cos(turn) * ahead + std::sin(turn) * above);
        } else {
            const Vector wanted =
                led == ArmLed::byHand
                    ? inTrunk(side.hand.at(t_), left)
                    : Vector(pose_.at(Landmark::implementButt) + side.grip(t_) * shaft());
            const double point = radians(side.elbow(t_));
            const Vector pole =
                -std::cos(point) * axes_.up + std::sin(point) * outward - 0.25 * axes_.front;
            const TwoBones bones =
                reach(shoulder, wanted, h_ * p_.upperArm, h_ * (p_.forearm + p_.hand), pole);
            elbow = bones.middle;
            lower = (bones.end - bones.middle).normalized();
            missed_ = std::max(missed_, (bones.end - wanted).norm());
            if (led == ArmLed::onImplement) {
                pose_.grips[left ? 0 : 1] = true;
            }
        }
        if (!left && b_.implementLed == ImplementLed::byMainHand &&
            b_.implement.kind != ImplementKind::none) {
            pose_.grips[1] = true;
        }
        pose_.set(left ? Landmark::leftElbow : Landmark::rightElbow, elbow);
        pose_.set(left ? Landmark::leftWrist : Landmark::rightWrist,
                  elbow + h_ * p_.forearm * lower);
        pose_.set(left ? Landmark::leftHand : Landmark::rightHand,
                  elbow + h_ * (p_.forearm + p_.hand) * lower);
    }

    void legs() {
        leg(c_.off, offFoot_, true);
        leg(c_.main, mainFoot_, false);
    }

    void leg(const SideChannels& side, const FootPlace& foot, bool left) {
        // Knees bend the way the toes point, between foot and pelvis.
        const Vector pole = facing(side.footHeading(t_) + side.kneeTurn(t_)) +
                            0.5 * pose_.pelvisFront + 0.25 * Vector::UnitZ();
        const TwoBones bones = reach(pose_.at(left ? Landmark::leftHip : Landmark::rightHip),
                                     foot.ankle, h_ * p_.thigh, h_ * p_.shank, pole);
        const Vector moved = bones.end - foot.ankle;
        missed_ = std::max(missed_, standing(h_ * side.foot.z(t_)) * moved.norm());
        pose_.set(left ? Landmark::leftKnee : Landmark::rightKnee, bones.middle);
        pose_.set(left ? Landmark::leftAnkle : Landmark::rightAnkle, bones.end);
        // A foot in the air that the leg does not reach comes along.
        pose_.set(left ? Landmark::leftHeel : Landmark::rightHeel, foot.heel + moved);
        pose_.set(left ? Landmark::leftToe : Landmark::rightToe, foot.toe + moved);
    }

    const Channels& c_;
    const Body& b_;
    const Proportions& p_;
    double h_;
    double t_;
    Pose pose_;
    FootPlace mainFoot_;
    FootPlace offFoot_;
    Vector pelvis_;
    Vector neck_;
    Axes axes_;
    double missed_ = 0.0;
};

} // namespace

Body bodyOf(const MotionSheet& sheet, const Build& build) {
    return {build.heightM,   proportionsOf(build), implementFor(sheet.implementName, build.heightM),
            sheet.mainArm,   sheet.offArm,         sheet.implementLed,
            sheet.wearsGlove};
}

Pose poseOf(const Channels& channels, const Body& body, double time, double* outOfReach) {
    PoseBuilder builder(channels, body, time);
    Pose pose = builder.build();
    if (outOfReach != nullptr) {
        *outOfReach = builder.outOfReach();
    }
    return pose;
}

Vector ballPlace(const Pose& pose, const std::string& place, const Projectile& ball,
                 const Vector& palm) {
    if (place == "main_hand") {
        return pose.at(Landmark::rightHand);
    }
    if (place == "off_hand") {
        return pose.at(Landmark::leftHand) + ball.radiusM * Vector::UnitZ();
    }
    if (place == "both_hands") {
        return 0.5 * (pose.at(Landmark::leftHand) + pose.at(Landmark::rightHand));
    }
    if (place == "glove") {
        return pose.at(Landmark::glove);
    }
    if (place == "palm") {
        const Vector left =
            (pose.at(Landmark::leftShoulder) - pose.at(Landmark::rightShoulder)).normalized();
        const Vector up = pose.chest.cross(left);
        const Vector away = -palm.x() * left + palm.y() * pose.chest + palm.z() * up;
        return pose.at(Landmark::rightHand) + ball.radiusM * away.normalized();
    }
    if (place == "implement_head") {
        Vector at = pose.at(Landmark::implementHead) + ball.radiusM * pose.implementFace;
        if (ball.sliding) {
            constexpr double halfThickness = 0.0127; // m
            at.z() = halfThickness;
        }
        return at;
    }
    throw std::invalid_argument("a ball cannot be held at “" + place + "”");
}

} // namespace kestrel::synth
