#include "support/motions.h"

#include <cmath>

using namespace kestrel;
using synth::Vector;

/// Balls and pucks must fly as gravity and drag have it.
class TestFlight : public QObject {
    Q_OBJECT
  private slots:
    void dragAgreesWithAnotherIntegration_data();
    void dragAgreesWithAnotherIntegration();
    void withoutAirItIsAParabola();
    void bounceKeepsItsShare();
    void reachesWhereItIsSent();
    void everyFlightOfEveryMotionIsOne_data() { support::motionRows(); }
    void everyFlightOfEveryMotionIsOne();
};

namespace {

/// Acceleration from the formulas of a text book, not from the library: drag ½ρC_dAv²/m, ρ 1.2
/// kg/m³.
Vector fall(const synth::Projectile& ball, const Vector& v) {
    const double area = M_PI * ball.radiusM * ball.radiusM;
    const double drag = 0.5 * 1.2 * ball.dragCoefficient * area / ball.massKg;
    return Vector(0, 0, -9.81) - drag * v.norm() * v;
}

/// Euler–Richardson (midpoint) in steps of 10 µs.
Vector placeAfter(const synth::Projectile& ball, Vector place, Vector velocity, double seconds) {
    constexpr double step = 1e-5;
    const auto steps = static_cast<int>(std::lround(seconds / step));
    for (int i = 0; i < steps; ++i) {
        const Vector middle = velocity + 0.5 * step * fall(ball, velocity);
        place += step * middle;
        velocity += step * fall(ball, middle);
    }
    return place;
}

} // namespace

void TestFlight::dragAgreesWithAnotherIntegration_data() {
    QTest::addColumn<QString>("ball");
    QTest::addColumn<double>("speed");
    QTest::newRow("pitch") << "baseball" << 40.0;
    QTest::newRow("softball") << "softball" << 28.0;
    QTest::newRow("serve") << "tennis_ball" << 55.0;
    QTest::newRow("squash") << "squash_ball" << 40.0;
    QTest::newRow("table tennis") << "table_tennis_ball" << 15.0;
    QTest::newRow("shot") << "basketball" << 9.0;
    QTest::newRow("float serve") << "volleyball" << 16.0;
}

void TestFlight::dragAgreesWithAnotherIntegration() {
    QFETCH(QString, ball);
    QFETCH(double, speed);
    const synth::Projectile& projectile = synth::projectile(ball.toStdString());
    const Vector start(0.3, -0.2, 50.0); // high, so that nothing bounces
    const Vector velocity = speed * Vector(0.9, 0.1, 0.42).normalized();
    const synth::Flight flight(projectile, start, velocity, 0.1, 1.5);
    for (const double after : {0.05, 0.4437, 1.0, 1.49}) {
        const Vector want = placeAfter(projectile, start, velocity, after);
        QVERIFY((flight.at(0.1 + after) - want).norm() < 0.001);
    }
}

void TestFlight::withoutAirItIsAParabola() {
    synth::Projectile stone = synth::projectile("baseball");
    stone.dragCoefficient = 0.0;
    const Vector start(1, 2, 30);
    const Vector v(12, -3, 8);
    const synth::Flight flight(stone, start, v, 0.0, 1.2);
    for (const double t : {0.1, 0.777, 1.2}) {
        const Vector want = start + t * v + 0.5 * t * t * Vector(0, 0, -9.81);
        QVERIFY((flight.at(t) - want).norm() < 1e-6);
    }
    const synth::Flight before(stone, start, v, 0.0, -0.5);
    QVERIFY((before.at(-0.4) - (start - 0.4 * v + 0.08 * Vector(0, 0, -9.81))).norm() < 1e-6);
}

void TestFlight::bounceKeepsItsShare() {
    synth::Projectile stone = synth::projectile("tennis_ball");
    stone.dragCoefficient = 0.0;
    const double drop = 1.0;
    const synth::Flight flight(stone, {0, 0, stone.radiusM + drop}, {2, 0, 0}, 0.0, 1.5, 0.0, 0.7);
    double highest = 0.0;
    for (double t = std::sqrt(2 * drop / 9.81) + 0.01; t < 1.2; t += 0.001) {
        highest = std::max(highest, flight.at(t).z() - stone.radiusM);
    }
    QVERIFY(std::abs(highest - 0.49 * drop) < 0.02); // height goes with the square of the speed
}

void TestFlight::reachesWhereItIsSent() {
    const synth::Projectile& ball = synth::projectile("tennis_ball");
    const Vector from(0, 0, 1.2);
    const Vector to(0.3, -0.1, 2.6);
    const Vector v = synth::velocityToReach(ball, from, to, 0.9);
    QVERIFY((placeAfter(ball, from, v, 0.9) - to).norm() < 0.001);
}

void TestFlight::everyFlightOfEveryMotionIsOne() {
    // Wherever the sheet says that the ball flies, its acceleration is that of the text book, and
    // it is where it was let go, struck or caught at the moment of the hand-over.
    const synth::PlayerMotion motion(support::playerOfRow());
    if (motion.ball() == nullptr) {
        return;
    }
    const auto variant = motion.sheet().variants.find(motion.spec().variant);
    const bool own = variant != motion.sheet().variants.end() && !variant->second.ball.empty();
    double from = motion.begin();
    for (const synth::BallPhase& phase : own ? variant->second.ball : motion.sheet().ball) {
        const double to = phase.until.empty() ? motion.end() : motion.keyTimes().at(phase.until);
        const auto at = [&](double t) {
            return motion.rightHandedPose(t).at(model::Landmark::ball);
        };
        if (from > motion.begin() && to < motion.end()) {
            QVERIFY2((at(to + 1e-6) - at(to - 1e-6)).norm() < 0.001, phase.until.c_str());
        }
        if (phase.kind != synth::BallPhase::Kind::held &&
            phase.kind != synth::BallPhase::Kind::pass && !motion.ball()->sliding) {
            constexpr double step = 0.004;
            const bool arrives = phase.kind == synth::BallPhase::Kind::arrive;
            const double first = arrives && phase.lasts > 0.0 ? to - phase.lasts : from;
            const double last =
                !arrives && phase.lasts > 0.0 ? std::min(to, from + phase.lasts) : to;
            for (double t = first + 0.02; t + 0.02 < last; t += 0.037) {
                const Vector second = (at(t + step) - 2 * at(t) + at(t - step)) / (step * step);
                const Vector want = fall(*motion.ball(), motion.ballVelocity(t));
                const bool bounces = (second - want).norm() > 20.0 &&
                                     at(t).z() < 6 * motion.ball()->radiusM + phase.floor;
                QVERIFY2(bounces || (second - want).norm() < 1.0, qPrintable(QString::number(t)));
            }
        }
        from = to;
    }
}

QTEST_GUILESS_MAIN(TestFlight)
#include "test_flight.moc"
