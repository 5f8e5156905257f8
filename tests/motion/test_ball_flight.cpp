#include "motion/ball_flight.h"
#include "synth/flight.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;

namespace {

synth::Flight pitch(const synth::Vector& velocity) {
    return {synth::projectile("baseball"), synth::Vector(1.5, 0.0, 1.7), velocity, 0.0, 1.0};
}

double dragOf(std::string_view name) {
    const synth::Projectile& ball = synth::projectile(name);
    return motion::dragPerMetre(ball.massKg, 2.0 * ball.radiusM, ball.dragCoefficient);
}

std::vector<motion::BallSample> samplesOf(const synth::Flight& flight, double sd, double from,
                                          double to, double rate, std::mt19937& random) {
    std::normal_distribution<double> error(0.0, 1.0);
    std::vector<motion::BallSample> samples;
    for (double t = from; t <= to; t += 1.0 / rate) {
        const synth::Vector at = flight.at(t);
        samples.push_back(
            {t, {at.x() + sd * error(random), at.z() + sd * error(random)}, std::max(sd, 1e-4)});
    }
    return samples;
}

} // namespace

/// Flights against those of the synthetic film, which are integrated by code of their own.
class TestBallFlight : public QObject {
    Q_OBJECT
  private slots:
    void findsTheFlightThatWas() {
        const synth::Flight truth = pitch({33.0, 0.0, -0.8});
        std::mt19937 random(1);
        const auto samples = samplesOf(truth, 0.0, 0.01, 0.10, 240.0, random);
        const auto flight = motion::fitFlight(samples, dragOf("baseball"), 0.0);
        QVERIFY(flight.has_value());
        QVERIFY(std::abs(flight->velocity.x() - 33.0) < 0.02);
        QVERIFY(std::abs(flight->velocity.y() + 0.8) < 0.02);
        QVERIFY((flight->place - Eigen::Vector2d(1.5, 1.7)).norm() < 0.002);
        // Carried on to the plate, it is where the ball is.
        const auto time = motion::timeToGo(*flight, 15.5);
        QVERIFY(time.has_value());
        QVERIFY2(std::abs(truth.at(*time).x() - 17.0) < 0.02, qPrintable(QString::number(*time)));
        QVERIFY(std::abs(motion::after(*flight, *time).place.y() - truth.at(*time).z()) < 0.02);
        QVERIFY(std::abs(motion::after(*flight, *time).velocity.x() - truth.velocityAt(*time).x()) <
                0.05);
    }

    /// A slow ball is bent by gravity, a light one stopped by the air.
    void slowAndLightBalls_data() {
        QTest::addColumn<QString>("ball");
        QTest::addColumn<double>("speed");
        QTest::addColumn<double>("angle");
        QTest::newRow("jump shot") << "basketball" << 8.5 << 52.0;
        QTest::newRow("table tennis") << "table_tennis_ball" << 14.0 << 8.0;
        QTest::newRow("serve") << "tennis_ball" << 45.0 << -6.0;
    }

    void slowAndLightBalls() {
        QFETCH(QString, ball);
        QFETCH(double, speed);
        QFETCH(double, angle);
        const std::string name = ball.toStdString();
        const double radians = angle * M_PI / 180.0;
        const synth::Flight truth(
            synth::projectile(name), synth::Vector(0.0, 0.0, 2.0),
            synth::Vector(speed * std::cos(radians), 0.0, speed * std::sin(radians)), 0.0, 0.5,
            -5.0);
        std::mt19937 random(2);
        const auto flight =
            motion::fitFlight(samplesOf(truth, 0.0, 0.0, 0.12, 120.0, random), dragOf(name), 0.0);
        QVERIFY(flight.has_value());
        QVERIFY(std::abs(flight->velocity.norm() - speed) < 0.01 * speed);
        const double found = std::atan2(flight->velocity.y(), flight->velocity.x());
        QVERIFY2(std::abs(found - radians) < 0.01, qPrintable(QString::number(found)));
    }

    /// The stated covariance is that of many noisy flights.
    void statedDoubtIsThatOfManyFlights() {
        const synth::Flight truth = pitch({33.0, 0.0, -0.8});
        std::mt19937 random(3);
        constexpr int rounds = 400;
        double square = 0.0;
        double stated = 0.0;
        for (int i = 0; i < rounds; ++i) {
            const auto samples = samplesOf(truth, 0.01, 0.01, 0.12, 120.0, random);
            const auto flight = motion::fitFlight(samples, dragOf("baseball"), 0.0);
            QVERIFY(flight.has_value());
            square += std::pow(flight->velocity.x() - 33.0, 2);
            stated += flight->covariance(2, 2);
        }
        const double ratio = std::sqrt(stated / square);
        // Scatter above the stated deviations widens the statement, scatter below does not narrow
        // it, so that it lies a little above the truth.
        QVERIFY2(ratio > 0.95 && ratio < 1.25, qPrintable(QString::number(ratio)));
    }

    void refusesTooLittle() {
        std::mt19937 random(4);
        const auto samples = samplesOf(pitch({33.0, 0.0, 0.0}), 0.0, 0.0, 0.02, 120.0, random);
        QVERIFY(samples.size() < motion::fewestFlightSamples);
        QVERIFY(!motion::fitFlight(samples, 0.0, 0.0));
        const std::vector<motion::BallSample> still(5);
        QVERIFY(!motion::fitFlight(still, 0.0, 0.0));
        // A ball thrown straight up never gets there.
        motion::BallFlight up;
        up.velocity = {0.0, 5.0};
        QVERIFY(!motion::timeToGo(up, 3.0));
    }
};

QTEST_GUILESS_MAIN(TestBallFlight)
#include "test_ball_flight.moc"
