#include "motion/camera_pair.h"
#include "motion/two_views.h"

#include <Eigen/Geometry>
#include <QTest>

#include <cmath>
#include <random>
#include <string>
#include <vector>

using namespace kestrel;
using Eigen::Vector3d;
using model::Point2;
using motion::CameraPair;
using motion::GroundCamera;
using motion::GroundFit;

namespace {

constexpr double clickSd = 1.5;

GroundCamera cameraAt(const Vector3d& position, const Vector3d& aim, double focalPx) {
    GroundCamera camera;
    camera.position = position;
    const Vector3d look = (aim - position).normalized();
    const Vector3d right = look.cross(Vector3d::UnitZ()).normalized();
    camera.axes.row(0) = right;
    camera.axes.row(1) = look.cross(right);
    camera.axes.row(2) = look;
    camera.focalPx = focalPx;
    camera.principal = {959.5, 539.5};
    return camera;
}

struct Scene {
    GroundCamera side = cameraAt({0.3, -9.0, 1.5}, {0.3, 0.0, 0.9}, 4200.0);
    GroundCamera front = cameraAt({10.0, 0.6, 2.0}, {0.3, 0.0, 0.9}, 4200.0);
    std::mt19937 random{23};
    std::normal_distribution<double> error{0.0, 1.0};

    Point2 off(Point2 px, double sd) {
        return {px.x + sd * error(random), px.y + sd * error(random)};
    }

    /// The camera as the corners of a rectangle on the ground tell it, marked by hand.
    GroundFit byGround(const GroundCamera& camera, double along = 2.4, double across = 2.0) {
        std::vector<motion::GroundMark> marks;
        for (const double x : {0.0, along}) {
            for (const double y : {-0.5 * across, 0.5 * across}) {
                marks.push_back({{x - 0.9, y}, off(*camera.inPicture({x - 0.9, y, 0.0}), clickSd)});
            }
        }
        return *motion::fitGroundCamera(marks, 1920, 1080, clickSd).fit;
    }

    Vector3d someSpot() {
        std::uniform_real_distribution<double> along(-0.6, 1.2);
        std::uniform_real_distribution<double> aside(-0.4, 0.4);
        std::uniform_real_distribution<double> up(0.05, 1.6);
        return {along(random), aside(random), up(random)};
    }

    /// Spots of a body that both cameras saw, clicked, `apartM` of each other from the two sides.
    std::vector<motion::SeenByBoth> body(int count, double apartM = 0.0) {
        std::vector<motion::SeenByBoth> spots;
        for (int i = 0; i < count; ++i) {
            const Vector3d spot = someSpot();
            const Vector3d other =
                spot + apartM * Vector3d(error(random), error(random), error(random));
            spots.push_back({off(*side.inPicture(spot), clickSd), clickSd,
                             off(*front.inPicture(other), clickSd), clickSd, 1});
        }
        return spots;
    }

    /// Root mean square distance of 50 places from where the pair tells them, seen without error.
    double placeError(const CameraPair& pair) {
        double square = 0.0;
        constexpr int places = 50;
        for (int i = 0; i < places; ++i) {
            const Vector3d spot = someSpot();
            const auto told = motion::placeSeenTwice({pair.first, *side.inPicture(spot), 1.0},
                                                     {pair.second, *front.inPicture(spot), 1.0});
            square += (*told - spot).squaredNorm() / places;
        }
        return std::sqrt(square);
    }
};

} // namespace

/// Two cameras calibrated from the ground and from the body, against the cameras that saw them.
class TestCameraPair : public QObject {
    Q_OBJECT
  private slots:
    /// What the body adds, most where only something small is marked: places come out nearer to
    /// where they are.
    void bodyMakesThePairBetter_data() {
        QTest::addColumn<double>("along");
        QTest::addColumn<double>("across");
        QTest::addColumn<double>("most"); // error with the body over that without
        QTest::newRow("four cones") << 2.4 << 2.0 << 1.0;
        QTest::newRow("a plate") << 0.43 << 0.43 << 0.8;
    }
    void bodyMakesThePairBetter() {
        QFETCH(double, along);
        QFETCH(double, across);
        QFETCH(double, most);
        Scene scene;
        double alone = 0.0;
        double together = 0.0;
        constexpr int draws = 20;
        for (int draw = 0; draw < draws; ++draw) {
            const GroundFit one = scene.byGround(scene.side, along, across);
            const GroundFit other = scene.byGround(scene.front, along, across);
            const auto spots = scene.body(100, 0.007);
            const CameraPair pair = motion::byGroundAndBody(one, other, spots);
            QCOMPARE(pair.spots, 100);
            // A pixel is 2.1 to 2.4 mm here: clicks 1.5 px off and spots 7 mm apart in both
            // pictures.
            QVERIFY2(pair.gapM > 0.006 && pair.gapM < 0.012, std::to_string(pair.gapM).c_str());
            alone += std::pow(scene.placeError(motion::byGroundAlone(one, other)), 2) / draws;
            together += std::pow(scene.placeError(pair), 2) / draws;
        }
        qInfo("%.1f mm by the ground alone, %.1f mm with the body", 1e3 * std::sqrt(alone),
              1e3 * std::sqrt(together));
        QVERIFY(together < most * most * alone);
    }

    /// A place's scatter over many pairs is what the pair's spread says.
    void spreadIsHonest() {
        Scene scene;
        const Vector3d spot{0.5, 0.2, 1.3};
        double square = 0.0;
        double stated = 0.0;
        constexpr int draws = 60;
        for (int draw = 0; draw < draws; ++draw) {
            // Nobody takes a joint for the same spot from two sides.
            const CameraPair pair = motion::byGroundAndBody(
                scene.byGround(scene.side), scene.byGround(scene.front), scene.body(60, 0.007));
            const auto told = [&](const Eigen::Matrix<double, 16, 1>& errors) {
                const auto [one, other] = motion::changed(pair, errors);
                return *motion::placeSeenTwice({one, *scene.side.inPicture(spot), 1.0},
                                               {other, *scene.front.inPicture(spot), 1.0});
            };
            const Vector3d middle = told(Eigen::Matrix<double, 16, 1>::Zero());
            square += (middle - spot).squaredNorm() / draws;
            for (int i = 0; i < 16; ++i) {
                stated +=
                    (told(Eigen::Matrix<double, 16, 1>::Unit(i)) - middle).squaredNorm() / draws;
            }
        }
        const double ratio = std::sqrt(stated / square);
        qInfo("stated over scatter %.2f", ratio);
        QVERIFY2(ratio > 0.8 && ratio < 1.4, std::to_string(ratio).c_str());
    }

    /// A landmark on the wrong limb in some pictures does not pull the cameras off.
    void wildSpotsCountLittle() {
        Scene scene;
        double clean = 0.0;
        double wild = 0.0;
        constexpr int draws = 12;
        for (int draw = 0; draw < draws; ++draw) {
            const GroundFit one = scene.byGround(scene.side);
            const GroundFit other = scene.byGround(scene.front);
            auto spots = scene.body(100);
            clean += scene.placeError(motion::byGroundAndBody(one, other, spots)) / draws;
            for (std::size_t i = 0; i < spots.size(); i += 20) {
                spots[i].second.y += 150.0;
            }
            wild += scene.placeError(motion::byGroundAndBody(one, other, spots)) / draws;
        }
        qInfo("%.1f mm, %.1f mm with five wild ones", 1e3 * clean, 1e3 * wild);
        QVERIFY(wild < 2.0 * clean);
    }

    void tooFewSpotsLeaveTheGroundsWord() {
        Scene scene;
        const GroundFit one = scene.byGround(scene.side);
        const GroundFit other = scene.byGround(scene.front);
        const CameraPair pair = motion::byGroundAndBody(one, other, scene.body(5));
        QCOMPARE(pair.spots, 0);
        QVERIFY(pair.first.position == one.camera.position);
        QVERIFY(pair.second.axes == other.camera.axes);
    }
};

QTEST_GUILESS_MAIN(TestCameraPair)
#include "test_camera_pair.moc"
