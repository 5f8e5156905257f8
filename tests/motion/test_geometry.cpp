#include "motion/body_segments.h"
#include "motion/geometry.h"

#include <QTest>

#include <cmath>
#include <numbers>

using namespace kestrel;
using model::Point2;

namespace {

constexpr double tolerance = 1e-9;

/// The point `length` away from `from`, `degrees` above the rightward horizontal.
Point2 away(Point2 from, double degrees, double length = 100.0) {
    const double a = degrees * std::numbers::pi / 180.0;
    return {from.x + length * std::cos(a), from.y - length * std::sin(a)};
}

bool near(model::Degrees got, double want) {
    return std::abs(got.value - want) < tolerance;
}

} // namespace

/// Angles of the picture against constructed ones.
class TestGeometry : public QObject {
    Q_OBJECT
  private slots:
    void interiorAngleOfABentArm();
    void flexionIsTheRest();
    void elevationForgetsTheDirection();
    void leanIsPositiveTowardsTheSign();
    void angleBetweenCarriedLines();
    void layBackRunsPastTheTrunk();
    void offsetsFollowTheSign();
    void bonesHaveLengths();
    void foreshorteningSaysHowFarOutOfPlane();
};

void TestGeometry::interiorAngleOfABentArm() {
    const Point2 elbow{300, 200};
    for (const double start : {0.0, 37.0, 171.0, 290.0}) {
        for (const double bend : {0.5, 30.0, 90.0, 145.0, 179.0}) {
            const auto angle =
                motion::interiorAngle(away(elbow, start), elbow, away(elbow, start + bend, 63.0));
            QVERIFY(near(angle, bend));
            const auto other =
                motion::interiorAngle(away(elbow, start), elbow, away(elbow, start - bend, 63.0));
            QVERIFY(near(other, bend));
        }
    }
}

void TestGeometry::flexionIsTheRest() {
    const Point2 knee{10, 10};
    QVERIFY(near(motion::flexion(away(knee, 90), knee, away(knee, 270)), 0.0));
    QVERIFY(near(motion::flexion(away(knee, 90), knee, away(knee, 225)), 45.0));
}

void TestGeometry::elevationForgetsTheDirection() {
    const Point2 from{0, 0};
    QVERIFY(near(motion::elevation(from, away(from, 30)), 30.0));
    QVERIFY(near(motion::elevation(from, away(from, 150)), 30.0));
    QVERIFY(near(motion::elevation(from, away(from, -12)), -12.0));
    QVERIFY(near(motion::elevation(from, away(from, 90)), 90.0));
}

void TestGeometry::leanIsPositiveTowardsTheSign() {
    const Point2 hip{50, 400};
    QVERIFY(near(motion::lean(hip, away(hip, 60), 1), 30.0));
    QVERIFY(near(motion::lean(hip, away(hip, 60), -1), -30.0));
    QVERIFY(near(motion::lean(hip, away(hip, 120), -1), 30.0));
    QVERIFY(near(motion::lean(hip, away(hip, -10), 1), 100.0));
}

void TestGeometry::angleBetweenCarriedLines() {
    const Point2 a{0, 0};
    const Point2 b{500, 90};
    QVERIFY(near(motion::angleBetween(a, away(a, 10), b, away(b, 75)), 65.0));
    QVERIFY(near(motion::angleBetween(a, away(a, 10), b, away(b, 190)), 180.0));
}

void TestGeometry::layBackRunsPastTheTrunk() {
    const Point2 hip{0, 0};
    const Point2 elbow{20, -90};
    // Trunk upright, target to the right: along the trunk 90°, straight back 180°.
    QVERIFY(near(motion::layBack(elbow, away(elbow, 90), hip, away(hip, 90), 1), 90.0));
    QVERIFY(near(motion::layBack(elbow, away(elbow, 180), hip, away(hip, 90), 1), 180.0));
    QVERIFY(near(motion::layBack(elbow, away(elbow, 0), hip, away(hip, 90), 1), 0.0));
    // Leaning 30° to the target changes both alike.
    QVERIFY(near(motion::layBack(elbow, away(elbow, 150), hip, away(hip, 60), 1), 180.0));
    // Mirrored.
    QVERIFY(near(motion::layBack(elbow, away(elbow, 0), hip, away(hip, 90), -1), 180.0));
}

void TestGeometry::offsetsFollowTheSign() {
    QCOMPARE(motion::offsetAlong({10, 0}, {25, 40}, 1), 15.0);
    QCOMPARE(motion::offsetAlong({10, 0}, {25, 40}, -1), -15.0);
    QCOMPARE(motion::heightAbove({0, 100}, {5, 60}), 40.0);
}

void TestGeometry::bonesHaveLengths() {
    using model::Landmark;
    // Drillis and Contini: thigh 0.245, shank 0.246, upper arm 0.186, forearm 0.146 of height.
    QCOMPARE(motion::segmentFraction(Landmark::rightHip, Landmark::rightKnee),
             std::optional(0.245));
    QCOMPARE(motion::segmentFraction(Landmark::leftAnkle, Landmark::leftKnee),
             std::optional(0.246));
    QCOMPARE(motion::segmentFraction(Landmark::leftShoulder, Landmark::leftElbow),
             std::optional(0.186));
    QCOMPARE(motion::segmentFraction(Landmark::rightElbow, Landmark::rightWrist),
             std::optional(0.146));
    QVERIFY(!motion::segmentFraction(Landmark::leftHip, Landmark::rightKnee));
    QVERIFY(!motion::segmentFraction(Landmark::leftHip, Landmark::leftAnkle));
    QVERIFY(!motion::segmentFraction(Landmark::head, Landmark::headTop));
}

void TestGeometry::foreshorteningSaysHowFarOutOfPlane() {
    QVERIFY(near(motion::foreshortening(50.0, 100.0), 60.0));
    QVERIFY(near(motion::foreshortening(110.0, 100.0), 0.0));
    QVERIFY(near(motion::elevationFromRise(50.0, 100.0), 30.0));
    QVERIFY(near(motion::elevationFromRise(-120.0, 100.0), -90.0));
}

QTEST_GUILESS_MAIN(TestGeometry)
#include "test_geometry.moc"
