#include "coaching/growth.h"
#include "support/day.h"

#include <QTest>

#include <cmath>

using namespace kestrel;
using support::operator""_day;
using model::Metres;

/// Growth estimates against the published equations worked by hand.
class TestGrowth : public QObject {
    Q_OBJECT
  private slots:
    /// Moore et al. (2015): a boy of 12.0 years and 150 cm: −7.999994 + 0.0036124 · 1800 = −1.498.
    void equationForBoys() {
        const auto growth =
            coaching::growthOf("2014-11-26"_day, model::Sex::boy,
                               {{"2026-11-26"_day, Metres(1.50)}}, "2026-11-26"_day);
        QVERIFY(growth.yearsAfterPeak);
        QVERIFY2(std::abs(*growth.yearsAfterPeak + 1.498) < 0.005,
                 std::to_string(*growth.yearsAfterPeak).c_str());
        QVERIFY(!growth.nearPeak);
        QVERIFY(!growth.cmPerYear);
    }
    /// A girl of 12.0 years and 155 cm: −7.709133 + 0.0042232 · 1860 = 0.146.
    void equationForGirls() {
        const auto growth =
            coaching::growthOf("2014-11-26"_day, model::Sex::girl,
                               {{"2026-11-26"_day, Metres(1.55)}}, "2026-11-26"_day);
        QVERIFY(std::abs(*growth.yearsAfterPeak - 0.146) < 0.005);
        QVERIFY(growth.nearPeak);
        QVERIFY(!coaching::toldGrowth(growth).empty());
    }
    /// Half a year later the estimate has moved on by half a year.
    void timeSinceTheMeasurementCounts() {
        const std::map<model::Day, Metres> heights{{"2026-05-28"_day, Metres(1.50)}};
        const auto then =
            coaching::growthOf("2014-11-26"_day, model::Sex::boy, heights, "2026-05-28"_day);
        const auto now =
            coaching::growthOf("2014-11-26"_day, model::Sex::boy, heights, "2026-11-26"_day);
        QVERIFY(std::abs(*now.yearsAfterPeak - *then.yearsAfterPeak - 0.498) < 0.01);
    }
    void speedOfGrowthWithItsDoubt() {
        const auto growth = coaching::growthOf("2013-02-09"_day, std::nullopt,
                                               {{"2025-11-26"_day, Metres(1.58)},
                                                {"2026-10-20"_day, Metres(1.655)},
                                                {"2026-11-26"_day, Metres(1.66)}},
                                               "2026-11-26"_day);
        QVERIFY(growth.cmPerYear);
        QVERIFY2(std::abs(*growth.cmPerYear - 8.0) < 0.05,
                 std::to_string(*growth.cmPerYear).c_str());
        QVERIFY(std::abs(growth.cmPerYearSd - 0.85) < 0.02);
        QVERIFY(growth.nearPeak);
        QVERIFY(!growth.yearsAfterPeak); // the sex is not said
    }
    void dosesGoDownNearTheSpurt() {
        coaching::Growth spurt;
        spurt.nearPeak = true;
        QCOMPARE(coaching::doseAge(14, spurt), std::optional(12));
        QCOMPARE(coaching::doseAge(11, spurt), std::optional(9));
        QCOMPARE(coaching::doseAge(8, spurt), std::optional(8));
        QCOMPARE(coaching::doseAge(14, {}), std::optional(14));
        QCOMPARE(coaching::doseAge(std::nullopt, spurt), std::optional<int>());
    }
    void nothingIsMadeUp() {
        QVERIFY(coaching::toldGrowth(coaching::growthOf({}, model::Sex::boy, {}, "2026-11-26"_day))
                    .empty());
        // Too young, too old, and heights of one week.
        for (const model::Day born : {"2020-01-01"_day, "2001-01-01"_day}) {
            const auto growth = coaching::growthOf(
                born, model::Sex::boy,
                {{"2026-11-19"_day, Metres(1.50)}, {"2026-11-26"_day, Metres(1.51)}},
                "2026-11-26"_day);
            QVERIFY(!growth.yearsAfterPeak);
            QVERIFY(!growth.cmPerYear);
        }
    }
};

QTEST_GUILESS_MAIN(TestGrowth)
#include "test_growth.moc"
