#include "support/coverage.h"
#include "support/test_films.h"
#include "synth/flight.h"
#include "synth/placed_by_hand.h"
#include "words/words.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;
using model::Landmark;
using support::reading;

namespace {

constexpr double clickSd = 1.5;

synth::FilmSpec filmed(double aroundDeg, int number) {
    synth::FilmSpec spec = support::rightHander().spec;
    spec.width = 1920;
    spec.height = 1080;
    spec.captureRate = 240.0;
    spec.fileRate = {240, 1};
    spec.camera.aroundDeg = aroundDeg;
    spec.camera.bodyFraction = 0.35; // room for the ball
    spec.camera.heightM = 1.5;
    spec.player.seed = static_cast<std::uint32_t>(300 + number);
    spec.player.hand = number % 2 == 0 ? model::Hand::right : model::Hand::left;
    spec.player.build.heightM = 1.35 + 0.06 * (number % 7);
    return spec;
}

model::GroundMarks cones(const synth::FilmScene& scene, std::mt19937& random) {
    return synth::cones(scene, model::Metres(4.0), model::Metres(2.0), -1.0, -1.0, clickSd, random);
}

model::Rep placedRep(const synth::FilmSpec& spec, std::mt19937& random) {
    model::Rep rep = synth::placedRep(spec, clickSd, random);
    for (auto& [frame, points] : rep.landmarks) {
        // What leaves the picture cannot be placed.
        const auto ball = points.find(Landmark::ball);
        if (ball != points.end() && (ball->second.px.x < 0.0 || ball->second.px.x > spec.width)) {
            points.erase(ball);
        }
    }
    return rep;
}

technique::Circumstances circumstances(const synth::FilmSpec& spec) {
    technique::Circumstances c = support::openSide(spec);
    c.bodyHeight = model::Metres(spec.player.build.heightM);
    c.ageYears = 15;
    return c;
}

} // namespace

/// The ball's flight read off the picture, against its flight in space.
class TestBallReadings : public QObject {
    Q_OBJECT
  private slots:
    void speedsHoldTheTruth_data() {
        QTest::addColumn<bool>("ground");
        QTest::addColumn<double>("around");
        QTest::addColumn<double>("bar");
        QTest::newRow("square, from the player's height") << false << 0.0 << 0.03;
        QTest::newRow("square, from the ground") << true << 0.0 << 0.03;
        QTest::newRow("10° off, from the ground") << true << 10.0 << 0.05;
        QTest::newRow("20° off, from the ground") << true << 20.0 << 0.05;
    }

    void speedsHoldTheTruth() {
        QFETCH(bool, ground);
        QFETCH(double, around);
        QFETCH(double, bar);
        std::mt19937 random(23);
        double square = 0.0;
        double most = 0.0;
        double timeSquare = 0.0;
        double launchSquare = 0.0;
        int within = 0;
        constexpr int films = 20;
        for (int number = 0; number < films; ++number) {
            const synth::FilmSpec spec = filmed(around, number);
            const synth::FilmScene scene(spec);
            const model::Rep rep = placedRep(spec, random);
            technique::Circumstances c = circumstances(spec);
            if (ground) {
                c.ground = technique::groundOf(support::pitchPack(), cones(scene, random),
                                               spec.width, spec.height, spec.camera.view)
                               .ground;
                QVERIFY(c.ground.has_value());
            }
            const auto readings = technique::evaluate(support::pitchPack(), rep, c);
            const model::Reading& speed = reading(readings, "ball_speed");
            QVERIFY2(speed.value.has_value(),
                     speed.missing ? words::plain(speed.missing->why).c_str() : "no value");
            const double released = scene.frameTime(rep.positions.at("release"));
            const synth::Vector v = scene.motion().ballVelocity(std::max(released, 1e-3));
            const double truth = 3.6 * v.norm();
            const double miss = *speed.value / truth - 1.0;
            square += miss * miss;
            most = std::max(most, std::abs(miss));
            within += std::abs(*speed.value - truth) <= speed.u95 ? 1 : 0;
            const model::Reading& launch = reading(readings, "ball_launch");
            QVERIFY(launch.value.has_value());
            launchSquare += std::pow(
                *launch.value - 180.0 / M_PI * std::atan2(v.z(), std::hypot(v.x(), v.y())), 2);
            // When the film's ball crosses the front edge of the plate.
            const model::Reading& time = reading(readings, "ball_time");
            QVERIFY(time.value.has_value());
            const synth::Flight flight(synth::projectile("baseball"),
                                       scene.motion().pose(released).at(Landmark::ball), v,
                                       released, 1.0, -5.0);
            double crosses = released;
            while (flight.at(crosses).x() < 18.01) {
                crosses += 1e-3;
            }
            timeSquare += std::pow(*time.value - 1000.0 * (crosses - released), 2);
        }
        const double rms = std::sqrt(square / films);
        qInfo(
            "speed rms %.1f %%, most %.1f %%, %d of %d inside; launch rms %.1f°, time rms %.0f ms",
            100.0 * rms, 100.0 * most, within, films, std::sqrt(launchSquare / films),
            std::sqrt(timeSquare / films));
        QVERIFY2(rms <= bar, qPrintable(QString::number(rms)));
        VERIFY_COVERAGE(QString("speed of a thrown ball, ") + QTest::currentDataTag(), within,
                        films);
        QVERIFY(std::sqrt(launchSquare / films) < 1.5);
    }

    /// A bat held up beside the player, of 84 cm, tells the scale where nobody said how tall the
    /// player is and nothing is marked on the ground.
    void aKnownLengthTellsTheScale() {
        std::mt19937 random(41);
        std::normal_distribution<double> click(0.0, clickSd);
        constexpr double bat = 0.84;
        constexpr int films = 12;
        double square = 0.0;
        int within = 0;
        for (int number = 0; number < films; ++number) {
            const synth::FilmSpec spec = filmed(0.0, number);
            const synth::FilmScene scene(spec);
            const model::Rep rep = placedRep(spec, random);
            technique::Circumstances c = circumstances(spec);
            c.bodyHeight.reset();
            model::GroundMarks marks;
            marks.placeId = technique::knownLength;
            marks.alongM = model::Metres(bat);
            const synth::Camera camera = scene.steadyCamera();
            const auto seen = [&](double x) {
                return *camera.project({x, 0.0, 1.0}) + model::Point2{click(random), click(random)};
            };
            marks.points = {{technique::lengthBegins, seen(-0.2)},
                            {technique::lengthEnds, seen(bat - 0.2)}};
            c.scale = technique::scaleOf(marks);
            QVERIFY(c.scale.has_value());
            const model::Reading speed =
                reading(technique::evaluate(support::pitchPack(), rep, c), "ball_speed");
            QVERIFY2(speed.value.has_value(),
                     speed.missing ? words::plain(speed.missing->why).c_str() : "no value");
            const double released = scene.frameTime(rep.positions.at("release"));
            const double truth = 3.6 * scene.motion().ballVelocity(std::max(released, 1e-3)).norm();
            square += std::pow(*speed.value / truth - 1.0, 2);
            within += std::abs(*speed.value - truth) <= speed.u95 ? 1 : 0;
            // It is no ground.
            QVERIFY(!technique::groundOf(support::pitchPack(), marks, spec.width, spec.height,
                                         spec.camera.view)
                         .ground);
        }
        const double rms = std::sqrt(square / films);
        qInfo("speed rms %.1f %%, %d of %d inside", 100.0 * rms, within, films);
        QVERIFY2(rms < 0.04, qPrintable(QString::number(rms)));
        QVERIFY(within >= films - 1);
        // A ball of seven pixels, or one end only, tells nothing.
        model::GroundMarks small;
        small.placeId = technique::knownLength;
        small.alongM = model::Metres(0.073);
        small.points = {{technique::lengthBegins, {100.0, 100.0}}};
        QVERIFY(!technique::scaleOf(small));
        small.points[technique::lengthEnds] = {107.0, 100.0};
        QVERIFY(!technique::scaleOf(small));
    }

    void refusesWhatItCannotTell() {
        const synth::FilmSpec spec = filmed(0.0, 0);
        std::mt19937 random(2);
        model::Rep rep = placedRep(spec, random);
        technique::Circumstances c = circumstances(spec);
        const auto read = [&] {
            return reading(technique::evaluate(support::pitchPack(), rep, c), "ball_speed");
        };
        QVERIFY(read().value.has_value());
        c.bodyHeight.reset();
        QCOMPARE(read().missing->kind, model::MissingReason::Kind::groundUnknown);
        c = circumstances(spec);
        c.captureRateKnown = false;
        QCOMPARE(read().missing->kind, model::MissingReason::Kind::captureRateUnknown);
        c = circumstances(spec);
        const int release = rep.positions.at("release");
        // One place that is no ball's spoils the flight, and that is said.
        rep.landmarks.at(release + 6).at(Landmark::ball).px.y += 300.0;
        QCOMPARE(read().missing->kind, model::MissingReason::Kind::degenerate);
        for (int frame = release + 4; frame < release + 60; ++frame) {
            rep.landmarks[frame].erase(Landmark::ball);
        }
        QCOMPARE(read().missing->kind, model::MissingReason::Kind::landmarkNotPlaced);
    }

    /// The distance to the batter follows the player's age where the ground does not tell it.
    void childrenThrowFromCloser() {
        const synth::FilmSpec spec = filmed(0.0, 0);
        std::mt19937 random(4);
        const model::Rep rep = placedRep(spec, random);
        technique::Circumstances c = circumstances(spec);
        const auto time = [&] {
            return *reading(technique::evaluate(support::pitchPack(), rep, c), "ball_time").value;
        };
        const double grown = time();
        c.ageYears = 11;
        const double child = time();
        QVERIFY2(child < 0.85 * grown, qPrintable(QString::number(child / grown)));
        // Letting go one metre closer is worth that metre at the ball's last speed.
        c = circumstances(spec);
        const model::Reading closer =
            reading(technique::evaluate(support::pitchPack(), rep, c), "ball_closer");
        QVERIFY(closer.value.has_value());
        QVERIFY2(*closer.value > 1000.0 / 40.0 && *closer.value < 1000.0 / 25.0,
                 qPrintable(QString::number(*closer.value)));
    }
};

QTEST_GUILESS_MAIN(TestBallReadings)
#include "test_ball_readings.moc"
