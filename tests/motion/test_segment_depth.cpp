#include "motion/out_of_plane.h"
#include "motion/segment_depth.h"

#include "support/coverage.h"

#include <QtTest>

#include <array>
#include <cmath>
#include <random>

using namespace kestrel;
using model::Degrees;
using model::LimbFold;
using motion::Length;
using motion::SeenSegment;

namespace {

using Vector = std::array<double, 3>; // across, up, towards the camera

/// A segment that leaves the joint at `direction` in the picture and `tilt` out of it.
Vector segment(double length, double directionDeg, double tiltDeg) {
    const double d = directionDeg * M_PI / 180.0;
    const double t = tiltDeg * M_PI / 180.0;
    return {length * std::cos(t) * std::cos(d), length * std::cos(t) * std::sin(d),
            length * std::sin(t)};
}

double angle(const Vector& a, const Vector& b, int dimensions) {
    double dot = 0.0;
    double aa = 0.0;
    double bb = 0.0;
    for (std::size_t i = 0; i < static_cast<std::size_t>(dimensions); ++i) {
        dot += a[i] * b[i];
        aa += a[i] * a[i];
        bb += b[i] * b[i];
    }
    return std::acos(std::clamp(dot / std::sqrt(aa * bb), -1.0, 1.0)) * 180.0 / M_PI;
}

double seenLength(const Vector& v) {
    return std::hypot(v[0], v[1]);
}

} // namespace

/// Truth is made in space with vectors, not with the formula under test.
class TestSegmentDepth : public QObject {
    Q_OBJECT
  private slots:
    void inThePlaneItIsThePictureAngle();
    void aShortLookGivesTheTilt_data();
    void aShortLookGivesTheTilt();
    void withoutAWordBothWaysCount();
    void intervalsHoldTheTruth_data();
    void intervalsHoldTheTruth();
    void ownLengthIsBetterThanTheTable();
    void aLookCanBeTooShortToTellALength();
    void withoutALengthTheUsualTiltCounts();
};

void TestSegmentDepth::inThePlaneItIsThePictureAngle() {
    for (const double seen : {40.0, 90.0, 150.0}) {
        const SeenSegment full{{100.0, 0.5}, Length{100.0, 1.0}, Degrees(20.0)};
        const auto read = motion::jointAngleFromOneView(Degrees(seen), full, full, {});
        QCOMPARE(read.value.value, seen);
        // As surely as segments usually lie in the plane: lengths are not known well enough to
        // make it surer.
        const Degrees rms = motion::jointAngleRms(Degrees(seen), Degrees(20.0), Degrees(20.0));
        QVERIFY(std::abs(read.sd.value / rms.value - 1.0) < 0.1);
    }
}

void TestSegmentDepth::aShortLookGivesTheTilt_data() {
    QTest::addColumn<double>("apart");
    QTest::addColumn<double>("first");
    QTest::addColumn<double>("second");
    QTest::newRow("both nearer") << 100.0 << 40.0 << 35.0;
    QTest::newRow("both farther") << 70.0 << -50.0 << -30.0;
    QTest::newRow("through") << 150.0 << 45.0 << -40.0;
    QTest::newRow("through, the other way") << 120.0 << -35.0 << 55.0;
}

void TestSegmentDepth::aShortLookGivesTheTilt() {
    QFETCH(double, apart);
    QFETCH(double, first);
    QFETCH(double, second);
    const Vector a = segment(80.0, 10.0, first);
    const Vector b = segment(110.0, 10.0 + apart, second);
    const double real = angle(a, b, 3);
    const double seen = angle(a, b, 2);
    QVERIFY(std::abs(real - seen) > 5.0); // the picture misleads
    const SeenSegment one{{seenLength(a), 0.3}, Length{80.0, 0.5}, Degrees(20.0)};
    const SeenSegment other{{seenLength(b), 0.3}, Length{110.0, 0.5}, Degrees(20.0)};
    const LimbFold fold = first * second > 0.0 ? LimbFold::together : LimbFold::through;
    const auto read = motion::jointAngleFromOneView(Degrees(seen), one, other, fold);
    QVERIFY2(std::abs(read.value.value - real) < 2.0,
             qPrintable(QString::number(read.value.value)));
    QVERIFY(read.sd.value < 3.0);
    // The other way is told, too, and is another angle.
    const Degrees otherWay = fold == LimbFold::together ? read.through : read.together;
    const double mirrored = angle(a, segment(110.0, 10.0 + apart, -second), 3);
    QVERIFY(std::abs(otherWay.value - mirrored) < 2.0);
    QVERIFY(std::abs(mirrored - real) > 20.0);
}

void TestSegmentDepth::withoutAWordBothWaysCount() {
    const Vector a = segment(80.0, 0.0, 45.0);
    const Vector b = segment(80.0, 110.0, 45.0);
    const SeenSegment one{{seenLength(a), 0.3}, Length{80.0, 0.5}, Degrees(20.0)};
    const SeenSegment other{{seenLength(b), 0.3}, Length{80.0, 0.5}, Degrees(20.0)};
    const auto read = motion::jointAngleFromOneView(Degrees(angle(a, b, 2)), one, other, {});
    QCOMPARE(read.value.value, 0.5 * (read.together.value + read.through.value));
    const double half = 0.5 * std::abs(read.together.value - read.through.value);
    QVERIFY(half > 15.0);
    QVERIFY(read.sd.value >= 0.95 * half);
}

void TestSegmentDepth::intervalsHoldTheTruth_data() {
    QTest::addColumn<double>("usual");
    QTest::addColumn<double>("lengthSd");
    for (const double usual : {10.0, 20.0, 30.0}) {
        for (const double lengthSd : {0.01, 0.03, 0.05}) {
            QTest::addRow("usually %g°, length to %g %%", usual, 100 * lengthSd)
                << usual << lengthSd;
        }
    }
}

/// Limbs drawn as the reading supposes them, their lengths known no better than said.
void TestSegmentDepth::intervalsHoldTheTruth() {
    QFETCH(double, usual);
    QFETCH(double, lengthSd);
    std::mt19937 random(20261126);
    std::normal_distribution<double> tilt(0.0, usual);
    std::uniform_real_distribution<double> apart(20.0, 175.0);
    std::normal_distribution<double> unit;
    constexpr int draws = 1500;
    int inside = 0;
    int said = 0;
    int insideWhenSaid = 0;
    for (int i = 0; i < draws; ++i) {
        const double first = tilt(random);
        const double second = tilt(random);
        if (std::max(std::abs(first), std::abs(second)) > 80.0) {
            continue;
        }
        const Vector a = segment(100.0, 0.0, first);
        const Vector b = segment(100.0, apart(random), second);
        const double seen = angle(a, b, 2);
        const double real = angle(a, b, 3);
        const auto look = [&](const Vector& v) {
            return SeenSegment{{seenLength(v) + unit(random), 1.0},
                               Length{100.0 * (1.0 + lengthSd * unit(random)), 100.0 * lengthSd},
                               Degrees(usual)};
        };
        const SeenSegment one = look(a);
        const SeenSegment other = look(b);
        const auto holds = [&](const motion::AngleFromOneView& read) {
            return std::abs(read.value.value - real) <= 1.96 * read.sd.value;
        };
        ++said;
        inside += holds(motion::jointAngleFromOneView(Degrees(seen), one, other, {})) ? 1 : 0;
        const LimbFold fold = first * second > 0.0 ? LimbFold::together : LimbFold::through;
        insideWhenSaid +=
            holds(motion::jointAngleFromOneView(Degrees(seen), one, other, fold)) ? 1 : 0;
    }
    const double share = 100.0 * inside / said;
    const double shareWhenSaid = 100.0 * insideWhenSaid / said;
    qInfo("inside: %.1f %%, with the coach's word %.1f %%", share, shareWhenSaid);
    QVERIFY(share >= 90.0);
    QVERIFY(shareWhenSaid >= 90.0);
}

void TestSegmentDepth::ownLengthIsBetterThanTheTable() {
    std::mt19937 random(7);
    std::normal_distribution<double> unit;
    double tableSquare = 0.0;
    double ownSquare = 0.0;
    int inside = 0;
    constexpr int players = 400;
    for (int player = 0; player < players; ++player) {
        constexpr double table = 100.0;
        const double real = table * (1.0 + 0.05 * unit(random));
        std::vector<Length> seen;
        for (int position = 0; position < 8; ++position) {
            const double out = 25.0 * unit(random) * M_PI / 180.0;
            seen.push_back({real * std::abs(std::cos(out)) + unit(random), 1.0});
        }
        const auto own = motion::fullLength(Length{table, 5.0}, seen);
        QVERIFY(own.has_value());
        tableSquare += (table - real) * (table - real);
        ownSquare += (own->px - real) * (own->px - real);
        inside += std::abs(own->px - real) <= 1.96 * own->sdPx ? 1 : 0;
    }
    qInfo("rms %.1f %% of the table, %.1f %% from the film, %.0f %% inside",
          std::sqrt(tableSquare / players), std::sqrt(ownSquare / players),
          100.0 * inside / players);
    QVERIFY(ownSquare < 0.5 * tableSquare);
    VERIFY_COVERAGE("a limb's own length", inside, players);
}

/// A limb that always points at the camera says nothing of its length but that it is longer.
void TestSegmentDepth::aLookCanBeTooShortToTellALength() {
    const std::vector<Length> seen{{40.0, 1.0}, {55.0, 1.0}};
    const auto own = motion::fullLength(Length{100.0, 5.0}, seen);
    QVERIFY(std::abs(own->px - 100.0) < 6.0);
    QVERIFY(!motion::fullLength(std::nullopt, {}).has_value());
    QCOMPARE(motion::fullLength(Length{100.0, 5.0}, {})->px, 100.0);
}

void TestSegmentDepth::withoutALengthTheUsualTiltCounts() {
    const SeenSegment any{{60.0, 0.5}, {}, Degrees(15.0)};
    const auto read = motion::jointAngleFromOneView(Degrees(80.0), any, any, {});
    QVERIFY(std::abs(read.value.value - 80.0) < 0.5);
    const Degrees rms = motion::jointAngleRms(Degrees(80.0), Degrees(15.0), Degrees(15.0));
    QVERIFY(std::abs(read.sd.value / rms.value - 1.0) < 0.1);
}

QTEST_GUILESS_MAIN(TestSegmentDepth)
#include "test_segment_depth.moc"
