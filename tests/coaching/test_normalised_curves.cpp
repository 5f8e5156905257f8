#include "coaching/normalised_curves.h"
#include "support/test_films.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;
using coaching::TimedCourse;

namespace {

/// A rep of some tempo whose value follows the share of the way from Set to Release, plus `more`.
TimedCourse rep(double begin, double length, double more, double rate = 120.0) {
    TimedCourse timed;
    timed.positions = {
        {"set", begin}, {"foot_plant", begin + 0.7 * length}, {"release", begin + length}};
    for (double t = begin - 0.1; t <= begin + length + 0.1; t += 1.0 / rate) {
        const double share = (t - begin) / length;
        timed.course.push_back({t, 90.0 + 40.0 * std::sin(3.0 * share) + more, 1.0});
    }
    return timed;
}

} // namespace

/// Reps of different tempo laid over each other.
class TestNormalisedCurves : public QObject {
    Q_OBJECT
  private slots:
    /// Reps that differ in tempo only come out as one curve, the one they were made of.
    void tempoIsTakenOut() {
        const auto curves = coaching::normalised(
            support::pitchPack(), {rep(0.3, 1.0, 0), rep(0.5, 1.3, 0), rep(0.1, 0.8, 0)});
        QCOMPARE(curves.marks.size(), std::size_t{3});
        QCOMPARE(curves.marks.front().place, 0.0);
        QVERIFY(std::abs(curves.marks[1].place - 70.0) < 1e-9);
        QCOMPARE(curves.marks.back().place, 100.0);
        QCOMPARE(curves.band.size(), std::size_t{101});
        for (const auto& p : curves.band) {
            const double want = 90.0 + 40.0 * std::sin(3.0 * p.place / 100.0);
            QVERIFY(std::abs(p.mean - want) < 0.05);
            QVERIFY(p.sd < 0.05);
            QCOMPARE(p.reps, 3);
        }
    }
    /// Reps shifted by a known scatter show that scatter.
    void scatterIsTheReps() {
        std::mt19937 random(3);
        std::normal_distribution<double> off(0.0, 4.0);
        std::vector<TimedCourse> reps;
        double square = 0.0;
        double sum = 0.0;
        constexpr int count = 40;
        for (int i = 0; i < count; ++i) {
            const double more = off(random);
            sum += more;
            square += more * more;
            reps.push_back(rep(0.2, 1.0 + 0.01 * i, more));
        }
        const double sd = std::sqrt((square - sum * sum / count) / (count - 1));
        const auto curves = coaching::normalised(support::pitchPack(), reps);
        for (const auto& p : curves.band) {
            QVERIFY(std::abs(p.sd - sd) < 0.02 * sd);
        }
    }
    void gapsStayGaps() {
        TimedCourse gap = rep(0.0, 1.0, 0);
        std::erase_if(gap.course, [](const auto& p) { return p.time > 0.4 && p.time < 0.6; });
        const auto curves =
            coaching::normalised(support::pitchPack(), {gap, rep(0.0, 1.0, 0), rep(0.0, 1.0, 0)});
        QVERIFY(!curves.reps[0][50]);
        QVERIFY(curves.reps[0][20] && curves.reps[0][80]);
        QVERIFY(std::none_of(curves.band.begin(), curves.band.end(),
                             [](const auto& p) { return p.place == 50.0; }));
    }
    void nothingInCommonIsNothing() {
        TimedCourse other = rep(0.0, 1.0, 0);
        other.positions = {{"set", 0.0}};
        QVERIFY(
            coaching::normalised(support::pitchPack(), {rep(0.0, 1.0, 0), other}).marks.empty());
        QVERIFY(coaching::normalised(support::pitchPack(), {}).reps.empty());
    }
};

QTEST_GUILESS_MAIN(TestNormalisedCurves)
#include "test_normalised_curves.moc"
