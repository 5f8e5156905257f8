#include "motion/instants.h"

#include <QTest>

#include <cmath>
#include <functional>
#include <numbers>
#include <random>

using namespace kestrel;
using motion::Sample;

namespace {

using Curve = std::function<double(double)>;

/// `curve` seen every `interval` seconds from 0 to 1, give or take a quarter of it, with noise.
std::vector<Sample> sampled(const Curve& curve, double interval, double noise, unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal;
    std::uniform_real_distribution<double> early(-0.25, 0.25);
    std::vector<Sample> samples;
    for (double t = 0.0; t <= 1.0; t += interval) {
        const double time = t + interval * early(random);
        samples.push_back({time, curve(time) + noise * normal(random), noise > 0.0 ? noise : 1.0});
    }
    return samples;
}

/// One hump, highest at `top`.
Curve hump(double top) {
    return [top](double t) { return std::cos(2.0 * (t - top)); };
}

} // namespace

/// Instants of signals against curves whose turns and passes are known.
class TestInstants : public QObject {
    Q_OBJECT
  private slots:
    void aParabolaIsFittedExactly();
    void fewSamplesGiveNoFit();
    void beyondTheSamplesThereIsNoFit();
    void errorsOfTheFitAreThoseOfMonteCarlo();
    void aPeakIsFoundBetweenSamples();
    void theHighestPeakComesFirst();
    void anEndIsNoPeak();
    void errorOfAPeakIsThatOfMonteCarlo();
    void passesComeInOrder();
    void errorOfAPassIsThatOfMonteCarlo();
    void upsideDownTroughsArePeaks();
    void extentIsThatOfTheCurve();
};

void TestInstants::aParabolaIsFittedExactly() {
    const auto samples =
        sampled([](double t) { return 3.0 - 2.0 * t + 5.0 * t * t; }, 0.01, 0.0, 1);
    const auto fit = motion::fitLocally(samples, 0.437, 0.06);
    QVERIFY(fit.has_value());
    QVERIFY(std::abs(fit->value - (3.0 - 2.0 * 0.437 + 5.0 * 0.437 * 0.437)) < 1e-9);
    QVERIFY(std::abs(fit->rate - (-2.0 + 10.0 * 0.437)) < 1e-7);
    QVERIFY(std::abs(fit->bend - 10.0) < 1e-5);
    QVERIFY(fit->valueSd < 1e-9);
}

void TestInstants::fewSamplesGiveNoFit() {
    const auto samples = sampled(hump(0.5), 0.02, 0.0, 1);
    QVERIFY(!motion::fitLocally(samples, 0.5, 0.02).has_value());
    QVERIFY(motion::fitLocally(samples, 0.5, 0.06).has_value());
    QVERIFY(!motion::fitLocally({}, 0.5, 0.06).has_value());
}

void TestInstants::beyondTheSamplesThereIsNoFit() {
    const auto samples = sampled(hump(0.5), 0.02, 0.0, 1);
    QVERIFY(!motion::fitLocally(samples, 1.05, 0.2).has_value());
    QVERIFY(!motion::fitLocally(samples, -0.05, 0.2).has_value());
}

void TestInstants::errorsOfTheFitAreThoseOfMonteCarlo() {
    constexpr int trials = 4000;
    constexpr double noise = 0.02;
    double value2 = 0.0;
    double rate2 = 0.0;
    double stated2 = 0.0;
    double statedRate2 = 0.0;
    const Curve curve = [](double t) { return 1.0 + t + t * t; };
    for (unsigned seed = 0; seed < trials; ++seed) {
        const auto fit = motion::fitLocally(sampled(curve, 0.01, noise, seed), 0.5, 0.08);
        value2 += std::pow(fit->value - curve(0.5), 2);
        rate2 += std::pow(fit->rate - 2.0, 2);
        stated2 += fit->valueSd * fit->valueSd;
        statedRate2 += fit->rateSd * fit->rateSd;
    }
    QVERIFY2(std::abs(std::sqrt(stated2 / value2) - 1.0) < 0.05,
             qPrintable(QString::number(std::sqrt(stated2 / value2))));
    QVERIFY2(std::abs(std::sqrt(statedRate2 / rate2) - 1.0) < 0.05,
             qPrintable(QString::number(std::sqrt(statedRate2 / rate2))));
}

void TestInstants::aPeakIsFoundBetweenSamples() {
    for (const double top : {0.41, 0.4137, 0.42, 0.5}) {
        const auto tops = motion::peaks(sampled(hump(top), 1.0 / 60.0, 0.0, 3), {0.1, 0.9}, 0.05);
        QCOMPARE(tops.size(), std::size_t{1});
        QVERIFY2(std::abs(tops.front().time - top) < 0.0005,
                 qPrintable(QString::number(tops.front().time)));
        QVERIFY(std::abs(tops.front().value - 1.0) < 0.001);
    }
}

void TestInstants::theHighestPeakComesFirst() {
    // Peaks at about 0.25 and 0.75; the second one is higher.
    const Curve two = [](double t) {
        return std::sin(4.0 * std::numbers::pi * t - std::numbers::pi / 2.0) + t;
    };
    const auto tops = motion::peaks(sampled(two, 0.01, 0.0, 1), {0.05, 0.95}, 0.05);
    QCOMPARE(tops.size(), std::size_t{2});
    QVERIFY(tops[0].time > 0.7 && tops[0].time < 0.8);
    QVERIFY(tops[1].time > 0.2 && tops[1].time < 0.3);
    const auto early = motion::peaks(sampled(two, 0.01, 0.0, 1), {0.05, 0.5}, 0.05);
    QCOMPARE(early.size(), std::size_t{1});
    QVERIFY(early.front().time < 0.3);
}

void TestInstants::anEndIsNoPeak() {
    const Curve rising = [](double t) { return t; };
    QVERIFY(motion::peaks(sampled(rising, 0.01, 0.0, 1), {0.1, 0.9}, 0.05).empty());
}

void TestInstants::errorOfAPeakIsThatOfMonteCarlo() {
    constexpr int trials = 3000;
    double error2 = 0.0;
    double stated2 = 0.0;
    for (unsigned seed = 0; seed < trials; ++seed) {
        const auto tops =
            motion::peaks(sampled(hump(0.5), 1.0 / 120.0, 0.004, seed), {0.2, 0.8}, 0.12);
        QVERIFY(!tops.empty());
        error2 += std::pow(tops.front().time - 0.5, 2);
        stated2 += tops.front().sd * tops.front().sd;
    }
    const double ratio = std::sqrt(stated2 / error2);
    QVERIFY2(std::abs(ratio - 1.0) < 0.15, qPrintable(QString::number(ratio)));
}

void TestInstants::passesComeInOrder() {
    const Curve wave = [](double t) { return std::sin(4.0 * std::numbers::pi * t); };
    // sin passes one half upwards at a twelfth of its period of 0.5 s.
    const auto up = motion::rises(sampled(wave, 0.005, 0.0, 1), {0.02, 0.98}, 0.02, 0.5);
    QCOMPARE(up.size(), std::size_t{2});
    QVERIFY2(std::abs(up[0].time - 0.5 / 12.0) < 0.001, qPrintable(QString::number(up[0].time)));
    QVERIFY(std::abs(up[1].time - 0.5 - 0.5 / 12.0) < 0.001);
    QVERIFY(motion::rises(sampled(wave, 0.005, 0.0, 1), {0.02, 0.98}, 0.02, 1.5).empty());
}

void TestInstants::errorOfAPassIsThatOfMonteCarlo() {
    constexpr int trials = 3000;
    const Curve slope = [](double t) { return 3.0 * t; };
    double error2 = 0.0;
    double stated2 = 0.0;
    for (unsigned seed = 0; seed < trials; ++seed) {
        const auto up =
            motion::rises(sampled(slope, 1.0 / 120.0, 0.02, seed), {0.1, 0.9}, 0.06, 1.5);
        QCOMPARE(up.size(), std::size_t{1});
        error2 += std::pow(up.front().time - 0.5, 2);
        stated2 += up.front().sd * up.front().sd;
    }
    const double ratio = std::sqrt(stated2 / error2);
    QVERIFY2(std::abs(ratio - 1.0) < 0.15, qPrintable(QString::number(ratio)));
}

void TestInstants::upsideDownTroughsArePeaks() {
    const Curve valley = [](double t) { return -std::cos(2.0 * (t - 0.37)); };
    const auto samples = sampled(valley, 0.01, 0.0, 1);
    QVERIFY(motion::peaks(samples, {0.1, 0.9}, 0.05).empty());
    const auto troughs = motion::peaks(motion::upsideDown(samples), {0.1, 0.9}, 0.05);
    QCOMPARE(troughs.size(), std::size_t{1});
    QVERIFY(std::abs(troughs.front().time - 0.37) < 0.0005);
}

void TestInstants::extentIsThatOfTheCurve() {
    const auto samples = sampled(hump(0.5), 0.005, 0.0, 1);
    const auto range = motion::extent(samples, {0.2, 0.8}, 0.03);
    QVERIFY(range.has_value());
    QVERIFY(std::abs(range->high - 1.0) < 0.001);
    QVERIFY(std::abs(range->low - std::cos(0.6)) < 0.01);
    QVERIFY(!motion::extent(samples, {2.0, 3.0}, 0.03).has_value());
}

QTEST_APPLESS_MAIN(TestInstants)
#include "test_instants.moc"
