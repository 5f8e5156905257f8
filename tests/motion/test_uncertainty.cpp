#include "motion/geometry.h"
#include "motion/out_of_plane.h"
#include "motion/propagation.h"

#include <QTest>

#include <Eigen/Geometry>

#include <cmath>
#include <functional>
#include <numbers>
#include <random>

using namespace kestrel;
using model::Degrees;
using model::Point2;

namespace {

/// Root mean square of f(random) − 0 over many draws.
double rms(int draws, const std::function<double(std::mt19937&)>& error) {
    std::mt19937 random(7);
    double sum = 0.0;
    for (int i = 0; i < draws; ++i) {
        const double e = error(random);
        sum += e * e;
    }
    return std::sqrt(sum / draws);
}

double normal(std::mt19937& random, double sd) {
    return std::normal_distribution<double>(0.0, sd)(random);
}

/// A unit vector seen at `seenDeg` in the picture plane (x, z) and `outDeg` out of it.
Eigen::Vector3d direction(double seenDeg, double outDeg) {
    const double s = seenDeg * std::numbers::pi / 180.0;
    const double o = outDeg * std::numbers::pi / 180.0;
    return {std::cos(o) * std::cos(s), std::sin(o), std::cos(o) * std::sin(s)};
}

double degreesBetween(const Eigen::Vector3d& u, const Eigen::Vector3d& v) {
    return std::atan2(u.cross(v).norm(), u.dot(v)) * 180.0 / std::numbers::pi;
}

} // namespace

/// Stated uncertainties against Monte Carlo.
class TestUncertainty : public QObject {
    Q_OBJECT
  private slots:
    void propagationOfALinearSumIsExact();
    void fixedInputsAddNothing();
    void propagationOfAnAngleIsMonteCarlos_data();
    void propagationOfAnAngleIsMonteCarlos();
    void jointAngleOutOfPlaneIsMonteCarlos_data();
    void jointAngleOutOfPlaneIsMonteCarlos();
    void elevationOutOfPlaneCoversMonteCarlo();
    void shorteningOfADistanceIsMonteCarlos();
};

void TestUncertainty::propagationOfALinearSumIsExact() {
    const Eigen::VectorXd x = Eigen::Vector3d(1, 2, 3);
    const Eigen::VectorXd sd = Eigen::Vector3d(1, 2, 0.5);
    const double u = motion::standardUncertainty(
        [](const Eigen::VectorXd& v) { return 2 * v[0] - v[1] + 4 * v[2]; }, x, sd);
    QVERIFY(std::abs(u - std::sqrt(4.0 + 4.0 + 4.0)) < 1e-9);
}

void TestUncertainty::fixedInputsAddNothing() {
    const Eigen::VectorXd x = Eigen::Vector2d(5, 5);
    const Eigen::VectorXd sd = Eigen::Vector2d(0, 0);
    QCOMPARE(motion::standardUncertainty([](const Eigen::VectorXd& v) { return v.sum(); }, x, sd),
             0.0);
}

void TestUncertainty::propagationOfAnAngleIsMonteCarlos_data() {
    QTest::addColumn<double>("bend");
    QTest::addColumn<double>("length");
    for (const double bend : {40.0, 90.0, 140.0}) {
        for (const double length : {40.0, 90.0}) {
            QTest::addRow("%g degrees, %g px", bend, length) << bend << length;
        }
    }
}

void TestUncertainty::propagationOfAnAngleIsMonteCarlos() {
    QFETCH(double, bend);
    QFETCH(double, length);
    const double a = bend * std::numbers::pi / 180.0;
    Eigen::VectorXd x(6);
    x << length, 0, 0, 0, length * std::cos(a), length * std::sin(a);
    const auto angle = [](const Eigen::VectorXd& v) {
        return motion::interiorAngle({v[0], v[1]}, {v[2], v[3]}, {v[4], v[5]}).value;
    };
    constexpr double sd = 1.5;
    const double stated = motion::standardUncertainty(angle, x, Eigen::VectorXd::Constant(6, sd));
    const double seen = rms(20000, [&](std::mt19937& random) {
        Eigen::VectorXd moved = x;
        for (double& v : moved) {
            v += normal(random, sd);
        }
        return angle(moved) - bend;
    });
    QVERIFY2(std::abs(stated / seen - 1.0) < 0.05,
             qPrintable(QString("%1 %2").arg(stated).arg(seen)));
}

void TestUncertainty::jointAngleOutOfPlaneIsMonteCarlos_data() {
    QTest::addColumn<double>("seen");
    QTest::addColumn<double>("first");
    QTest::addColumn<double>("second");
    for (const double seen : {30.0, 90.0, 150.0}) {
        QTest::addRow("%g, alike", seen) << seen << 12.0 << 12.0;
        QTest::addRow("%g, unlike", seen) << seen << 8.0 << 25.0;
    }
}

void TestUncertainty::jointAngleOutOfPlaneIsMonteCarlos() {
    QFETCH(double, seen);
    QFETCH(double, first);
    QFETCH(double, second);
    const double stated =
        motion::jointAngleRms(Degrees(seen), Degrees(first), Degrees(second)).value;
    const double mc = rms(40000, [&](std::mt19937& random) {
        return degreesBetween(direction(0.0, normal(random, first)),
                              direction(seen, normal(random, second))) -
               seen;
    });
    QVERIFY2(std::abs(stated / mc - 1.0) < 0.12, qPrintable(QString("%1 %2").arg(stated).arg(mc)));
}

void TestUncertainty::elevationOutOfPlaneCoversMonteCarlo() {
    // The stated figure holds parallax too, so it is at least what shortening alone gives.
    for (const double seen : {0.0, 20.0, 60.0, 85.0}) {
        const double mc = rms(40000, [&](std::mt19937& random) {
            const Eigen::Vector3d d = direction(seen, normal(random, 15.0));
            return std::asin(d.z()) * 180.0 / std::numbers::pi - seen;
        });
        const double stated = motion::elevationRms(Degrees(seen), Degrees(15.0)).value;
        QVERIFY(stated >= 0.95 * mc);
        QVERIFY(stated <= mc + 3.0);
    }
}

void TestUncertainty::shorteningOfADistanceIsMonteCarlos() {
    const double mc = rms(40000, [](std::mt19937& random) {
        return 1.0 - std::cos(normal(random, 20.0) * std::numbers::pi / 180.0);
    });
    QVERIFY(std::abs(motion::distanceRelativeRms(Degrees(20.0)) / mc - 1.0) < 0.05);
    QVERIFY(motion::offsetRms(0.1) > motion::offsetRms(0.05));
}

QTEST_GUILESS_MAIN(TestUncertainty)
#include "test_uncertainty.moc"
