#include "model/clip_time.h"
#include "model/landmark.h"
#include "model/reading.h"
#include "model/record.h"

#include <QTest>

#include <cmath>
#include <numbers>
#include <set>

using namespace kestrel::model;

namespace {

std::vector<Seconds> evenTimes(int count, double rate) {
    std::vector<Seconds> times;
    for (int i = 0; i < count; ++i) {
        times.emplace_back(i / rate);
    }
    return times;
}

} // namespace

/// The plain values that everything else is said in.
class TestValues : public QObject {
    Q_OBJECT
  private slots:
    void slowMotionTimeIsTimeOnTheField();
    void intervalsOfVariableRateAreLocal();
    void frameAtATimeIsTheOneShown();
    void speedChangesInsideAFileAreCounted();
    void aMovedCameraCarriesPointsBack();
    void everyLandmarkHasANameAndAMirror();
    void sidesFollowNames();
    void verdictNeedsTheWholeInterval_data();
    void verdictNeedsTheWholeInterval();
    void distanceBeyondHasASign();
    void uncertaintyPartsAddInSquares();
    void ageCountsBirthdays_data();
    void ageCountsBirthdays();
    void daysAreThoseOfTheCalendar();
    void targetLiesWhereTheViewSaysIt();
};

void TestValues::slowMotionTimeIsTimeOnTheField() {
    const ClipTime time(evenTimes(61, 30.0), slowdown(30.0, 240.0));
    // 24 frames at 240 a second are a tenth of a second, whatever the file says.
    QVERIFY(std::abs(elapsed(time, 10, 34).value - 0.1) < 1e-12);
    QVERIFY(std::abs(elapsed(time, 34, 10).value + 0.1) < 1e-12);
    QVERIFY(std::abs(frameInterval(time, 20).value - 1.0 / 240.0) < 1e-12);
    QVERIFY_EXCEPTION_THROWN((void)elapsed(time, 0, 61), std::out_of_range);
}

void TestValues::intervalsOfVariableRateAreLocal() {
    ClipTime time({Seconds(0.0), Seconds(0.1), Seconds(0.2), Seconds(0.6)});
    QCOMPARE(frameInterval(time, 0).value, 0.1);
    QVERIFY(std::abs(frameInterval(time, 2).value - 0.25) < 1e-12);
    QVERIFY(std::abs(frameInterval(time, 3).value - 0.4) < 1e-12);
    time = ClipTime({Seconds(0.0)}, 1.0);
    QCOMPARE(frameInterval(time, 0).value, 0.0);
}

void TestValues::frameAtATimeIsTheOneShown() {
    const ClipTime time({Seconds(0.5), Seconds(0.6), Seconds(0.9)}, 1.0);
    QCOMPARE(frameAtFileTime(time, Seconds(0.0)), 0);
    QCOMPARE(frameAtFileTime(time, Seconds(0.6)), 1);
    QCOMPARE(frameAtFileTime(time, Seconds(0.89)), 1);
    QCOMPARE(frameAtFileTime(time, Seconds(7.0)), 2);
}

void TestValues::speedChangesInsideAFileAreCounted() {
    // 30 a second; frames 0–19 as it happened, 20–39 eight times slowed, then as it happened.
    const ClipTime time(evenTimes(60, 30.0),
                        std::vector<SpeedStretch>{{0, 1.0}, {20, 8.0}, {40, 1.0}});
    QVERIFY(std::abs(elapsed(time, 0, 20).value - 20.0 / 30.0) < 1e-12);
    QVERIFY(std::abs(elapsed(time, 20, 40).value - 20.0 / 240.0) < 1e-12);
    QVERIFY(std::abs(elapsed(time, 0, 59).value - (39.0 / 30.0 + 20.0 / 240.0)) < 1e-12);
    QVERIFY(std::abs(frameInterval(time, 30).value - 1.0 / 240.0) < 1e-12);
    // Going to a time on the field and back.
    for (int frame = 0; frame < 60; ++frame) {
        QCOMPARE(frameAtFieldTime(time, elapsed(time, 0, frame) + Seconds(1e-9)), frame);
    }
    // Frames before the first stretch run as it does; no stretch is ordinary film.
    const ClipTime late(evenTimes(10, 10.0), std::vector<SpeedStretch>{{5, 2.0}});
    QVERIFY(std::abs(elapsed(late, 0, 9).value - 0.45) < 1e-12);
    const ClipTime plain(evenTimes(10, 10.0), std::vector<SpeedStretch>{});
    QVERIFY(std::abs(elapsed(plain, 0, 9).value - 0.9) < 1e-12);
}

void TestValues::aMovedCameraCarriesPointsBack() {
    // A camera that turned by 3°, zoomed by 2 % and shifted: there and back is the same point.
    const double turn = 3.0 * std::numbers::pi / 180.0;
    const CameraPose pose{1.02 * std::cos(turn), 1.02 * std::sin(turn), 14.0, -7.5, 0.3};
    const Point2 p{320.25, 77.5};
    const Point2 back = carriedFromFirst(pose, carriedToFirst(pose, p));
    QVERIFY(length(back - p) < 1e-9);
    const Point2 origin = carriedToFirst(pose, {0.0, 0.0});
    QCOMPARE(origin.x, 14.0);
    QCOMPARE(origin.y, -7.5);
}

void TestValues::everyLandmarkHasANameAndAMirror() {
    std::set<std::string_view> names;
    for (const Landmark landmark : allLandmarks()) {
        names.insert(name(landmark));
        QCOMPARE(landmarkFromName(name(landmark)), std::optional(landmark));
        QCOMPARE(mirrored(mirrored(landmark)), landmark);
    }
    QCOMPARE(names.size(), allLandmarks().size());
    QVERIFY(!landmarkFromName("lead_knee"));
}

void TestValues::sidesFollowNames() {
    QCOMPARE(sideOf(Landmark::leftKnee), std::optional(Side::left));
    QCOMPARE(mirrored(Landmark::leftKnee), Landmark::rightKnee);
    QVERIFY(!sideOf(Landmark::headTop));
    QCOMPARE(mirrored(Landmark::ball), Landmark::ball);
}

void TestValues::verdictNeedsTheWholeInterval_data() {
    QTest::addColumn<double>("value");
    QTest::addColumn<double>("u95");
    QTest::addColumn<int>("verdict");
    const auto row = [](const char* name, double value, double u95, Verdict verdict) {
        QTest::newRow(name) << value << u95 << static_cast<int>(verdict);
    };
    row("well inside", 50.0, 4.0, Verdict::inside);
    row("inside, touching", 44.0, 4.0, Verdict::inside);
    row("crosses from inside", 42.0, 4.0, Verdict::edge);
    row("crosses from outside", 38.0, 4.0, Verdict::edge);
    row("two degrees off, measured to four", 62.0, 4.0, Verdict::edge);
    row("outside", 66.0, 4.0, Verdict::outside);
    row("too uncertain to say", 50.0, 40.0, Verdict::edge);
}

void TestValues::verdictNeedsTheWholeInterval() {
    QFETCH(double, value);
    QFETCH(double, u95);
    QFETCH(int, verdict);
    QCOMPARE(static_cast<int>(judge(value, u95, Range{40.0, 60.0})), verdict);
    if (value > 45.0) { // an open limit is never crossed
        QVERIFY(judge(value, 4.0, Range{40.0, {}}) == Verdict::inside);
    }
}

void TestValues::distanceBeyondHasASign() {
    const Range range{40.0, 60.0};
    QCOMPARE(distanceBeyond(35.0, range), -5.0);
    QCOMPARE(distanceBeyond(50.0, range), 0.0);
    QCOMPARE(distanceBeyond(63.0, range), 3.0);
    QCOMPARE(distanceBeyond(1e6, Range{40.0, {}}), 0.0);
}

void TestValues::uncertaintyPartsAddInSquares() {
    const UncertaintyParts parts{1.0, 2.0, 2.0, 4.0};
    QCOMPARE(parts.combined(), 5.0);
}

void TestValues::ageCountsBirthdays_data() {
    QTest::addColumn<QString>("born");
    QTest::addColumn<QString>("day");
    QTest::addColumn<int>("age"); // −1: not known
    QTest::newRow("day before birthday") << "2014-05-09"
                                         << "2026-05-08" << 11;
    QTest::newRow("birthday") << "2014-05-09"
                              << "2026-05-09" << 12;
    QTest::newRow("leap day") << "2012-02-29"
                              << "2026-02-28" << 13;
    QTest::newRow("unknown") << ""
                             << "2026-05-09" << -1;
    QTest::newRow("born later") << "2027-01-01"
                                << "2026-05-09" << -1;
}

void TestValues::ageCountsBirthdays() {
    QFETCH(QString, born);
    QFETCH(QString, day);
    QFETCH(int, age);
    const auto known = [](const QString& text) {
        return dayFromIso(text.toStdString()).value_or(Day());
    };
    QCOMPARE(ageInYears(known(born), known(day)).value_or(-1), age);
}

void TestValues::daysAreThoseOfTheCalendar() {
    for (const char* text :
         {"2014-02-30", "9 May 2014", "2014-5-09", "2014-05-09 ", "2014-13-01"}) {
        QVERIFY2(!dayFromIso(text), text);
    }
    QVERIFY(dayFromIso("")->empty());
    for (const char* text : {"1969-12-31", "1970-01-01", "2000-02-29", "2026-11-30"}) {
        QCOMPARE(dayFromIso(text)->iso(), std::string(text));
        QCOMPARE(QDate(1970, 1, 1).addDays(dayFromIso(text)->sinceEpoch()),
                 QDate::fromString(text, Qt::ISODate));
    }
    const Day monday = *dayFromIso("2026-11-30");
    QCOMPARE(weekdayOf(monday), std::optional(1));
    QCOMPARE(dayAfter(monday, 32).iso(), std::string("2027-01-01"));
    QCOMPARE(daysBetween(monday, *dayFromIso("2026-11-01")), std::optional(-29));
    QVERIFY(Day() < monday);
    QVERIFY(dayAfter(Day(), 3).empty());
    QVERIFY(!weekdayOf(Day()) && !daysBetween(Day(), monday));
}

void TestValues::targetLiesWhereTheViewSaysIt() {
    QCOMPARE(targetSign(Hand::right, View::openSide), 1);
    QCOMPARE(targetSign(Hand::left, View::openSide), -1);
    QCOMPARE(targetSign(Hand::right, View::closedSide), -1);
    QCOMPARE(targetSign(Hand::right, View::front), 0);
    for (const View view :
         {View::openSide, View::closedSide, View::front, View::rear, View::overhead}) {
        QCOMPARE(viewFromName(name(view)), std::optional(view));
    }
    QVERIFY(!viewFromName("sideways"));
}

QTEST_GUILESS_MAIN(TestValues)
#include "test_values.moc"
