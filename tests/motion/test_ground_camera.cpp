#include "motion/ground_camera.h"
#include "support/coverage.h"
#include "synth/camera.h"

#include <QTest>

#include <array>
#include <cmath>
#include <random>

using namespace kestrel;
using Eigen::Vector2d;
using model::Point2;

namespace {

constexpr int width = 1920;
constexpr int height = 1080;
constexpr double clickSd = 1.5;

/// The synthetic film's camera, whose projection is its own code.
synth::Camera filmed(synth::CameraSpec spec) {
    synth::Subject subject;
    subject.heightM = 1.7;
    return synth::cameraAt(spec, width, height, subject, 0.0);
}

Point2 seen(const synth::Camera& camera, const Vector2d& place, double up = 0.0) {
    return *camera.project(synth::Vector(place.x(), place.y(), up));
}

std::vector<motion::GroundMark> marked(const synth::Camera& camera,
                                       const std::vector<Vector2d>& places, double sd,
                                       std::mt19937& random) {
    std::normal_distribution<double> error(0.0, 1.0);
    std::vector<motion::GroundMark> marks;
    for (const Vector2d& place : places) {
        const Point2 px = seen(camera, place);
        marks.push_back({place, px + Point2{sd * error(random), sd * error(random)}});
    }
    return marks;
}

std::vector<Vector2d> rectangle(double x0, double y0, double along, double across) {
    return {{x0, y0}, {x0, y0 + across}, {x0 + along, y0 + across}, {x0 + along, y0}};
}

synth::CameraSpec from(model::View view, double heightM = 0.0, double distanceM = 12.0) {
    synth::CameraSpec spec;
    spec.view = view;
    spec.heightM = heightM;
    spec.distanceM = distanceM;
    return spec;
}

} // namespace

/// The camera over the ground against the synthetic film's camera.
class TestGroundCamera : public QObject {
    Q_OBJECT
  private slots:
    void exactMarksGiveTheCamera_data() {
        QTest::addColumn<int>("view");
        QTest::addColumn<double>("around");
        QTest::addColumn<double>("roll");
        QTest::addColumn<double>("up");
        QTest::newRow("open side") << static_cast<int>(model::View::openSide) << 0.0 << 0.0 << 1.0;
        QTest::newRow("closed side")
            << static_cast<int>(model::View::closedSide) << 0.0 << 0.0 << 1.5;
        QTest::newRow("front") << static_cast<int>(model::View::front) << 10.0 << 0.0 << 1.8;
        QTest::newRow("rear, rolled") << static_cast<int>(model::View::rear) << 0.0 << 2.0 << 2.5;
        QTest::newRow("between") << static_cast<int>(model::View::openSide) << 40.0 << -1.0 << 1.2;
        QTest::newRow("overhead") << static_cast<int>(model::View::overhead) << 0.0 << 0.0 << 0.0;
    }

    /// Nothing but the prior knowledge of cameras pulls then; it must not pull far.
    void exactMarksGiveTheCamera() {
        QFETCH(int, view);
        QFETCH(double, around);
        QFETCH(double, roll);
        QFETCH(double, up);
        synth::CameraSpec spec = from(static_cast<model::View>(view), up);
        spec.aroundDeg = around;
        spec.rollDeg = roll;
        const synth::Camera camera = filmed(spec);
        std::mt19937 random(1);
        const auto marks = marked(camera, rectangle(-1.0, -1.0, 3.0, 2.0), 0.0, random);
        const bool above = static_cast<model::View>(view) == model::View::overhead;
        const auto result = motion::fitGroundCamera(marks, width, height, 0.05, above);
        QVERIFY(result.fit.has_value());
        QVERIFY2(result.fit->residualPx < 0.05,
                 qPrintable(QString::number(result.fit->residualPx)));
        for (const Vector2d& place :
             {Vector2d(0.5, 0.3), Vector2d(1.6, -0.7), Vector2d(-0.6, 0.8)}) {
            const auto at = result.fit->camera.onGround(seen(camera, place));
            QVERIFY(at.has_value());
            QVERIFY2((*at - place).norm() < 0.01,
                     qPrintable(QString("%1 %2").arg(at->x()).arg(at->y())));
        }
        if (static_cast<model::View>(view) != model::View::overhead) {
            QVERIFY(std::abs(result.fit->camera.roll().value - roll) < 0.3);
            // The horizon is where far ground is seen, straight ahead of the camera.
            synth::Vector ahead = camera.forward;
            ahead.z() = 0.0;
            const auto far = camera.project(camera.position + 1e6 * ahead.normalized());
            QVERIFY(result.fit->camera.horizonY().has_value());
            QVERIFY2(std::abs(*result.fit->camera.horizonY() - far->y) < 6.0,
                     qPrintable(QString::number(*result.fit->camera.horizonY() - far->y)));
        }
    }

    void distancesAreRightAndTheirDoubtHonest_data() {
        QTest::addColumn<int>("view");
        QTest::addColumn<double>("up");
        QTest::addColumn<double>("distance");
        QTest::addColumn<double>("along");
        QTest::addColumn<double>("across");
        QTest::addColumn<bool>("acrossToo");
        QTest::newRow("cones 3 m by 2 m, side") << 0 << 1.6 << 10.0 << 3.0 << 2.0 << true;
        QTest::newRow("cones 2 m by 1 m, side, low") << 0 << 1.0 << 12.0 << 2.0 << 1.0 << false;
        QTest::newRow("cones 3 m by 2 m, front") << 2 << 2.0 << 10.0 << 3.0 << 2.0 << true;
        QTest::newRow("cones 3 m by 2 m, rear") << 3 << 2.0 << 10.0 << 3.0 << 2.0 << true;
        QTest::newRow("half a service box, high") << 3 << 4.0 << 14.0 << 5.0 << 4.0 << true;
    }

    /// Marked with a coach's hand: distances within the marks within 3 cm or 2 % (root mean
    /// square), the stated deviation right on the whole.
    void distancesAreRightAndTheirDoubtHonest() {
        QFETCH(int, view);
        QFETCH(double, up);
        QFETCH(double, distance);
        QFETCH(double, along);
        QFETCH(double, across);
        QFETCH(bool, acrossToo);
        const std::array views{model::View::openSide, model::View::closedSide, model::View::front,
                               model::View::rear};
        const synth::Camera camera =
            filmed(from(views.at(static_cast<std::size_t>(view)), up, distance));
        const auto places = rectangle(-0.3 * along, -0.5 * across, along, across);
        std::mt19937 random(7);
        std::uniform_real_distribution<double> share(0.05, 0.95);
        std::normal_distribution<double> error(0.0, 1.0);
        double square = 0.0;
        double relativeSquare = 0.0;
        int inside = 0;
        constexpr int rounds = 150;
        for (int round = 0; round < rounds; ++round) {
            const auto marks = marked(camera, places, clickSd, random);
            const auto result = motion::fitGroundCamera(marks, width, height, clickSd);
            QVERIFY(result.fit.has_value());
            const auto spot = [&](bool sameLine, const Vector2d& other) {
                Vector2d p = places[0] + Vector2d(share(random) * along, share(random) * across);
                if (sameLine) {
                    p.y() = other.y();
                }
                return p;
            };
            const Vector2d from = spot(false, {});
            const Vector2d to = spot(!acrossToo, from);
            const double truth = (to - from).norm();
            const std::array clicks{
                seen(camera, from) + Point2{clickSd * error(random), clickSd * error(random)},
                seen(camera, to) + Point2{clickSd * error(random), clickSd * error(random)}};
            const auto measured = [&](const motion::GroundCamera& c, Point2 a, Point2 b) {
                return (*c.onGround(b) - *c.onGround(a)).norm();
            };
            const double value = measured(result.fit->camera, clicks[0], clicks[1]);
            double variance = 0.0;
            for (int i = 0; i < 8; ++i) {
                const auto moved = motion::changed(result.fit->camera, result.fit->spread.col(i));
                variance += std::pow(measured(moved, clicks[0], clicks[1]) - value, 2);
            }
            for (const Point2 d : {Point2{clickSd, 0.0}, Point2{0.0, clickSd}}) {
                variance +=
                    std::pow(measured(result.fit->camera, clicks[0] + d, clicks[1]) - value, 2);
                variance +=
                    std::pow(measured(result.fit->camera, clicks[0], clicks[1] + d) - value, 2);
            }
            square += std::pow(value - truth, 2);
            relativeSquare += std::pow((value - truth) / truth, 2);
            inside += std::abs(value - truth) <= 1.96 * std::sqrt(variance) ? 1 : 0;
        }
        const double rms = std::sqrt(square / rounds);
        const double relative = std::sqrt(relativeSquare / rounds);
        const double covered = static_cast<double>(inside) / rounds;
        qInfo("rms %.1f cm, %.1f %%, %.0f %% inside their interval", 100.0 * rms, 100.0 * relative,
              100.0 * covered);
        QVERIFY(rms < 0.03 || relative < 0.02);
        QVERIFY2(covered >= 0.90 && covered <= 0.995, qPrintable(QString::number(covered)));
    }

    void aBentLensIsSeen() {
        synth::CameraSpec spec = from(model::View::rear, 2.0, 5.0);
        spec.bodyFraction = 0.25; // wide
        spec.distortion = -0.12;
        const synth::Camera camera = filmed(spec);
        std::vector<Vector2d> places;
        for (const double x : {-1.5, 0.0, 2.0, 5.0}) {
            for (const double y : {-2.5, 0.0, 2.5}) {
                places.emplace_back(x, y);
            }
        }
        std::mt19937 random(3);
        const auto result = motion::fitGroundCamera(marked(camera, places, clickSd, random), width,
                                                    height, clickSd);
        QVERIFY(result.fit.has_value());
        QVERIFY2(std::abs(result.fit->camera.distortion - spec.distortion) < 0.05,
                 qPrintable(QString::number(result.fit->camera.distortion)));
    }

    void theUprightPlaneGivesHeights() {
        const synth::Camera camera = filmed(from(model::View::openSide, 1.2, 10.0));
        std::mt19937 random(5);
        const auto result = motion::fitGroundCamera(
            marked(camera, rectangle(-1.0, -1.0, 3.0, 2.0), 0.2, random), width, height, 0.2);
        QVERIFY(result.fit.has_value());
        const auto at = result.fit->camera.onUprightPlane(seen(camera, {1.2, 0.4}, 1.5), {0.0, 0.4},
                                                          {1.0, 0.0});
        QVERIFY(at.has_value());
        QVERIFY2(std::abs(at->x() - 1.2) < 0.03, qPrintable(QString::number(at->x())));
        QVERIFY2(std::abs(at->y() - 1.5) < 0.05, qPrintable(QString::number(at->y())));
        // Looking along a plane tells nothing of it.
        QVERIFY(!result.fit->camera.onUprightPlane(seen(camera, {0.5, 0.4}, 1.0), {0.5, 0.4},
                                                   {0.0, 1.0}));
    }

    /// A lens that bends more than most: four marks in the middle hardly show it, the top of a
    /// fence and the far side line do.
    void straightEdgesTellTheLens() {
        synth::CameraSpec spec = from(model::View::openSide, 1.6, 6.0);
        spec.distortion = -0.06;
        spec.bodyFraction = 0.4; // a wide picture
        const synth::Camera camera = filmed(spec);
        std::mt19937 random(31);
        std::normal_distribution<double> error(0.0, clickSd);
        const auto edge = [&](double y, double up) {
            std::vector<Point2> points;
            for (double x = -8.0; x <= 8.0; x += 1.0) {
                const Point2 px = seen(camera, {x, y}, up);
                if (px.x > 0.0 && px.x < width && px.y > 0.0 && px.y < height) {
                    points.push_back(px + Point2{error(random), error(random)});
                }
            }
            return points;
        };
        double without = 0.0;
        double with = 0.0;
        int inside = 0;
        constexpr int draws = 60;
        for (int i = 0; i < draws; ++i) {
            const auto marks = marked(camera, rectangle(-1.0, -1.0, 3.0, 2.0), clickSd, random);
            const std::vector<std::vector<Point2>> edges{edge(2.0, 3.0), edge(-1.5, 0.0)};
            QVERIFY(edges[0].size() >= 5 && edges[1].size() >= 5);
            const auto plain = motion::fitGroundCamera(marks, width, height, clickSd).fit;
            const auto told =
                motion::fitGroundCamera(marks, width, height, clickSd, false, edges).fit;
            QVERIFY(plain && told);
            without += std::pow(plain->camera.distortion - spec.distortion, 2);
            const double miss = told->camera.distortion - spec.distortion;
            with += miss * miss;
            inside += std::abs(miss) <= 1.96 * told->spread.row(7).norm() ? 1 : 0;
        }
        qInfo("lens off by %.4f without edges, %.4f with; %d of %d inside",
              std::sqrt(without / draws), std::sqrt(with / draws), inside, draws);
        QVERIFY(with < 0.25 * without);
        VERIFY_COVERAGE("distortion of a lens", inside, draws);
    }

    void refusesWhatTellsNothing() {
        const synth::Camera camera = filmed(from(model::View::openSide, 1.2, 10.0));
        std::mt19937 random(11);
        auto marks = marked(camera, rectangle(-1.0, -1.0, 3.0, 2.0), clickSd, random);
        using Why = motion::GroundRefusal::Why;
        const auto why = [](std::span<const motion::GroundMark> m) {
            const auto result = motion::fitGroundCamera(m, width, height, clickSd);
            return result.refusal ? std::optional(result.refusal->why) : std::nullopt;
        };
        QCOMPARE(why(std::span(marks).first(3)), std::optional(Why::tooFewMarks));
        const auto line =
            marked(camera, {{0.0, 0.0}, {0.5, 0.0}, {1.0, 0.0}, {1.5, 0.0}}, clickSd, random);
        QCOMPARE(why(line), std::optional(Why::onOneLine));
        std::swap(marks[0].px, marks[1].px); // mixed up: the rectangle crosses itself
        QCOMPARE(why(marks), std::optional(Why::doesNotMatch));
        // Nothing is on the ground above the horizon.
        std::swap(marks[0].px, marks[1].px);
        const auto fit = motion::fitGroundCamera(marks, width, height, clickSd).fit;
        QVERIFY(fit.has_value());
        QVERIFY(!fit->camera.onGround({960.0, *fit->camera.horizonY() - 20.0}));
    }
};

QTEST_GUILESS_MAIN(TestGroundCamera)
#include "test_ground_camera.moc"
