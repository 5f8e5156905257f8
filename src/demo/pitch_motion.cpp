#include "demo/pitch_motion.h"

#include "model/units.h"

#include <boost/math/interpolators/pchip.hpp>
#include <boost/math/tools/minima.hpp>
#include <boost/math/tools/roots.hpp>

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <functional>
#include <random>
#include <vector>

namespace kestrel::demo {
namespace {

using model::Landmark;

double radians(double degrees) {
    return model::toRadians(model::Degrees(degrees));
}

struct Key {
    double time;
    double value;
};

/// One channel: a shape-preserving cubic (no overshoot) through its keys, held constant outside.
class Channel {
  public:
    explicit Channel(const std::vector<Key>& keys)
        : first_(keys.front().time), last_(keys.back().time), curve_(make(keys)) {}

    double operator()(double t) const { return curve_(std::clamp(t, first_, last_)); }

  private:
    using Curve = boost::math::interpolators::pchip<std::vector<double>>;

    static Curve make(const std::vector<Key>& keys) {
        std::vector<double> times;
        std::vector<double> values;
        for (const Key& key : keys) {
            times.push_back(key.time);
            values.push_back(key.value);
        }
        return {std::move(times), std::move(values)};
    }

    double first_;
    double last_;
    Curve curve_;
};

/// Shoulder and elbow angles in degrees in the thorax frame: `raise` from hanging (0) through level
/// with the shoulders (90); `forward` of the shoulder line; `turn` of the forearm about the upper
/// arm (0 forwards, 90 up, 180 back); `bend` of the elbow.
struct ArmChannels {
    Channel raise;
    Channel forward;
    Channel turn;
    Channel bend;
};

struct PointChannels {
    Channel x;
    Channel y;
    Channel z;

    [[nodiscard]] Vector at(double t) const { return {x(t), y(t), z(t)}; }
};

// Key times, seconds from release. Foot plant to release: 0.145 s is usual in skilled pitchers
// (Fleisig et al. 1999 and others).
constexpr double setEnd = -1.35;
constexpr double liftTop = -0.85;
constexpr double goes = -0.74;
constexpr double handsPart = -0.70;
constexpr double stride = -0.36;
constexpr double armDown = -0.33;
constexpr double plant = -0.15;
constexpr double layBack = -0.03;
constexpr double release = 0.0;
constexpr double extended = 0.03;
constexpr double decelerated = 0.12;
constexpr double finish = 0.32;
constexpr double balanceEnds = 1.02;
constexpr double steppedOut = 1.25;

} // namespace

struct PitchMotion::Curves {
    PointChannels pelvis;
    Channel pelvisHeading;
    Channel pelvisTilt;
    Channel trunkLean;
    Channel trunkSideLean;
    Channel thoraxHeading;
    Channel faceHeading;
    PointChannels leadAnkle;
    PointChannels trailAnkle;
    Channel leadFootHeading;
    Channel trailFootHeading;
    Channel trailFootPitch;
    ArmChannels throwing;
    ArmChannels glove;
};

PitchMotion::PitchMotion(const PitcherSpec& spec) : spec_(spec) {
    // Rep-to-rep variation: small, independent, reproducible.
    std::mt19937 random(spec.seed);
    const auto vary = [&](double sd) {
        return spec.seed == 0 ? 0.0 : std::normal_distribution<double>(0.0, sd)(random);
    };
    const PitchDials& d = spec.dials;
    const double sink = d.backLegDropBh;
    const double late = d.lateArmMs / 1000.0;
    const double armUp = plant + late;
    const double laidBack = std::max(layBack, armUp + 0.02);
    const double upright = d.uprightFinishDeg;
    const double stridePlus = vary(0.012);
    const double leanPlus = vary(1.5);
    const double bendPlus = vary(2.0);
    const double kneePlus = vary(0.005);

    // Positions in body heights, angles in degrees.
    curves_ = std::make_unique<Curves>(Curves{
        .pelvis =
            {Channel({{setEnd, 0.07},
                      {liftTop, 0.02},
                      {goes, 0.02},
                      {stride, 0.26},
                      {plant, 0.51},
                      {layBack, 0.605},
                      {release, 0.643},
                      {finish, 0.75},
                      {balanceEnds, 0.76},
                      {steppedOut, 0.93}}),
             Channel(
                 {{setEnd, 0.0}, {liftTop, 0.0}, {plant, 0.01}, {finish, 0.03}, {steppedOut, 0.0}}),
             Channel({{setEnd, 0.516},
                      {liftTop, 0.522},
                      {goes, 0.520},
                      {stride, 0.492 - sink},
                      {plant, 0.392 - 0.25 * sink + kneePlus},
                      {layBack, 0.422},
                      {release, 0.447},
                      {finish, 0.435},
                      {balanceEnds, 0.44},
                      {steppedOut, 0.48}})},
        .pelvisHeading = Channel({{setEnd, 0},
                                  {liftTop, -16},
                                  {goes, -16},
                                  {stride, 4},
                                  {plant, 45},
                                  {layBack, 80},
                                  {release, 86},
                                  {finish, 98},
                                  {steppedOut, 92}}),
        .pelvisTilt = Channel({{setEnd, 0},
                               {liftTop, 8},
                               {goes, 8},
                               {stride, 3},
                               {plant, 0},
                               {release, -3},
                               {finish, -6},
                               {steppedOut, 0}}),
        .trunkLean = Channel({{setEnd, -2},
                              {liftTop, -3},
                              {stride, -10},
                              {plant, -2},
                              {layBack, 25 - 0.6 * upright},
                              {release, 40 - upright + leanPlus},
                              {decelerated, 56 - upright},
                              {finish, 71 - 1.6 * upright},
                              {balanceEnds, 65 - 1.6 * upright},
                              {steppedOut, 25}}),
        .trunkSideLean = Channel(
            {{setEnd, 0}, {plant, 1}, {layBack, 13}, {release, 19}, {finish, 14}, {steppedOut, 0}}),
        .thoraxHeading = Channel({{setEnd, 0},
                                  {liftTop, -10},
                                  {stride, -8},
                                  {plant, 7},
                                  {layBack, 82},
                                  {release, 101},
                                  {decelerated, 116},
                                  {finish, 126},
                                  {steppedOut, 95}}),
        .faceHeading = Channel({{setEnd, 70},
                                {liftTop, 78},
                                {plant, 84},
                                {release, 92},
                                {finish, 95},
                                {steppedOut, 90}}),
        .leadAnkle = {Channel({{setEnd, 0.27},
                               {liftTop, 0.20},
                               {goes, 0.20},
                               {stride, 0.53},
                               {plant, 0.83 + stridePlus},
                               {steppedOut, 0.83 + stridePlus}}),
                      Channel({{setEnd, 0.0},
                               {liftTop, -0.20},
                               {goes, -0.20},
                               {stride, -0.05},
                               {plant, -0.005},
                               {steppedOut, -0.005}}),
                      Channel({{setEnd, 0.039},
                               {liftTop, 0.345},
                               {goes, 0.342},
                               {stride, 0.13},
                               {plant, 0.039},
                               {steppedOut, 0.039}})},
        .trailAnkle = {Channel({{stride, 0.0},
                                {plant, 0.035},
                                {release, 0.14},
                                {decelerated, 0.32},
                                {finish, 0.58},
                                {0.55, 0.72},
                                {balanceEnds, 0.72},
                                {steppedOut, 0.95}}),
                       Channel({{stride, 0.0},
                                {plant, 0.0},
                                {release, -0.02},
                                {finish, -0.20},
                                {0.55, -0.27},
                                {balanceEnds, -0.27},
                                {steppedOut, -0.25}}),
                       Channel({{stride, 0.039},
                                {plant, 0.10},
                                {release, 0.15},
                                {decelerated, 0.22},
                                {finish, 0.14},
                                {0.55, 0.039},
                                {balanceEnds, 0.039},
                                {1.14, 0.10},
                                {steppedOut, 0.06}})},
        .leadFootHeading = Channel(
            {{setEnd, -80}, {liftTop, -70}, {stride, -40}, {plant, -12}, {steppedOut, -12}}),
        .trailFootHeading =
            Channel({{stride, -90}, {plant, -72}, {release, -35}, {finish, 0}, {steppedOut, 5}}),
        .trailFootPitch = Channel({{stride, 0},
                                   {plant, 33},
                                   {release, 48},
                                   {decelerated, 55},
                                   {finish, 30},
                                   {0.55, 0},
                                   {steppedOut, 10}}),
        .throwing = {Channel({{handsPart, 30},
                              {-0.55, 28},
                              {armDown + 0.6 * late, 58},
                              {armUp, 90},
                              {laidBack, 93},
                              {release, 96},
                              {extended, 94},
                              {decelerated, 82},
                              {finish, 58},
                              {steppedOut, 30}}),
                     Channel({{handsPart, 40},
                              {-0.55, 5},
                              {armDown + 0.6 * late, -28},
                              {armUp, -14},
                              {laidBack, 4},
                              {release, 14},
                              {extended, 34},
                              {decelerated, 62},
                              {finish, 108},
                              {steppedOut, 50}}),
                     Channel({{handsPart, -5},
                              {-0.55, -30},
                              {armDown + 0.6 * late, -55},
                              {armUp, 80},
                              {laidBack, 168},
                              {release, 118},
                              {extended, 74},
                              {decelerated, 40},
                              {finish, 10},
                              {steppedOut, 0}}),
                     Channel({{handsPart, 120},
                              {-0.55, 60},
                              {armDown + 0.6 * late, 48},
                              {armUp, 88 + bendPlus},
                              {laidBack, 92},
                              {release, 36},
                              {extended, 13},
                              {decelerated, 20},
                              {finish, 18},
                              {steppedOut, 60}})},
        .glove = {Channel({{handsPart, 30},
                           {-0.50, 62},
                           {stride, 80},
                           {plant, 76},
                           {layBack, 44},
                           {release, 36},
                           {finish, 28},
                           {steppedOut, 30}}),
                  Channel({{handsPart, 40},
                           {-0.50, 22},
                           {stride, 14},
                           {plant, 16},
                           {release, 16},
                           {finish, 10},
                           {steppedOut, 30}}),
                  Channel({{handsPart, -5},
                           {-0.50, 40},
                           {stride, 74},
                           {plant, 60},
                           {release, 10},
                           {finish, 0},
                           {steppedOut, 0}}),
                  Channel({{handsPart, 120},
                           {-0.50, 95},
                           {stride, 76 + bendPlus},
                           {plant, 84},
                           {layBack, 122},
                           {release, 128},
                           {finish, 120},
                           {steppedOut, 80}})}});
    findEvents();
}

PitchMotion::~PitchMotion() = default;
PitchMotion::PitchMotion(PitchMotion&&) noexcept = default;
PitchMotion& PitchMotion::operator=(PitchMotion&&) noexcept = default;

namespace {

/// A horizontal direction: 0° along the chest-facing start (−y), 90° to the target (+x).
Vector facing(double headingDeg) {
    return {std::sin(radians(headingDeg)), -std::cos(radians(headingDeg)), 0.0};
}

/// From the trail side to the lead side of a line with that heading.
Vector leadward(double headingDeg) {
    return {std::cos(radians(headingDeg)), std::sin(radians(headingDeg)), 0.0};
}

struct Arm {
    Vector elbow;
    Vector wrist;
    Vector hand;
};

Arm armAt(const ArmChannels& channels, double t, const Vector& shoulder, const Vector& outward,
          const Vector& front, const Vector& up, const Proportions& p) {
    const double raise = radians(channels.raise(t));
    const double forward = radians(channels.forward(t));
    const double turn = radians(channels.turn(t));
    const double bend = radians(channels.bend(t));
    const Vector level = std::cos(forward) * outward + std::sin(forward) * front;
    const Vector upper = std::sin(raise) * level - std::cos(raise) * up;
    const Vector ahead = -std::sin(forward) * outward + std::cos(forward) * front;
    const Vector above = std::cos(raise) * level + std::sin(raise) * up;
    const Vector lower =
        std::cos(bend) * upper + std::sin(bend) * (std::cos(turn) * ahead + std::sin(turn) * above);
    Arm arm;
    arm.elbow = shoulder + p.upperArm * upper;
    arm.wrist = arm.elbow + p.forearm * lower;
    arm.hand = arm.wrist + p.hand * lower;
    return arm;
}

struct Foot {
    Vector heel;
    Vector toe;
};

Foot footAt(const Vector& ankle, double headingDeg, double pitchDeg, const Proportions& p) {
    const Vector level(std::cos(radians(headingDeg)), std::sin(radians(headingDeg)), 0.0);
    const double pitch = radians(pitchDeg);
    const Vector forward = std::cos(pitch) * level - std::sin(pitch) * Vector::UnitZ();
    const Vector down = -std::cos(pitch) * Vector::UnitZ() - std::sin(pitch) * level;
    const Vector sole = ankle + p.ankleHeight * down;
    return {sole - p.heelBehindAnkle * forward, sole + p.toeAheadOfAnkle * forward};
}

} // namespace

Pose PitchMotion::rightHanded(double t) const {
    const Curves& c = *curves_;
    const Proportions p;
    Pose pose;
    const Vector pelvis = c.pelvis.at(t);
    const double pelvisHeading = c.pelvisHeading(t);
    const double tilt = radians(c.pelvisTilt(t));
    const Vector hipLine =
        std::cos(tilt) * leadward(pelvisHeading) + std::sin(tilt) * Vector::UnitZ();
    pose.at(Landmark::leftHip) = pelvis + p.halfHips * hipLine;
    pose.at(Landmark::rightHip) = pelvis - p.halfHips * hipLine;
    pose.pelvisFront = facing(pelvisHeading);

    const Vector up =
        Vector(std::tan(radians(c.trunkLean(t))), std::tan(radians(c.trunkSideLean(t))), 1.0)
            .normalized();
    const Vector neck = pelvis + p.trunk * up;
    const Vector heading = leadward(c.thoraxHeading(t));
    const Vector shoulderLine = (heading - heading.dot(up) * up).normalized();
    const Vector front = up.cross(-shoulderLine).normalized();
    pose.chest = front;
    pose.at(Landmark::leftShoulder) = neck + p.halfShoulders * shoulderLine;
    pose.at(Landmark::rightShoulder) = neck - p.halfShoulders * shoulderLine;

    const Vector headUp = (up + Vector::UnitZ()).normalized();
    pose.at(Landmark::head) = neck + p.shoulderToHead * headUp;
    pose.at(Landmark::headTop) = pose.at(Landmark::head) + p.headToTop * headUp;
    const Vector gaze = facing(c.faceHeading(t));
    pose.face = (gaze - gaze.dot(headUp) * headUp).normalized();

    const Arm throwing =
        armAt(c.throwing, t, pose.at(Landmark::rightShoulder), -shoulderLine, front, up, p);
    pose.at(Landmark::rightElbow) = throwing.elbow;
    pose.at(Landmark::rightWrist) = throwing.wrist;
    pose.at(Landmark::rightHand) = throwing.hand;
    const Arm glove =
        armAt(c.glove, t, pose.at(Landmark::leftShoulder), shoulderLine, front, up, p);
    pose.at(Landmark::leftElbow) = glove.elbow;
    pose.at(Landmark::leftWrist) = glove.wrist;
    pose.at(Landmark::leftHand) = glove.hand;

    const double leadHeading = c.leadFootHeading(t);
    const double trailHeading = c.trailFootHeading(t);
    // Knees bend the way the toes point, between foot and pelvis.
    const auto kneePole = [&](double footHeading) {
        const Vector toes(std::cos(radians(footHeading)), std::sin(radians(footHeading)), 0.0);
        return Vector(toes + 0.5 * pose.pelvisFront + 0.25 * Vector::UnitZ());
    };
    // The back knee drives inwards, towards the target, as the hips ride forward.
    const double drive = std::clamp((t - goes) / (stride - goes), 0.0, 1.0);
    const TwoBones lead = reach(pose.at(Landmark::leftHip), c.leadAnkle.at(t), p.thigh, p.shank,
                                kneePole(leadHeading));
    pose.at(Landmark::leftKnee) = lead.middle;
    pose.at(Landmark::leftAnkle) = lead.end;
    const TwoBones trail = reach(pose.at(Landmark::rightHip), c.trailAnkle.at(t), p.thigh, p.shank,
                                 kneePole(trailHeading) + 1.2 * drive * Vector::UnitX());
    pose.at(Landmark::rightKnee) = trail.middle;
    pose.at(Landmark::rightAnkle) = trail.end;
    const double leadPitch =
        120.0 * std::max(0.0, lead.end.z() - p.ankleHeight) * (t < plant ? 1.0 : 0.0);
    const Foot leadFoot = footAt(lead.end, leadHeading, std::min(leadPitch, 25.0), p);
    pose.at(Landmark::leftHeel) = leadFoot.heel;
    pose.at(Landmark::leftToe) = leadFoot.toe;
    const Foot trailFoot = footAt(trail.end, trailHeading, c.trailFootPitch(t), p);
    pose.at(Landmark::rightHeel) = trailFoot.heel;
    pose.at(Landmark::rightToe) = trailFoot.toe;
    pose.at(Landmark::ball) = throwing.hand;
    return pose;
}

Pose PitchMotion::pose(double t) const {
    const double time = std::clamp(t, begin, end);
    Pose pose = rightHanded(time);
    for (Vector& point : pose.points) {
        point *= spec_.heightM;
    }
    pose.ballHeld = time <= release;
    if (!pose.ballHeld) {
        // In flight: straight to the target at a youth's fastball speed, falling under gravity.
        constexpr double speed = 24.0;
        constexpr double gravity = 9.81;
        const Vector from = spec_.heightM * rightHanded(release).at(Landmark::ball);
        pose.at(Landmark::ball) = from + Vector(speed * time, 0.0, -0.5 * gravity * time * time);
    }
    return spec_.hand == model::Hand::right ? pose : mirrored(pose);
}

void PitchMotion::findEvents() {
    const auto height = [&](Landmark landmark) {
        return [this, landmark](double t) { return rightHanded(t).at(landmark).z(); };
    };
    const auto highest = [](const std::function<double(double)>& f, double from, double to) {
        constexpr int bits = 40;
        return boost::math::tools::brent_find_minima([&](double t) { return -f(t); }, from, to,
                                                     bits)
            .first;
    };
    const auto crossing = [](const std::function<double(double)>& f, double from, double to) {
        const boost::math::tools::eps_tolerance<double> close(40);
        std::uintmax_t steps = 100;
        const auto bracket = boost::math::tools::toms748_solve(f, from, to, close, steps);
        return 0.5 * (bracket.first + bracket.second);
    };
    // "The first frame in which … moves": a movement the eye can tell, 0.5 % of height.
    constexpr double visible = 0.005;
    const auto knee = height(Landmark::leftKnee);
    const double top = highest(knee, setEnd, handsPart);
    const double topHeight = knee(top);
    const double hipsAtRest = curves_->pelvis.x(goes);
    const auto handGap = [this](double t) {
        const Pose pose = rightHanded(t);
        return (pose.at(Landmark::rightWrist) - pose.at(Landmark::leftWrist)).norm();
    };
    const double handsTogether = handGap(handsPart);
    const double laidBack =
        highest([this](double t) { return curves_->throwing.turn(t); }, plant, release);
    events_ = {
        {"set", setEnd},
        {"lift_top", top},
        {"hips_start",
         crossing([&](double t) { return curves_->pelvis.x(t) - hipsAtRest - visible; }, goes,
                  stride)},
        {"leg_start",
         crossing([&](double t) { return topHeight - visible - knee(t); }, top, stride)},
        {"hands_part", crossing([&](double t) { return handGap(t) - handsTogether - 4 * visible; },
                                handsPart, stride)},
        {"stride", stride},
        {"foot_plant", plant},
        {"lay_back", laidBack},
        {"release", release},
        {"finish", finish},
        {"balance_end",
         crossing([&](double t) { return curves_->trailAnkle.z(t) - 0.039 - visible; }, balanceEnds,
                  1.14)},
    };
}

} // namespace kestrel::demo
