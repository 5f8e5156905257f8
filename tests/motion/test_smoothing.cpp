#include "motion/smoothing_spline.h"

#include "support/coverage.h"

#include <QTest>

#include <cmath>
#include <numbers>
#include <random>

using namespace kestrel;
using motion::Sample;

namespace {

/// A whip: a slow approach and a burst, like the hand of a thrower. Metres, seconds.
struct Whip {
    static double value(double t) { return 0.4 * t + 0.5 * std::tanh((t - 0.6) / 0.06); }
    static double rate(double t) {
        const double sech = 1.0 / std::cosh((t - 0.6) / 0.06);
        return 0.4 + 0.5 / 0.06 * sech * sech;
    }
};

struct Swing {
    static constexpr double turn = 2.0 * std::numbers::pi * 1.5;
    static double value(double t) { return 0.3 * std::sin(turn * t); }
    static double rate(double t) { return 0.3 * turn * std::cos(turn * t); }
    static double bend(double t) { return -0.3 * turn * turn * std::sin(turn * t); }
};

std::vector<Sample> sampled(double (*value)(double), double rate, double sd, std::mt19937& random,
                            bool uneven = false) {
    std::normal_distribution<double> normal(0.0, sd);
    std::uniform_real_distribution<double> jitter(-0.3, 0.3);
    std::vector<Sample> samples;
    for (int i = 0; i < static_cast<int>(rate * 1.2); ++i) {
        const double t = (i + (uneven ? jitter(random) : 0.0)) / rate;
        samples.push_back({t, value(t) + normal(random), sd});
    }
    return samples;
}

} // namespace

class TestSmoothing : public QObject {
    Q_OBJECT
  private slots:
    void aParabolaStaysAsItIs() {
        std::vector<Sample> samples;
        for (int i = 0; i < 60; ++i) {
            const double t = i / 60.0;
            samples.push_back({t, 2.0 - 3.0 * t + 4.0 * t * t, 0.01});
        }
        for (const motion::SmoothPoint& p : motion::smoothCurve(samples).points) {
            QVERIFY(std::abs(p.value - (2.0 - 3.0 * p.time + 4.0 * p.time * p.time)) < 1e-4);
            QVERIFY(std::abs(p.rate - (-3.0 + 8.0 * p.time)) < 1e-2);
            QVERIFY(std::abs(p.bend - 8.0) < 0.1);
        }
    }

    /// The curve is linear in its samples: their responses add up to it, and what their noise alone
    /// makes of value, speed and acceleration is what the curve scatters by over many draws with
    /// the smoothing as it is.
    void responsesAddUpToTheCurve() {
        std::mt19937 random(41);
        constexpr double sd = 0.01;
        const auto samples = sampled(Swing::value, 60.0, sd, random, true);
        const motion::SmoothCurve curve = motion::smoothCurve(samples);
        const motion::SmoothResponse response = motion::smoothResponse(samples, curve);
        Eigen::VectorXd values(static_cast<Eigen::Index>(samples.size()));
        for (std::size_t i = 0; i < samples.size(); ++i) {
            values[static_cast<Eigen::Index>(i)] = samples[i].value;
        }
        const Eigen::VectorXd value = response.value * values;
        const Eigen::VectorXd rate = response.rate * values;
        const Eigen::VectorXd bend = response.bend * values;
        for (std::size_t i = 0; i < samples.size(); ++i) {
            const auto row = static_cast<Eigen::Index>(i);
            const motion::SmoothPoint& p = curve.points[i];
            QVERIFY(std::abs(value[row] - p.value) < 1e-6);
            QVERIFY(std::abs(rate[row] - p.rate) < 1e-5);
            QVERIFY(std::abs(bend[row] - p.bend) < 1e-3);
            // Noise makes a part of what is stated, never more.
            QVERIFY(sd * response.value.row(row).norm() <= p.valueSd * 1.001);
            QVERIFY(sd * response.rate.row(row).norm() <= p.rateSd * 1.001);
            QVERIFY(sd * response.bend.row(row).norm() <= p.bendSd * 1.001);
        }
    }

    /// Stated deviations of value, speed and acceleration hold, over many draws of the noise.
    void statedDeviationsHold_data() {
        QTest::addColumn<double>("rate");
        QTest::addColumn<double>("sd");
        QTest::addColumn<bool>("uneven");
        QTest::newRow("60 a second") << 60.0 << 0.006 << false;
        QTest::newRow("240 a second") << 240.0 << 0.006 << false;
        QTest::newRow("noisy") << 120.0 << 0.03 << false;
        QTest::newRow("uneven") << 60.0 << 0.006 << true;
    }
    void statedDeviationsHold() {
        QFETCH(double, rate);
        QFETCH(double, sd);
        QFETCH(bool, uneven);
        std::mt19937 random(7);
        std::array<int, 3> within{};
        int all = 0;
        double stated = 0.0; ///< of speed, squares
        double missed = 0.0;
        for (int draw = 0; draw < 60; ++draw) {
            const auto samples = sampled(Swing::value, rate, sd, random, uneven);
            for (const motion::SmoothPoint& p : motion::smoothCurve(samples).points) {
                within[0] += std::abs(p.value - Swing::value(p.time)) < 1.96 * p.valueSd ? 1 : 0;
                within[1] += std::abs(p.rate - Swing::rate(p.time)) < 1.96 * p.rateSd ? 1 : 0;
                within[2] += std::abs(p.bend - Swing::bend(p.time)) < 1.96 * p.bendSd ? 1 : 0;
                stated += p.rateSd * p.rateSd;
                missed += std::pow(p.rate - Swing::rate(p.time), 2);
                ++all;
            }
        }
        constexpr std::array names{"value", "speed", "acceleration"};
        for (std::size_t i = 0; i < names.size(); ++i) {
            VERIFY_COVERAGE(QString("smoothed %1, %2").arg(names[i]).arg(QTest::currentDataTag()),
                            within[i], all);
        }
        // A swing is smoother than the curves that the deviations allow for, so they are on the
        // careful side, but not absurdly.
        QVERIFY2(stated < 2.0 * 2.0 * missed,
                 qPrintable(QString("%1, %2").arg(stated).arg(missed)));
    }

    /// It follows a burst and still holds the noise of the quiet part down.
    void aBurstIsFollowed() {
        std::mt19937 random(11);
        double miss = 0.0;
        double raw = 0.0;
        for (int draw = 0; draw < 20; ++draw) {
            const auto samples = sampled(Whip::value, 240.0, 0.005, random);
            const motion::SmoothCurve curve = motion::smoothCurve(samples);
            const auto top =
                std::max_element(curve.points.begin(), curve.points.end(),
                                 [](const auto& a, const auto& b) { return a.rate < b.rate; });
            QVERIFY2(std::abs(top->time - 0.6) < 0.012, qPrintable(QString::number(top->time)));
            QVERIFY2(std::abs(top->rate / Whip::rate(0.6) - 1.0) < 0.06,
                     qPrintable(QString::number(top->rate)));
            for (std::size_t i = 5; i + 5 < samples.size(); ++i) {
                miss += std::pow(curve.points[i].rate - Whip::rate(samples[i].time), 2);
                const double slope = (samples[i + 1].value - samples[i - 1].value) /
                                     (samples[i + 1].time - samples[i - 1].time);
                raw += std::pow(slope - Whip::rate(samples[i].time), 2);
            }
            QVERIFY2(curve.cutoffHz > 4.0 && curve.cutoffHz < 40.0,
                     qPrintable(QString::number(curve.cutoffHz)));
        }
        QVERIFY2(miss < 0.15 * raw, qPrintable(QString("%1 of %2").arg(miss).arg(raw)));
    }

    void lessSureSamplesCountLess() {
        std::mt19937 random(3);
        auto samples = sampled(Swing::value, 60.0, 0.004, random);
        samples[30].value += 0.5;
        samples[30].sd = 0.5;
        const auto curve = motion::smoothCurve(samples);
        QVERIFY(std::abs(curve.points[30].value - Swing::value(samples[30].time)) < 0.01);
        QVERIFY(curve.points[30].valueSd > curve.points[20].valueSd);
    }

    /// A landmark that a machine followed is off the same way for a while and scatters little: its
    /// speed is known better than its place.
    void sharedErrorsDoNotSpoilTheSpeed() {
        std::mt19937 random(13);
        std::normal_distribution<double> normal;
        constexpr double scatter = 0.003;
        constexpr double shared = 0.03;
        int within = 0;
        int placeWithin = 0;
        int all = 0;
        double missed = 0.0;
        double missedAsStated = 0.0;
        for (int draw = 0; draw < 40; ++draw) {
            const double off = shared * normal(random);
            auto samples = sampled(Swing::value, 120.0, scatter, random);
            for (Sample& s : samples) {
                s.value += off;
                s.sd = std::hypot(scatter, shared);
            }
            const auto seen = motion::smoothCurve(samples, motion::Scatter::seen);
            const auto stated = motion::smoothCurve(samples);
            for (std::size_t i = 0; i < samples.size(); ++i) {
                const motion::SmoothPoint& p = seen.points[i];
                within += std::abs(p.rate - Swing::rate(p.time)) < 1.96 * p.rateSd ? 1 : 0;
                placeWithin += std::abs(p.value - Swing::value(p.time)) < 1.96 * p.valueSd ? 1 : 0;
                ++all;
                missed += std::pow(p.rate - Swing::rate(p.time), 2);
                missedAsStated += std::pow(stated.points[i].rate - Swing::rate(p.time), 2);
            }
        }
        VERIFY_COVERAGE("speed where errors are shared", within, all);
        VERIFY_COVERAGE("place where errors are shared", placeWithin, all);
        QVERIFY2(missed < missedAsStated,
                 qPrintable(QString("%1, %2").arg(missed).arg(missedAsStated)));
    }

    void tooFewSamplesAreRefused() {
        const std::vector<Sample> few{{0.0, 1.0, 0.1}, {0.1, 1.0, 0.1}};
        QVERIFY_THROWS_EXCEPTION(std::invalid_argument, motion::smoothCurve(few));
    }
};

QTEST_GUILESS_MAIN(TestSmoothing)
#include "test_smoothing.moc"
