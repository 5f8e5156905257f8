#include "motion/speed_curve.h"

#include "support/coverage.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;
using motion::PlaceSample;

namespace {

/// A hand that whips along an arc: its speed has one peak, at `top`, of a width that is known.
struct Whip {
    double top = 0.5;
    double width = 0.05; ///< of the burst, seconds
    double slow = 150.0; ///< pixels per second
    double fast = 900.0;

    /// Way along the path; its derivative is slow + fast / cosh²((t − top) / width).
    [[nodiscard]] double way(double t) const {
        return slow * t + fast * width * std::tanh((t - top) / width);
    }
    [[nodiscard]] model::Point2 place(double t) const {
        constexpr double radius = 180.0;
        const double angle = way(t) / radius;
        return {500.0 + radius * std::cos(angle), 300.0 + radius * std::sin(angle)};
    }
};

std::vector<PlaceSample> filmed(const Whip& whip, double rate, double sd, std::mt19937& random) {
    std::normal_distribution<double> normal(0.0, sd);
    std::uniform_real_distribution<double> phase(0.0, 1.0);
    const double first = phase(random);
    std::vector<PlaceSample> places;
    for (int i = 0; i < static_cast<int>(rate); ++i) {
        const double t = (i + first) / rate;
        places.push_back({t, whip.place(t) + model::Point2{normal(random), normal(random)}, sd});
    }
    return places;
}

std::optional<motion::SpeedPeak> peakOf(const std::vector<PlaceSample>& places,
                                        motion::TimeSpan within) {
    return motion::speedPeak(places, motion::speedCurve(places), within);
}

constexpr motion::TimeSpan around{0.3, 0.7};

} // namespace

class TestSpeedCurve : public QObject {
    Q_OBJECT
  private slots:
    void peaksAreWhereTheyAre_data() {
        QTest::addColumn<double>("rate");
        QTest::addColumn<double>("sd");
        QTest::addColumn<double>("mostMs");
        QTest::newRow("120, placed") << 120.0 << 1.5 << 4.0;
        QTest::newRow("240, placed") << 240.0 << 1.5 << 4.0;
        QTest::newRow("120, tracked") << 120.0 << 4.0 << 8.0;
    }
    /// Against the known peak, many draws: bias, and whether the stated deviations hold.
    void peaksAreWhereTheyAre() {
        QFETCH(double, rate);
        QFETCH(double, sd);
        QFETCH(double, mostMs);
        const Whip whip;
        std::mt19937 random(5);
        constexpr int draws = 120;
        double square = 0.0;
        int within = 0;
        int speedWithin = 0;
        int found = 0;
        for (int draw = 0; draw < draws; ++draw) {
            const auto peak = peakOf(filmed(whip, rate, sd, random), around);
            if (!peak) {
                continue;
            }
            ++found;
            const double miss = peak->time - whip.top;
            square += miss * miss;
            within += std::abs(miss) < 1.96 * peak->timeSd ? 1 : 0;
            speedWithin +=
                std::abs(peak->speed - whip.slow - whip.fast) < 1.96 * peak->speedSd ? 1 : 0;
        }
        QVERIFY(found >= draws - 1);
        const double rmsMs = 1000.0 * std::sqrt(square / found);
        QVERIFY2(rmsMs < mostMs, qPrintable(QString::number(rmsMs)));
        VERIFY_COVERAGE(QString("time of a speed's peak, ") + QTest::currentDataTag(), within,
                        found);
        VERIFY_COVERAGE(QString("height of a speed's peak, ") + QTest::currentDataTag(),
                        speedWithin, found);
    }

    void howLongAPeakLastsIsRead() {
        const Whip whip;
        std::mt19937 random(9);
        const auto peak = peakOf(filmed(whip, 480.0, 0.3, random), around);
        QVERIFY(peak);
        const double half = 0.5 * (whip.slow + whip.fast);
        const double lasts =
            2.0 * whip.width * std::acosh(std::sqrt(whip.fast / (half - whip.slow)));
        QVERIFY2(std::abs(peak->lasts - lasts) < 0.01, qPrintable(QString::number(peak->lasts)));
        QVERIFY(std::abs(motion::rateForPeak(*peak) - 5.0 / peak->lasts) < 1e-9);
    }

    void aSpeedThatOnlyRisesHasNoPeak() {
        std::vector<PlaceSample> places;
        for (int i = 0; i < 60; ++i) {
            const double t = i / 60.0;
            places.push_back({t, {400.0 * t * t, 100.0}, 0.5});
        }
        QVERIFY(!peakOf(places, {0.2, 0.8}));
    }
};

QTEST_GUILESS_MAIN(TestSpeedCurve)
#include "test_speed_curve.moc"
