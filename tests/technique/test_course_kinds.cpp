#include "support/coverage.h"
#include "support/test_films.h"
#include "technique/kinds/course_kinds.h"
#include "words/words.h"

#include <QTest>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <random>

using namespace kestrel;
using model::Point2;
using technique::CourseInput;
using technique::CoursePoint;
using technique::CourseValue;

namespace {

constexpr double rate = 240.0;
constexpr double clickSd = 1.5;
using Where = std::function<Point2(double time)>;

/// The path of a point as a coach would place it from frame to frame.
CoursePoint placed(const char* name, const Where& where, std::mt19937& random,
                   double sd = clickSd) {
    std::normal_distribution<double> error(0.0, sd);
    CoursePoint point;
    point.name = model::asItIs(name);
    for (int i = -48; i <= 96; ++i) {
        const double time = i / rate;
        point.places.push_back({time, where(time) + Point2{error(random), error(random)}, sd});
    }
    return point;
}

CourseInput input(std::vector<CoursePoint> points, double from, double to) {
    return {std::move(points), {from, to}, rate, 600.0};
}

double logistic(double x) {
    return 1.0 / (1.0 + std::exp(-x));
}

/// The end of a forearm of 130 px that opens from 90° by 80°, fastest at `when`, where it turns by
/// `fastest` degrees a second.
Where opening(double when, double fastest) {
    return [=](double time) {
        const double scale = 80.0 / (4.0 * fastest);
        const double angle =
            model::toRadians(model::Degrees(90.0 + 80.0 * logistic((time - when) / scale)));
        // The upper arm points from the joint at (300, 300) straight up.
        return Point2{300.0 + 130.0 * std::sin(angle), 300.0 - 130.0 * std::cos(angle)};
    };
}
Point2 joint(double /*time*/) {
    return {300.0, 300.0};
}
Point2 upper(double /*time*/) {
    return {300.0, 160.0};
}

std::vector<CoursePoint> arm(double when, double fastest, std::mt19937& random) {
    return {placed("shoulder", upper, random), placed("elbow", joint, random),
            placed("wrist", opening(when, fastest), random)};
}

/// A path of slowly turning direction: an arc of a large circle, gone at 2400 px/s, that runs
/// `upAngle` degrees upwards at time 0 and turns by `turn` degrees a second.
Where arc(double upAngle, double turn, int way) {
    return [=](double time) {
        const double rateOfTurn = model::toRadians(model::Degrees(turn));
        const double start = model::toRadians(model::Degrees(upAngle));
        const double radius = 2400.0 / rateOfTurn;
        const double a = start + rateOfTurn * time;
        return Point2{600.0 + way * radius * (std::sin(a) - std::sin(start)),
                      400.0 + radius * (std::cos(a) - std::cos(start))};
    };
}

Where straight(double upAngle, double speed, int way) {
    return [=](double time) {
        const double a = model::toRadians(model::Degrees(upAngle));
        return Point2{600.0 + way * speed * time * std::cos(a), 400.0 - speed * time * std::sin(a)};
    };
}

/// How well many noisy rounds agree with a truth.
struct Agreement {
    int rounds = 0;
    int within = 0;
    double square = 0.0;

    void add(const CourseValue& read, double truth) {
        ++rounds;
        within += std::abs(*read.value - truth) <= 1.96 * read.sd ? 1 : 0;
        square += std::pow(*read.value - truth, 2);
    }
    [[nodiscard]] double rms() const { return std::sqrt(square / rounds); }
};

constexpr int rounds = 100;

} // namespace

/// Kinds over a stretch of time, on motions whose answer is known from their formula.
class TestCourseKinds : public QObject {
    Q_OBJECT
  private slots:
    void jointsOpenAsFastAsTheyDo() {
        std::mt19937 random(1);
        Agreement speed;
        Agreement ratio;
        for (int i = 0; i < rounds; ++i) {
            CourseInput one = input(arm(0.10, 900.0, random), 0.0, 0.25);
            const CourseValue read = technique::peakExtension(one);
            QVERIFY2(read.value.has_value(), words::plain(read.refusal).c_str());
            speed.add(read, 900.0);
            std::vector<CoursePoint> both = arm(0.09, 600.0, random);
            for (CoursePoint& point : arm(0.12, 900.0, random)) {
                both.push_back(std::move(point));
            }
            CourseInput two = input(std::move(both), 0.0, 0.25);
            ratio.add(technique::extensionRatio(two), 1.5);
        }
        qInfo("speed rms %.0f °/s; ratio rms %.2f", speed.rms(), ratio.rms());
        QVERIFY(speed.rms() < 0.06 * 900.0);
        VERIFY_COVERAGE("joint opening speed", speed.within, speed.rounds);
        QVERIFY(ratio.rms() < 0.12);
        VERIFY_COVERAGE("ratio of opening speeds", ratio.within, ratio.rounds);
    }

    /// A joint that closes faster than it opens is read where it opens.
    void closingDoesNotCount() {
        std::mt19937 random(2);
        const Where opens = opening(0.08, 500.0);
        const Where turns = [&](double time) {
            const Point2 at = opens(time);
            const double back = 70.0 * logistic((time - 0.25) / 0.012);
            const double angle =
                std::atan2(at.x - 300.0, 300.0 - at.y) - model::toRadians(model::Degrees(back));
            return Point2{300.0 + 130.0 * std::sin(angle), 300.0 - 130.0 * std::cos(angle)};
        };
        CourseInput one = input({placed("hip", upper, random), placed("knee", joint, random),
                                 placed("ankle", turns, random)},
                                0.0, 0.35);
        const CourseValue read = technique::peakExtension(one);
        QVERIFY2(read.value.has_value(), words::plain(read.refusal).c_str());
        QVERIFY2(std::abs(*read.value - 500.0) < 60.0, qPrintable(QString::number(*read.value)));
    }

    void openingIsPlacedInTheSequence() {
        std::mt19937 random(3);
        const Where burst = [](double time) {
            return Point2{200.0 + 300.0 * logistic((time - 0.08) / 0.018), 500.0};
        };
        Agreement after;
        Agreement before;
        for (int i = 0; i < rounds; ++i) {
            std::vector<CoursePoint> points = arm(0.12, 900.0, random);
            points.insert(points.begin(), placed("shoulder", burst, random));
            CourseInput first = input(points, 0.0, 0.22);
            after.add(technique::extensionAfter(first), 40.0);
            std::rotate(points.begin(), points.begin() + 1, points.end());
            CourseInput second = input(std::move(points), 0.0, 0.22);
            before.add(technique::peakAfterExtension(second), -40.0);
        }
        qInfo("rms %.1f and %.1f ms", after.rms(), before.rms());
        QVERIFY(after.rms() < 5.0);
        QVERIFY(before.rms() < 5.0);
        VERIFY_COVERAGE("opening after a peak", after.within, after.rounds);
        VERIFY_COVERAGE("peak after an opening", before.within, before.rounds);
    }

    /// Within 3° of the truth, and the doubt honest, whichever way the path runs.
    void pathsRunAsSteeplyAsTheyDo_data() {
        QTest::addColumn<double>("angle");
        QTest::addColumn<int>("way");
        QTest::newRow("up to the right") << 10.0 << 1;
        QTest::newRow("up to the left") << 10.0 << -1;
        QTest::newRow("down") << -7.0 << 1;
    }
    void pathsRunAsSteeplyAsTheyDo() {
        QFETCH(double, angle);
        QFETCH(int, way);
        std::mt19937 random(4);
        Agreement agreement;
        for (int i = 0; i < rounds; ++i) {
            CourseInput one =
                input({placed("bat", arc(angle, 400.0, way), random)}, -0.0126, 0.0126);
            const CourseValue read = technique::pathAngle(one);
            QVERIFY2(read.value.has_value(), words::plain(read.refusal).c_str());
            agreement.add(read, angle);
        }
        qInfo("rms %.2f°", agreement.rms());
        QVERIFY(agreement.rms() < 3.0);
        VERIFY_COVERAGE(QString("steepness of a path, ") + QTest::currentDataTag(),
                        agreement.within, agreement.rounds);
        CourseInput still = input({placed("bat", joint, random)}, -0.0126, 0.0126);
        QVERIFY(!technique::pathAngle(still).value);
    }

    void batAndBallAreComparedWhicheverWayTheyCome() {
        std::mt19937 random(5);
        Agreement difference;
        Agreement window;
        // Within 8° of the ball's line the bat turns by 16°.
        const double turn = 300.0; // degrees a second
        const double agreeing = 2400.0 * 16.0 / turn / 600.0;
        for (int i = 0; i < rounds; ++i) {
            // The ball falls towards the left by 6°, so that its line rises to the right by 6°.
            CourseInput one = input({placed("bat", arc(10.0, turn, 1), random),
                                     placed("ball", straight(-6.0, 3000.0, -1), random)},
                                    -0.0126, 0.0126);
            difference.add(technique::pathDifference(one), 4.0);
            CourseInput wide = input({placed("bat", arc(6.0, turn, 1), random),
                                      placed("ball", straight(-6.0, 3000.0, -1), random)},
                                     -0.06, 0.06);
            window.add(technique::pathAgreement(wide), agreeing);
        }
        qInfo("difference rms %.2f°; window %.3f, rms %.3f heights", difference.rms(), agreeing,
              window.rms());
        QVERIFY(difference.rms() < 3.0);
        VERIFY_COVERAGE("difference of paths", difference.within, difference.rounds);
        QVERIFY(window.rms() < 0.15 * agreeing);
        VERIFY_COVERAGE("agreement of paths", window.within, window.rounds);
    }

    void sharesOfSpeedAddUp() {
        std::mt19937 random(6);
        Agreement share;
        for (int i = 0; i < rounds; ++i) {
            // The arm goes along with three tenths of the racket's speed, and sideways besides.
            const Where arm = [](double time) {
                return Point2{100.0 + 600.0 * time, 300.0 + 400.0 * time};
            };
            const Where racket = [](double time) { return Point2{100.0 + 2000.0 * time, 200.0}; };
            CourseInput one =
                input({placed("elbow", arm, random), placed("racket", racket, random)}, 0.0, 0.03);
            share.add(technique::speedShare(one), 30.0);
        }
        qInfo("share rms %.1f %%", share.rms());
        QVERIFY(share.rms() < 4.0);
        VERIFY_COVERAGE("share of speed", share.within, share.rounds);
    }

    void meanAccelerationIsSpeedSquaredOverTwiceTheWay() {
        std::mt19937 random(7);
        Agreement agreement;
        // Half a sine of speed, v at its top after `half`: it has gone 2v·half/π by then.
        const double top = 2400.0;
        const double half = 0.2;
        const double pi = std::acos(-1.0);
        const double truth = top * top / (2.0 * 2.0 * top * half / pi) / 600.0;
        for (int i = 0; i < rounds; ++i) {
            const Where burst = [&](double time) {
                const double t = std::clamp(time, 0.0, 2.0 * half);
                // The integral of v·sin(πt/2half).
                return Point2{
                    100.0 + top * 2.0 * half / pi * (1.0 - std::cos(pi * t / (2.0 * half))), 300.0};
            };
            CourseInput one = input({placed("hand", burst, random)}, 0.0, 0.35);
            const CourseValue read = technique::meanAcceleration(one);
            QVERIFY2(read.value.has_value(), words::plain(read.refusal).c_str());
            agreement.add(read, truth);
        }
        qInfo("rms %.2f heights/s²", agreement.rms());
        VERIFY_COVERAGE("mean acceleration", agreement.within, agreement.rounds);
    }

    /// An even push, v² = 2ad, is 100 %; half a sine of speed has sin² against 1 − cos, whose gap
    /// is a quarter half-way.
    void evenRiseComparesSpeedSquaredWithTheWay() {
        std::mt19937 random(9);
        constexpr double half = 0.2;
        const double pi = std::acos(-1.0);
        const Where evenly = [&](double time) {
            const double t = std::max(0.0, time);
            constexpr double push = 12000.0; // px/s²
            const double pushed = std::min(t, half);
            return Point2{100.0 + 0.5 * push * pushed * pushed +
                              push * half * std::max(0.0, t - half),
                          300.0};
        };
        const Where sine = [&](double time) {
            const double t = std::clamp(time, 0.0, 2.0 * half);
            return Point2{
                100.0 + 2400.0 * 2.0 * half / pi * (1.0 - std::cos(pi * t / (2.0 * half))), 300.0};
        };
        Agreement agreement;
        for (int i = 0; i < rounds; ++i) {
            CourseInput rising = input({placed("hand", sine, random)}, 0.0, 0.35);
            agreement.add(technique::evenRise(rising), 75.0);
            CourseInput even = input({placed("hand", evenly, random)}, 0.0, 0.2);
            const CourseValue read = technique::evenRise(even);
            QVERIFY(read.value && *read.value > 90.0 && *read.value <= 100.0);
        }
        qInfo("rms %.1f %%", agreement.rms());
        QVERIFY(agreement.rms() < 4.0);
        VERIFY_COVERAGE("even rise", agreement.within, agreement.rounds);
        CourseInput still = input({placed(
                                      "hand",
                                      [](double) {
                                          return Point2{300.0, 300.0};
                                      },
                                      random)},
                                  0.0, 0.01);
        QVERIFY(!technique::evenRise(still).value);
    }

    /// Turns the coach counted become a rate: within 3 % with eight turns.
    void countedTurnsGiveSpin() {
        technique::Pack pack = support::pitchPack();
        technique::Measure spin;
        spin.id = "spin";
        spin.kind = technique::findKind("spin_rate");
        spin.unit = spin.kind->unit;
        spin.from = "set";
        spin.at = "release";
        spin.note = "turns of the seam";
        pack.measures = {spin};
        technique::Circumstances c = support::openSide(support::rightHander().spec);
        model::Rep rep;
        rep.positions = {{"set", 100}, {"release", 124}}; // 200 ms at 120 frames a second
        const auto read = [&] { return technique::evaluate(pack, rep, c).front(); };
        QCOMPARE(read().missing->kind, model::MissingReason::Kind::notCounted);
        rep.counts["spin"] = 8.0;
        QVERIFY(std::abs(*read().value - 2400.0) < 1e-6);
        QVERIFY2(read().u95 < 0.06 * 2400.0, qPrintable(QString::number(read().u95)));
        QVERIFY(read().u95 > 0.02 * 2400.0);
        rep.positions.erase("set");
        QCOMPARE(read().missing->kind, model::MissingReason::Kind::positionNotSet);
    }

    void alignmentIsTheFarthestOffTheLine() {
        const std::array points{Point2{100, 500}, Point2{104, 400}, Point2{96, 300},
                                Point2{100, 200}, Point2{130, 100}};
        const auto* kind = technique::findKind("alignment");
        // The mean is 106, the last point 24 beside it; 600 pixels of height.
        QVERIFY(std::abs(kind->as<technique::InstantKind>()->value({points, 600.0, 1, 0.0}) -
                         24.0 / 600.0) < 1e-9);
    }
};

QTEST_GUILESS_MAIN(TestCourseKinds)
#include "test_course_kinds.moc"
