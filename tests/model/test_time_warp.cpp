#include "model/time_warp.h"

#include <QTest>

#include <cmath>
#include <stdexcept>

using kestrel::model::Seconds;
using kestrel::model::TimeWarp;

/// Two reps in step.
class TestTimeWarp : public QObject {
    Q_OBJECT
  private slots:
    void instantsFallOnThemselves() {
        const TimeWarp warp({{Seconds(2.0), Seconds(20.0)},
                             {Seconds(1.0), Seconds(10.5)},
                             {Seconds(4.0), Seconds(21.0)}});
        for (const TimeWarp::Same& same : warp.instants()) {
            QCOMPARE(warp.there(same.here).value, same.there.value);
            QCOMPARE(warp.here(same.there).value, same.here.value);
        }
    }
    void betweenThemTimeIsStretchedEvenly() {
        const TimeWarp warp({{Seconds(0.0), Seconds(10.0)}, {Seconds(2.0), Seconds(11.0)}});
        QCOMPARE(warp.there(Seconds(0.5)).value, 10.25);
        QCOMPARE(warp.here(Seconds(10.75)).value, 1.5);
    }
    void outsideOfThemItPassesAsFastInBoth() {
        const TimeWarp warp({{Seconds(0.0), Seconds(10.0)}, {Seconds(2.0), Seconds(11.0)}});
        QCOMPARE(warp.there(Seconds(-0.3)).value, 9.7);
        QCOMPARE(warp.there(Seconds(2.4)).value, 11.4);
    }
    void oneInstantIsTrueTimeFromIt() {
        const TimeWarp warp({{Seconds(3.0), Seconds(1.0)}});
        QCOMPARE(warp.there(Seconds(3.25)).value, 1.25);
        QCOMPARE(warp.there(Seconds(0.0)).value, -2.0);
    }
    /// Whatever is said of the positions, it goes on, and back the same way.
    void itIsMonotoneAndHasAWayBack() {
        const TimeWarp warp({{Seconds(1.0), Seconds(5.0)},
                             {Seconds(2.0), Seconds(4.0)}, // earlier there: left out
                             {Seconds(2.0), Seconds(6.0)},
                             {Seconds(2.5), Seconds(6.0)}, // at the same time there: left out
                             {Seconds(3.0), Seconds(9.0)}});
        QCOMPARE(warp.instants().size(), std::size_t{3});
        double before = warp.there(Seconds(-1.0)).value;
        for (double t = -0.99; t < 6.0; t += 0.01) {
            const Seconds there = warp.there(Seconds(t));
            QVERIFY(there.value > before);
            QVERIFY(std::abs(warp.here(there).value - t) < 1e-9);
            before = there.value;
        }
    }
    void noneIsRefused() { QVERIFY_THROWS_EXCEPTION(std::invalid_argument, TimeWarp({})); }
};

QTEST_GUILESS_MAIN(TestTimeWarp)
#include "test_time_warp.moc"
