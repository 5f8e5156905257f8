#include "support/motions.h"

#include <Eigen/Geometry>

#include <cmath>
#include <functional>

using namespace kestrel;
using model::Landmark;
using synth::Pose;
using synth::Vector;

/// Key positions must be where the coaching definition puts them, to a millisecond. Here every one
/// is looked for again by walking through the motion in steps of a tenth of a millisecond.
class TestEvents : public QObject {
    Q_OBJECT
  private slots:
    void agreeWithTheirDefinition_data();
    void agreeWithTheirDefinition();
    void everyPlayerHasThemAll_data();
    void everyPlayerHasThemAll();
    void plantToReleaseIsAsPublished();
    void ballLeavesTheHandAtRelease_data();
    void ballLeavesTheHandAtRelease();
    void ballTurnsAtContact_data();
    void ballTurnsAtContact();
};

namespace {

using Value = std::function<double(const Pose&)>;

enum class How { highest, lowest, firstBelow, firstAbove };

double search(const synth::PlayerMotion& motion, How how, double from, double to,
              const Value& value, double level) {
    constexpr double step = 1e-4;
    double best = from;
    double bestValue = value(motion.rightHandedPose(from));
    for (double t = from; t <= to; t += step) {
        const double v = value(motion.rightHandedPose(t));
        if ((how == How::firstBelow && v < level) || (how == How::firstAbove && v > level)) {
            return t;
        }
        if ((how == How::highest && v > bestValue) || (how == How::lowest && v < bestValue)) {
            best = t;
            bestValue = v;
        }
    }
    return best;
}

Value height(Landmark landmark) {
    return [landmark](const Pose& pose) { return pose.at(landmark).z(); };
}

Value sole(Landmark heel, Landmark toe) {
    return [heel, toe](const Pose& pose) { return std::min(pose.at(heel).z(), pose.at(toe).z()); };
}

const Value leftSole = sole(Landmark::leftHeel, Landmark::leftToe);
const Value rightSole = sole(Landmark::rightHeel, Landmark::rightToe);

double hipsHeight(const Pose& pose) {
    return 0.5 * (pose.at(Landmark::leftHip).z() + pose.at(Landmark::rightHip).z());
}

double hipsAhead(const Pose& pose) {
    return 0.5 * (pose.at(Landmark::leftHip).x() + pose.at(Landmark::rightHip).x());
}

/// How far the chest is turned from side-on through the target and beyond, degrees.
double chestTurn(const Pose& pose) {
    const double turn = std::atan2(pose.chest.x(), -pose.chest.y()) * 180.0 / M_PI;
    return turn < -90.0 ? turn + 360.0 : turn;
}

double shaftElevation(const Pose& pose) {
    const Vector shaft = pose.at(Landmark::implementTip) - pose.at(Landmark::implementButt);
    return std::atan2(shaft.z(), std::hypot(shaft.x(), shaft.y())) * 180.0 / M_PI;
}

/// Forearm turned back against the trunk in the plane of a side view.
double layBack(const Pose& pose) {
    const Vector forearm = pose.at(Landmark::rightWrist) - pose.at(Landmark::rightElbow);
    const Vector trunk = pose.at(Landmark::leftShoulder) + pose.at(Landmark::rightShoulder) -
                         pose.at(Landmark::leftHip) - pose.at(Landmark::rightHip);
    // Clockwise angle from forearm to trunk as seen from the open side, by the cross product.
    const double cross = forearm.z() * trunk.x() - forearm.x() * trunk.z();
    const double dot = forearm.x() * trunk.x() + forearm.z() * trunk.z();
    return std::atan2(cross, dot);
}

struct Definition {
    How how = How::highest;
    double from = 0.0;
    double to = 0.0;
    Value value;
    double level = 0.0;
};

constexpr double onGround = 0.0018; // m: a sole this low stands; about a thousandth of the height

} // namespace

Q_DECLARE_METATYPE(Definition)

void TestEvents::agreeWithTheirDefinition_data() {
    QTest::addColumn<std::string>("technique");
    QTest::addColumn<std::string>("event");
    QTest::addColumn<Definition>("definition");
    const auto row = [](const char* technique, const char* event, Definition definition) {
        QTest::newRow((std::string(technique) + " " + event).c_str())
            << std::string(technique) << std::string(event) << std::move(definition);
    };
    row("overhand_pitch", "lift_top", {How::highest, -1.3, -0.71, height(Landmark::leftKnee)});
    row("overhand_pitch", "foot_plant", {How::firstBelow, -0.35, -0.03, leftSole, onGround});
    row("overhand_pitch", "lay_back", {How::highest, -0.12, 0.0, layBack});
    row("windmill_pitch", "arm_top", {How::highest, -0.5, -0.11, height(Landmark::rightWrist)});
    row("windmill_pitch", "foot_plant", {How::firstBelow, -0.35, 0.0, leftSole, onGround});
    row("windmill_pitch", "hip_pass", {How::firstAbove, -0.1, 0.05, [](const Pose& pose) {
                                           return pose.at(Landmark::rightWrist).x() -
                                                  pose.at(Landmark::rightHip).x();
                                       }});
    row("bat_swing", "gather", {How::lowest, -1.2, -0.4, hipsAhead});
    row("bat_swing", "toe_touch",
        {How::firstBelow, -0.6, -0.2, height(Landmark::leftToe), onGround});
    row("bat_swing", "heel_plant",
        {How::firstBelow, -0.3, -0.1, height(Landmark::leftHeel), onGround});
    row("tennis_serve", "load", {How::lowest, -0.9, -0.2, hipsHeight});
    row("tennis_serve", "racket_drop", {How::lowest, -0.4, -0.06, height(Landmark::implementTip)});
    row("two_handed_backhand", "coil", {How::highest, -1.4, -0.35, chestTurn});
    row("two_handed_backhand", "step", {How::firstBelow, -0.5, 0.0, rightSole, onGround});
    row("squash_backhand_volley", "racket_under", {How::lowest, -0.5, 0.0, shaftElevation});
    row("table_tennis_forehand", "back_swing", {How::lowest, -0.6, 0.0, [](const Pose& pose) {
                                                    return pose.at(Landmark::implementHead).x();
                                                }});
    row("jump_shot", "dip", {How::lowest, -0.9, -0.4, height(Landmark::ball)});
    row("jump_shot", "jump_top",
        {How::highest, -0.1, 0.25, [](const Pose& pose) { return synth::centreOfMass(pose).z(); }});
    row("snap_shot", "puck_out", {How::lowest, -0.85, -0.2, [](const Pose& pose) {
                                      return pose.at(Landmark::implementHead).y();
                                  }});
    row("ground_ball_throw", "gain", {How::firstBelow, -0.8, -0.5, rightSole, onGround});
    row("ground_ball_throw", "plant", {How::firstBelow, -0.35, 0.0, leftSole, onGround});
    row("float_serve", "step", {How::firstBelow, -0.4, 0.0, leftSole, onGround});
}

void TestEvents::agreeWithTheirDefinition() {
    QFETCH(std::string, technique);
    QFETCH(std::string, event);
    QFETCH(Definition, definition);
    synth::PlayerSpec spec;
    spec.technique = technique;
    const synth::PlayerMotion motion(spec);
    const double found = search(motion, definition.how, definition.from, definition.to,
                                definition.value, definition.level);
    const double told = motion.events().at(event);
    QVERIFY2(std::abs(found - told) < 0.001,
             qPrintable(QString("told %1 s, found %2 s").arg(told).arg(found)));
}

void TestEvents::everyPlayerHasThemAll_data() {
    QTest::addColumn<QString>("technique");
    for (const std::string& technique : support::techniquesToStudy()) {
        QTest::newRow(technique.c_str()) << QString::fromStdString(technique);
    }
}

/// Also small beginners: a batter who is late gets the bat on plane after contact only.
void TestEvents::everyPlayerHasThemAll() {
    QFETCH(QString, technique);
    synth::PlayerSpec spec;
    spec.technique = technique.toStdString();
    const std::size_t all = synth::PlayerMotion(spec).events().size();
    spec.seed = 201;
    spec.build.heightM = 1.3;
    for (const double level : {0.0, 0.2, 0.4}) {
        spec.level = level;
        QCOMPARE(synth::PlayerMotion(spec).events().size(), all);
    }
}

void TestEvents::plantToReleaseIsAsPublished() {
    // About 0.145 s in skilled pitchers.
    const synth::PlayerMotion motion(synth::PlayerSpec{});
    QVERIFY(std::abs(motion.events().at("foot_plant") + 0.15) < 0.01);
}

void TestEvents::ballLeavesTheHandAtRelease_data() {
    QTest::addColumn<std::string>("technique");
    for (const char* technique : {"overhand_pitch", "windmill_pitch", "ground_ball_throw"}) {
        QTest::newRow(technique) << std::string(technique);
    }
}

void TestEvents::ballLeavesTheHandAtRelease() {
    QFETCH(std::string, technique);
    synth::PlayerSpec spec;
    spec.technique = technique;
    const synth::PlayerMotion motion(spec);
    const auto apart = [&](double t) {
        const Pose pose = motion.rightHandedPose(t);
        return (pose.at(Landmark::ball) - pose.at(Landmark::rightHand)).norm();
    };
    double left = -0.05;
    while (apart(left) < 1e-6) {
        left += 1e-4;
    }
    QVERIFY(std::abs(left - motion.events().at("release")) < 0.001);
}

void TestEvents::ballTurnsAtContact_data() {
    QTest::addColumn<std::string>("technique");
    for (const char* technique :
         {"bat_swing", "tennis_serve", "two_handed_backhand", "underspin_backhand",
          "squash_backhand_volley", "table_tennis_forehand", "table_tennis_backhand"}) {
        QTest::newRow(technique) << std::string(technique);
    }
}

void TestEvents::ballTurnsAtContact() {
    // The ball comes nearest to the sweet spot at contact, and it is then that it turns round.
    QFETCH(std::string, technique);
    synth::PlayerSpec spec;
    spec.technique = technique;
    const synth::PlayerMotion motion(spec);
    const auto ball = [&](double t) { return motion.rightHandedPose(t).at(Landmark::ball); };
    double turn = 0.0;
    double most = 0.0;
    for (double t = -0.05; t < 0.05; t += 1e-4) {
        const double change = (ball(t + 2e-4) - 2 * ball(t) + ball(t - 2e-4)).norm();
        if (change > most) {
            most = change;
            turn = t;
        }
    }
    QVERIFY2(std::abs(turn - motion.events().at("contact")) < 0.001,
             qPrintable(QString::number(turn)));
    const Pose pose = motion.rightHandedPose(0.0);
    QVERIFY((pose.at(Landmark::ball) - pose.at(Landmark::implementHead)).norm() <
            motion.ball()->radiusM + 0.002);
}

QTEST_GUILESS_MAIN(TestEvents)
#include "test_events.moc"
