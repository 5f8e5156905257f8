#include "motion/heading.h"

#include "support/coverage.h"

#include <QTest>

#include <cmath>
#include <numbers>
#include <random>

using namespace kestrel;
using motion::Branch;
using motion::SeenLine;

namespace {

double radians(double degrees) {
    return degrees * std::numbers::pi / 180.0;
}

} // namespace

/// Headings of lines against lines of known heading.
class TestHeading : public QObject {
    Q_OBJECT
  private slots:
    void exactLinesGiveExactHeadings() {
        for (const double turned : {-160.0, -70.0, -25.0, 15.0, 45.0, 90.0, 130.0, 175.0}) {
            for (const double tilt : {-20.0, 0.0, 12.0}) {
                SeenLine line;
                line.fullPx = 100.0;
                line.rise = 100.0 * std::sin(radians(tilt));
                line.along = 100.0 * std::cos(radians(tilt)) * std::cos(radians(turned));
                const auto found =
                    motion::headingFromCosine(line, turned < 0.0 ? Branch::second : Branch::first);
                QVERIFY2(std::abs(found.value.value - turned) < 0.01,
                         qPrintable(QString::number(found.value.value)));
                line.along = 100.0 * std::cos(radians(tilt)) * std::sin(radians(turned));
                if (turned > -90.0) {
                    const auto across = motion::headingFromSine(
                        line, turned > 90.0 ? Branch::second : Branch::first);
                    QVERIFY(std::abs(across.value.value - turned) < 0.01);
                }
            }
        }
    }

    /// Many lines with errors of placing and of breadth: the deviation holds, whichever way they
    /// point, and is larger where the picture says less.
    void statedDeviationsHold() {
        std::mt19937 random(3);
        std::normal_distribution<double> normal;
        constexpr double full = 105.0; // shoulders of a player 400 pixels tall
        constexpr double sd = 2.1;     // two ends, 1.5 pixels each
        int within = 0;
        int all = 0;
        double alongSd = 0.0;
        double acrossSd = 0.0;
        for (int draw = 0; draw < 4000; ++draw) {
            const double turned = 5.0 + 0.0425 * draw; // 5 to 175
            const double own = full * (1.0 + motion::breadthFractionSd * normal(random));
            SeenLine line;
            line.along = own * std::cos(radians(turned)) + sd * normal(random);
            line.rise = sd * normal(random);
            line.sd = sd;
            line.fullPx = full;
            line.fullRelativeSd = motion::breadthFractionSd;
            const auto found = motion::headingFromCosine(line, Branch::first);
            within += std::abs(found.value.value - turned) < 1.96 * found.sd.value ? 1 : 0;
            ++all;
            (turned < 20.0 ? alongSd : acrossSd) =
                std::max(turned < 20.0 ? alongSd : acrossSd, found.sd.value);
            if (std::abs(turned - 90.0) < 1.0) {
                QVERIFY2(found.sd.value < 1.5, qPrintable(QString::number(found.sd.value)));
            }
        }
        VERIFY_COVERAGE("heading from a line's length", within, all);
        QVERIFY(alongSd > 5.0);
    }

    void anUnknownBranchHoldsBoth() {
        SeenLine line;
        line.fullPx = 100.0;
        line.along = 100.0 * std::cos(radians(30.0));
        const auto either = motion::headingFromCosine(line, Branch::unknown);
        QVERIFY(std::abs(either.value.value) < 0.01);
        QVERIFY(std::abs(either.sd.value - 30.0) < 0.01);
    }

    void onlyHipsAndShouldersHaveABreadth() {
        using model::Landmark;
        QCOMPARE(*motion::breadthFraction(Landmark::rightHip, Landmark::leftHip), 0.191);
        QCOMPARE(*motion::breadthFraction(Landmark::leftShoulder, Landmark::rightShoulder), 0.259);
        QVERIFY(!motion::breadthFraction(Landmark::leftHip, Landmark::leftKnee));
    }
};

QTEST_GUILESS_MAIN(TestHeading)
#include "test_heading.moc"
