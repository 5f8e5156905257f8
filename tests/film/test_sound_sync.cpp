#include "film/sound.h"
#include "film/sound_sync.h"
#include "model/input_error.h"
#include "support/commands.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cmath>
#include <random>

using namespace kestrel;

namespace {

struct Knock {
    double time = 0.0;
    double loud = 0.0;
};

/// Steps, a bounce and a hit on a field, at uneven times.
std::vector<Knock> knocks(std::mt19937& random) {
    std::uniform_real_distribution<double> gap(0.25, 1.1);
    std::uniform_real_distribution<double> loud(0.05, 0.6);
    std::vector<Knock> result;
    for (double time = 0.5; time < 6.0; time += gap(random)) {
        result.push_back({time, loud(random)});
    }
    return result;
}

/// What a microphone hears of them: each a burst that rings out in a pitch of the microphone's own,
/// over wind of so much noise, with everything so much later.
std::vector<float> heard(const std::vector<Knock>& all, double later, double pitch, double noise,
                         std::mt19937& random) {
    std::normal_distribution<double> wind(0.0, noise);
    constexpr double seconds = 8.0;
    std::vector<float> samples(static_cast<std::size_t>(seconds * film::soundRate));
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const double time = static_cast<double>(i) / film::soundRate;
        double value = wind(random);
        for (const Knock& knock : all) {
            const double since = time - knock.time - later;
            if (since >= 0.0 && since < 0.2) {
                value += knock.loud * std::exp(-since / 0.02) * std::sin(6.283 * pitch * since);
            }
        }
        samples[i] = static_cast<float>(std::clamp(value, -1.0, 1.0));
    }
    return samples;
}

} // namespace

/// Two microphones on one field.
class TestSoundStep : public QObject {
    Q_OBJECT
  private slots:
    void theStepIsFound_data() {
        QTest::addColumn<double>("later");
        QTest::addColumn<double>("noise");
        QTest::addColumn<int>("fewest"); // of twelve fields
        QTest::newRow("later") << 0.4137 << 0.002 << 12;
        QTest::newRow("earlier") << -0.3312 << 0.002 << 12;
        QTest::newRow("together") << 0.0 << 0.005 << 12;
        QTest::newRow("windy: it may not be clear, but not wrong") << 1.2504 << 0.02 << 6;
    }
    void theStepIsFound() {
        QFETCH(double, later);
        QFETCH(double, noise);
        QFETCH(int, fewest);
        std::mt19937 random(17);
        constexpr int fields = 12;
        int inside = 0;
        int told = 0;
        for (int i = 0; i < fields; ++i) {
            const auto all = knocks(random);
            const auto first = heard(all, 0.0, 900.0, noise, random);
            const auto second = heard(all, later, 1700.0, noise, random);
            const auto step = film::syncOffsetOfSounds(first, second);
            if (!step) {
                continue;
            }
            ++told;
            QVERIFY2(std::abs(step->seconds - later) < 0.004,
                     qPrintable(QString::number(step->seconds)));
            inside += std::abs(step->seconds - later) <= 1.96 * step->sd ? 1 : 0;
        }
        QVERIFY2(told >= fewest, qPrintable(QString::number(told)));
        QVERIFY2(inside >= told - 1, qPrintable(QString::number(inside)));
    }

    /// Silence, steady noise, and two different fields tell nothing.
    void nothingClearIsSaidToBeNothing() {
        std::mt19937 random(23);
        const std::vector<float> silence(4 * film::soundRate, 0.0F);
        QVERIFY(!film::syncOffsetOfSounds(silence, silence));
        QVERIFY(!film::syncOffsetOfSounds({}, silence));
        int claimed = 0;
        for (int i = 0; i < 10; ++i) {
            const auto wind = heard({}, 0.0, 900.0, 0.05, random);
            const auto otherWind = heard({}, 0.0, 900.0, 0.05, random);
            claimed += film::syncOffsetOfSounds(wind, otherWind) ? 1 : 0;
        }
        QCOMPARE(claimed, 0);
        for (int i = 0; i < 10; ++i) {
            const auto here = heard(knocks(random), 0.0, 900.0, 0.005, random);
            const auto elsewhere = heard(knocks(random), 0.0, 900.0, 0.005, random);
            claimed += film::syncOffsetOfSounds(here, elsewhere) ? 1 : 0;
        }
        QVERIFY2(claimed <= 1, qPrintable(QString::number(claimed)));
    }

    /// In film files the sound may begin after the pictures.
    void filmsAreCountedFromTheirFirstPicture() {
        const QTemporaryDir folder;
        const auto in = [&](const char* name) {
            return std::filesystem::path(folder.filePath(name).toStdString());
        };
        std::mt19937 random(5);
        const auto all = knocks(random);
        film::writeWav(heard(all, 0.0, 900.0, 0.005, random), in("one.wav"));
        film::writeWav(heard(all, 0.3, 1500.0, 0.005, random), in("other.wav"));
        const auto filmed = [&](const char* sound, const char* soundLater, const char* name) {
            support::makeFilm({"-f", "lavfi", "-i", "testsrc2=size=64x64:rate=30:duration=8",
                               "-itsoffset", soundLater, "-i",
                               QString::fromStdString(in(sound).string()), "-map", "0:v", "-map",
                               "1:a", "-c:a", "aac"},
                              in(name));
            return in(name);
        };
        const auto one = filmed("one.wav", "0", "one.mp4");
        const auto other = filmed("other.wav", "0.25", "other.mp4");
        const auto step = film::syncOffsetBySound(one, other);
        QVERIFY(step.has_value());
        QVERIFY2(std::abs(step->seconds - 0.55) < 0.004,
                 qPrintable(QString::number(step->seconds)));
        support::makeFilm({"-f", "lavfi", "-i", "testsrc2=size=64x64:rate=30:duration=1"},
                          in("mute.mp4"));
        QVERIFY_THROWS_EXCEPTION(model::InputError, film::syncOffsetBySound(one, in("mute.mp4")));
    }
};

QTEST_GUILESS_MAIN(TestSoundStep)
#include "test_sound_sync.moc"
