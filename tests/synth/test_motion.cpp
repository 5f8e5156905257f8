#include "support/motions.h"

#include <algorithm>
#include <cmath>

using namespace kestrel;
using model::Landmark;
using synth::Vector;

/// The synthetic player must be a body and move like one, in every technique.
class TestMotion : public QObject {
    Q_OBJECT
  private slots:
    void bonesKeepTheirLength_data() { support::motionRows(); }
    void bonesKeepTheirLength();
    void handsAndFeetReachTheirPlace_data() { support::motionRows(); }
    void handsAndFeetReachTheirPlace();
    void nothingSinksIntoTheGround_data() { support::motionRows(); }
    void nothingSinksIntoTheGround();
    void plantedFeetDoNotSlide_data() { support::motionRows(); }
    void plantedFeetDoNotSlide();
    void movesWithoutJumps_data() { support::motionRows(); }
    void movesWithoutJumps();
    void positionsComeInOrder_data() { support::motionRows(); }
    void positionsComeInOrder();
    void jointsStayInTheirLimits_data() { support::motionRows(); }
    void jointsStayInTheirLimits();
    void whatIsHeldStaysInTheHands_data() { support::motionRows(); }
    void whatIsHeldStaysInTheHands();
    void leftHandersAreMirrored_data() { support::motionRows(); }
    void leftHandersAreMirrored();
    void proportionsAddUpToTheHeight();
    void childrenAreBuiltLikeChildren();
    void centreOfMassLiesInTheBody();
    void bodyInTheAirFallsFreely();
    void repsDifferALittle();
    void beginnersShowTheirFaults();
    void playersHaveTheirOwnManner();
};

void TestMotion::bonesKeepTheirLength() {
    const synth::PlayerMotion motion(support::playerOfRow());
    const double h = motion.heightM();
    const synth::Proportions& p = motion.proportions();
    const std::vector<std::tuple<Landmark, Landmark, double>> bones{
        {Landmark::leftHip, Landmark::leftKnee, p.thigh},
        {Landmark::leftKnee, Landmark::leftAnkle, p.shank},
        {Landmark::rightHip, Landmark::rightKnee, p.thigh},
        {Landmark::rightKnee, Landmark::rightAnkle, p.shank},
        {Landmark::rightShoulder, Landmark::rightElbow, p.upperArm},
        {Landmark::rightElbow, Landmark::rightWrist, p.forearm},
        {Landmark::leftShoulder, Landmark::leftElbow, p.upperArm},
        {Landmark::leftElbow, Landmark::leftWrist, p.forearm},
        {Landmark::leftHip, Landmark::rightHip, 2 * p.halfHips},
        {Landmark::leftShoulder, Landmark::rightShoulder, 2 * p.halfShoulders},
        {Landmark::head, Landmark::headTop, p.headToTop}};
    for (double t = motion.begin(); t <= motion.end(); t += 0.01) {
        const synth::Pose pose = motion.pose(t);
        for (const auto& [from, to, fraction] : bones) {
            const double length = (pose.at(to) - pose.at(from)).norm();
            QVERIFY2(std::abs(length - fraction * h) < 1e-3 * fraction * h,
                     qPrintable(QString("%1 at %2").arg(name(from).data()).arg(t)));
        }
        const auto middle = [&](Landmark a, Landmark b) {
            return Vector(0.5 * (pose.at(a) + pose.at(b)));
        };
        const double trunk = (middle(Landmark::leftShoulder, Landmark::rightShoulder) -
                              middle(Landmark::leftHip, Landmark::rightHip))
                                 .norm();
        QVERIFY(std::abs(trunk - p.trunk * h) < 1e-3 * p.trunk * h);
    }
}

void TestMotion::handsAndFeetReachTheirPlace() {
    const synth::PlayerMotion motion(support::playerOfRow());
    for (double t = motion.begin(); t <= motion.end(); t += 0.005) {
        constexpr double least = 0.03; // m, half a hand's breadth
        QVERIFY2(motion.outOfReach(t) < least,
                 qPrintable(QString("%1 m at %2").arg(motion.outOfReach(t)).arg(t)));
    }
}

void TestMotion::nothingSinksIntoTheGround() {
    const synth::PlayerMotion motion(support::playerOfRow());
    for (double t = motion.begin(); t <= motion.end(); t += 0.01) {
        const synth::Pose pose = motion.pose(t);
        for (const Landmark landmark : model::allLandmarks()) {
            if (pose.has(landmark)) {
                QVERIFY2(pose.at(landmark).z() > -0.005,
                         qPrintable(QString("%1 at %2: %3")
                                        .arg(name(landmark).data())
                                        .arg(t)
                                        .arg(pose.at(landmark).z())));
            }
        }
    }
}

void TestMotion::plantedFeetDoNotSlide() {
    // While heel and toe of a foot are both on the ground, neither moves more than 5 mm. Ice is
    // not ground to stand still on.
    const synth::PlayerMotion motion(support::playerOfRow());
    if (motion.sheet().place == "rink") {
        return;
    }
    bool stood = false;
    for (const auto& [heel, toe] : {std::pair{Landmark::leftHeel, Landmark::leftToe},
                                    std::pair{Landmark::rightHeel, Landmark::rightToe}}) {
        std::optional<std::pair<Vector, Vector>> planted;
        for (double t = motion.begin(); t <= motion.end(); t += 0.002) {
            const synth::Pose pose = motion.pose(t);
            constexpr double onGround = 0.001;
            if (pose.at(heel).z() > onGround || pose.at(toe).z() > onGround) {
                planted.reset();
            } else if (!planted) {
                planted = {pose.at(heel), pose.at(toe)};
            } else {
                stood = true;
                // A foot may turn on its heel or its ball; one end stays.
                const double moved = std::min((pose.at(heel) - planted->first).norm(),
                                              (pose.at(toe) - planted->second).norm());
                QVERIFY2(moved < 0.005, qPrintable(QString("%1 at %2: %3 mm")
                                                       .arg(name(heel).data())
                                                       .arg(t)
                                                       .arg(1000.0 * moved)));
            }
        }
    }
    QVERIFY(stood);
}

void TestMotion::movesWithoutJumps() {
    const synth::PlayerMotion motion(support::playerOfRow());
    constexpr double step = 0.002;
    for (double t = motion.begin(); t + step < motion.end(); t += step) {
        const synth::Pose a = motion.pose(t);
        const synth::Pose b = motion.pose(t + step);
        for (const Landmark landmark : model::allLandmarks()) {
            if (!a.has(landmark) || landmark == Landmark::ball) {
                continue;
            }
            // Hands of grown pitchers come near 35 m/s, racket heads of hard serves near 50; a jump
            // would be far beyond.
            const bool implement = landmark >= Landmark::implementButt;
            const double most = implement ? 55.0 : 40.0;
            const double speed = (b.at(landmark) - a.at(landmark)).norm() / step;
            QVERIFY2(speed < most,
                     qPrintable(
                         QString("%1 at %2: %3 m/s").arg(name(landmark).data()).arg(t).arg(speed)));
        }
    }
}

void TestMotion::positionsComeInOrder() {
    const synth::PlayerMotion motion(support::playerOfRow());
    const auto& positions = motion.sheet().positions;
    QVERIFY(positions.size() >= 4);
    for (std::size_t i = 1; i < positions.size(); ++i) {
        QVERIFY2(motion.events().at(positions[i - 1]) < motion.events().at(positions[i]),
                 positions[i].c_str());
    }
    QCOMPARE(motion.events().at(motion.sheet().anchor), 0.0);
    // Quiet before the first position and after the last, for reps to be told apart.
    QVERIFY(motion.events().at(positions.front()) > motion.begin());
    QVERIFY(motion.events().at(positions.back()) < motion.end());
}

void TestMotion::jointsStayInTheirLimits() {
    // Elbows and knees bend one way and not past what flesh allows (150° and 155°, American Academy
    // of Orthopaedic Surgeons 1965: elbow 150°, knee 135° unloaded, more in a squat).
    const synth::PlayerMotion motion(support::playerOfRow());
    const std::vector<std::array<Landmark, 3>> joints{
        {Landmark::leftShoulder, Landmark::leftElbow, Landmark::leftWrist},
        {Landmark::rightShoulder, Landmark::rightElbow, Landmark::rightWrist},
        {Landmark::leftHip, Landmark::leftKnee, Landmark::leftAnkle},
        {Landmark::rightHip, Landmark::rightKnee, Landmark::rightAnkle}};
    for (double t = motion.begin(); t <= motion.end(); t += 0.01) {
        const synth::Pose pose = motion.pose(t);
        for (const auto& [upper, joint, lower] : joints) {
            const double a = (pose.at(upper) - pose.at(joint)).norm();
            const double b = (pose.at(lower) - pose.at(joint)).norm();
            const double c = (pose.at(lower) - pose.at(upper)).norm();
            const double interior =
                std::acos(std::clamp((a * a + b * b - c * c) / (2 * a * b), -1.0, 1.0)) * 180.0 /
                M_PI;
            QVERIFY2(
                interior > 24.0,
                qPrintable(QString("%1 at %2: %3°").arg(name(joint).data()).arg(t).arg(interior)));
        }
        for (const auto& [knee, hip, ankle] :
             {std::tuple{Landmark::leftKnee, Landmark::leftHip, Landmark::leftAnkle},
              std::tuple{Landmark::rightKnee, Landmark::rightHip, Landmark::rightAnkle}}) {
            // Forwards is where the foot points or the pelvis faces; the knee is not behind both.
            const Vector straight = 0.5 * (pose.at(hip) + pose.at(ankle));
            const bool left = knee == Landmark::leftKnee;
            const Vector foot = pose.at(left ? Landmark::leftToe : Landmark::rightToe) -
                                pose.at(left ? Landmark::leftHeel : Landmark::rightHeel);
            const Vector out = pose.at(knee) - straight;
            QVERIFY2(out.dot(foot) > -0.05 || out.dot(pose.pelvisFront) > -0.05,
                     qPrintable(QString("%1 at %2").arg(name(knee).data()).arg(t)));
        }
    }
}

void TestMotion::whatIsHeldStaysInTheHands() {
    const synth::PlayerMotion motion(support::playerOfRow());
    const bool mainGrips = motion.sheet().mainArm == synth::ArmLed::onImplement ||
                           motion.sheet().implementLed == synth::ImplementLed::byMainHand;
    if (motion.implement().kind == synth::ImplementKind::none || !mainGrips) {
        return;
    }
    for (double t = motion.begin(); t <= motion.end(); t += 0.01) {
        const synth::Pose pose = motion.pose(t);
        // The hand lies on the line of the shaft.
        const Vector butt = pose.at(Landmark::implementButt);
        const Vector along = (pose.at(motion.implement().kind == synth::ImplementKind::stick
                                          ? Landmark::implementHead
                                          : Landmark::implementTip) -
                              butt)
                                 .normalized();
        const Vector hand = pose.at(Landmark::rightHand) - butt;
        if (motion.implement().kind != synth::ImplementKind::stick) {
            QVERIFY2((hand - hand.dot(along) * along).norm() < 0.03,
                     qPrintable(QString::number(t)));
        }
    }
}

void TestMotion::leftHandersAreMirrored() {
    synth::PlayerSpec spec = support::playerOfRow();
    const synth::PlayerMotion right(spec);
    spec.hand = model::Hand::left;
    const synth::PlayerMotion left(spec);
    for (const double t : {right.begin(), -0.15, 0.0, 0.05, right.end()}) {
        const synth::Pose r = right.pose(t);
        const synth::Pose l = left.pose(t);
        for (const Landmark landmark : model::allLandmarks()) {
            if (r.has(landmark)) {
                const Vector expected = r.at(landmark).cwiseProduct(Vector(1, -1, 1));
                QVERIFY((l.at(model::mirrored(landmark)) - expected).norm() < 1e-12);
            }
        }
    }
    QCOMPARE(left.quantities(), right.quantities());
}

void TestMotion::proportionsAddUpToTheHeight() {
    for (const synth::AgeBand band : {synth::AgeBand::under10, synth::AgeBand::under13,
                                      synth::AgeBand::under16, synth::AgeBand::adult}) {
        for (const synth::Sex sex : {synth::Sex::female, synth::Sex::male}) {
            const synth::Proportions p = synth::proportionsOf({1.4, band, sex});
            QVERIFY(std::abs(p.ankleHeight + p.shank + p.thigh + p.trunk + p.shoulderToHead +
                             p.headToTop - 1.0) < 1e-9);
        }
    }
}

void TestMotion::childrenAreBuiltLikeChildren() {
    const synth::Proportions child = synth::proportionsOf({1.3, synth::AgeBand::under10, {}});
    const synth::Proportions adult =
        synth::proportionsOf({1.8, synth::AgeBand::adult, synth::Sex::male});
    QVERIFY(child.thigh + child.shank < adult.thigh + adult.shank);
    QVERIFY(child.headToTop > adult.headToTop);
    const synth::Proportions woman =
        synth::proportionsOf({1.7, synth::AgeBand::adult, synth::Sex::female});
    QVERIFY(woman.halfShoulders < adult.halfShoulders);
    QVERIFY(woman.halfHips > adult.halfHips);
}

void TestMotion::centreOfMassLiesInTheBody() {
    // Standing upright with hanging arms it lies near 0.55 of the height (Winter 2009, about 0.56
    // for men, 0.54 for women).
    synth::Pose pose;
    const synth::Proportions p;
    for (const double side : {-1.0, 1.0}) {
        const bool left = side < 0;
        double z = p.ankleHeight;
        pose.set(left ? Landmark::leftAnkle : Landmark::rightAnkle, {side * p.halfHips, 0, z});
        pose.set(left ? Landmark::leftHeel : Landmark::rightHeel, {side * p.halfHips, 0.04, 0});
        pose.set(left ? Landmark::leftToe : Landmark::rightToe, {side * p.halfHips, -0.112, 0});
        pose.set(left ? Landmark::leftKnee : Landmark::rightKnee,
                 {side * p.halfHips, 0, z += p.shank});
        pose.set(left ? Landmark::leftHip : Landmark::rightHip,
                 {side * p.halfHips, 0, z += p.thigh});
        pose.set(left ? Landmark::leftShoulder : Landmark::rightShoulder,
                 {side * p.halfShoulders, 0, z += p.trunk});
        pose.set(Landmark::head, {0, 0, z + p.shoulderToHead});
        pose.set(Landmark::headTop, {0, 0, 1.0});
        pose.set(left ? Landmark::leftElbow : Landmark::rightElbow,
                 {side * p.halfShoulders, 0, z -= p.upperArm});
        pose.set(left ? Landmark::leftWrist : Landmark::rightWrist,
                 {side * p.halfShoulders, 0, z -= p.forearm});
        pose.set(left ? Landmark::leftHand : Landmark::rightHand,
                 {side * p.halfShoulders, 0, z - p.hand});
    }
    const Vector com = synth::centreOfMass(pose);
    QVERIFY(std::abs(com.z() - 0.55) < 0.015);
    QVERIFY(std::abs(com.x()) < 1e-12);
}

void TestMotion::bodyInTheAirFallsFreely() {
    // With both feet off the ground the centre of mass may only fall.
    int airborne = 0;
    for (const synth::PlayerSpec& spec : support::allMotions()) {
        const synth::PlayerMotion motion(spec);
        const auto lowest = [&](double t) {
            const synth::Pose pose = motion.pose(t);
            double z = 1e9;
            for (const Landmark l :
                 {Landmark::leftHeel, Landmark::leftToe, Landmark::rightHeel, Landmark::rightToe}) {
                z = std::min(z, pose.at(l).z());
            }
            return z;
        };
        // Stretches in the air of at least 0.2 s are flights.
        for (double t = motion.begin(); t < motion.end(); t += 0.01) {
            double until = t;
            while (until < motion.end() && lowest(until) > 0.005) {
                until += 0.005;
            }
            if (until - t > 0.2) {
                ++airborne;
                const double from = t + 0.02;
                const double to = until - 0.02;
                const auto height = [&](double when) {
                    return synth::centreOfMass(motion.pose(when)).z();
                };
                // Mean acceleration over the flight, from its chord.
                const double span = to - from;
                const double sag = height(0.5 * (from + to)) - 0.5 * (height(from) + height(to));
                const double gravity = 8.0 * sag / (span * span);
                QVERIFY2(std::abs(gravity - 9.81) < 0.3,
                         qPrintable(QString("%1 %2: %3 m/s² over %4 s")
                                        .arg(QString::fromStdString(spec.technique))
                                        .arg(t)
                                        .arg(gravity)
                                        .arg(span)));
            }
            t = std::max(t, until);
        }
    }
    qInfo("%d flights", airborne);
}

void TestMotion::repsDifferALittle() {
    synth::PlayerSpec one;
    one.seed = 1;
    synth::PlayerSpec other = one;
    other.seed = 2;
    const double a = synth::PlayerMotion(one).quantity("plant_stride_length");
    const double b = synth::PlayerMotion(other).quantity("plant_stride_length");
    QVERIFY(a != b);
    QVERIFY(std::abs(a - b) < 0.08);
    QCOMPARE(synth::PlayerMotion(one).quantity("plant_stride_length"), a);
}

void TestMotion::beginnersShowTheirFaults() {
    synth::PlayerSpec skilled;
    synth::PlayerSpec beginner;
    beginner.level = 0.0;
    const synth::PlayerMotion best(skilled);
    const synth::PlayerMotion worst(beginner);
    // Faults act on one another, so that not every one can be seen by its own amount; most can.
    int faults = 0;
    int seen = 0;
    for (const auto& [id, dial] : best.sheet().dials) {
        const double moved =
            dial.direction * (worst.quantity(dial.quantity) - best.quantity(dial.quantity));
        faults += dial.beginner > 0.0 ? 1 : 0;
        seen += dial.beginner > 0.0 && moved > 0.3 * dial.beginner ? 1 : 0;
    }
    QVERIFY(faults > 10);
    QVERIFY2(seen >= 0.75 * faults, qPrintable(QString("%1 of %2").arg(seen).arg(faults)));
}

/// Angles of players differ by some ten degrees, those of one player not at all; bones keep their
/// lengths.
void TestMotion::playersHaveTheirOwnManner() {
    synth::PlayerSpec spec;
    const std::string quantity = "plant_lead_knee";
    const double usual = synth::PlayerMotion(spec).quantity(quantity);
    std::vector<double> differences;
    for (std::uint32_t manner = 1; manner <= 12; ++manner) {
        spec.manner = manner;
        const synth::PlayerMotion motion(spec);
        differences.push_back(motion.quantity(quantity) - usual);
        QCOMPARE(synth::PlayerMotion(spec).quantity(quantity) - usual, differences.back());
        const synth::Pose pose = motion.pose(motion.events().at("foot_plant"));
        const double shank =
            (pose.at(model::Landmark::leftKnee) - pose.at(model::Landmark::leftAnkle)).norm();
        QVERIFY(std::abs(shank - motion.proportions().shank * motion.heightM()) < 1e-6);
    }
    double square = 0.0;
    for (const double difference : differences) {
        square += difference * difference;
    }
    const double rms = std::sqrt(square / static_cast<double>(differences.size()));
    constexpr double least = 4.0; // degrees
    constexpr double most = 20.0;
    QVERIFY2(rms > least && rms < most, qPrintable(QString::number(rms)));
}

QTEST_GUILESS_MAIN(TestMotion)
#include "test_motion.moc"
