#include "support/test_films.h"
#include "technique/judge/film_check.h"

#include <QTest>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

using namespace kestrel;
using technique::Shown;

/// What a film can show of a pitch, against arithmetic by hand.
class TestFilmCheck : public QObject {
    Q_OBJECT
  private slots:
    void moreFramesShowMore_data();
    void moreFramesShowMore();
    void withoutARateNothingIsPromised();
    void timingsNeedFrames();
    void blurIsSpeedTimesShutter();
    void blurCostIsTheSpreadOfTheAngle();
    void smallPlayersCostDegrees();

  private:
    Shown shown(double rate, const char* position) const {
        const auto check = technique::checkFilm(pack_, {1.0 / rate, 400.0, model::View::openSide});
        return std::find_if(check.positions.begin(), check.positions.end(),
                            [&](const auto& p) { return p.positionId == position; })
            ->shown;
    }
    technique::Pack pack_ = support::pitchPack();
};

void TestFilmCheck::moreFramesShowMore_data() {
    QTest::addColumn<double>("rate");
    QTest::addColumn<Shown>("set");
    QTest::addColumn<Shown>("footPlant");
    QTest::addColumn<Shown>("release");
    // The pack says how long each lasts: Set 500 ms, Foot plant 20 ms, Release 5 ms.
    QTest::newRow("8") << 8.0 << Shown::readable << Shown::notSeen << Shown::notSeen;
    QTest::newRow("30") << 30.0 << Shown::readable << Shown::bracketed << Shown::notSeen;
    QTest::newRow("60") << 60.0 << Shown::readable << Shown::readable << Shown::bracketed;
    QTest::newRow("120") << 120.0 << Shown::readable << Shown::readable << Shown::bracketed;
    QTest::newRow("240") << 240.0 << Shown::readable << Shown::readable << Shown::readable;
}

void TestFilmCheck::moreFramesShowMore() {
    QFETCH(double, rate);
    QFETCH(Shown, set);
    QFETCH(Shown, footPlant);
    QFETCH(Shown, release);
    QCOMPARE(shown(rate, "set"), set);
    QCOMPARE(shown(rate, "foot_plant"), footPlant);
    QCOMPARE(shown(rate, "release"), release);
}

void TestFilmCheck::withoutARateNothingIsPromised() {
    const auto check = technique::checkFilm(pack_, {0.0, 400.0, {}});
    QVERIFY(check.positions.empty());
    QVERIFY(check.timings.empty());
    QVERIFY(!check.blurOpen);
    QVERIFY(check.placingDegrees > 0.0);
}

void TestFilmCheck::timingsNeedFrames() {
    const auto timing = [&](double rate) {
        const auto check = technique::checkFilm(pack_, {1.0 / rate, 0.0, {}});
        return *std::find_if(check.timings.begin(), check.timings.end(),
                             [](const auto& t) { return t.measureId == "hands_after_hips"; });
    };
    // −80 to +80 ms; two instants, each uniform over a frame: 1.96 · 1000 · sqrt(2/12) / rate.
    QVERIFY(std::abs(timing(120.0).u95 - 1.959964 * 1000.0 * std::sqrt(2.0 / 12.0) / 120.0) < 1e-9);
    QCOMPARE(timing(240.0).shown, Shown::readable);
    QCOMPARE(timing(25.0).shown, Shown::readable);
    QCOMPARE(timing(12.0).shown, Shown::bracketed);
    QCOMPARE(timing(4.0).shown, Shown::notSeen);
}

void TestFilmCheck::blurIsSpeedTimesShutter() {
    const auto& fastest = pack_.filming.fastest;
    QCOMPARE(fastest.speedBhS, 17.0);
    const auto cost = technique::blurCost(fastest, {1.0 / 120.0, 400.0, {}}, 0.001);
    QVERIFY(std::abs(cost.px - 6.8) < 1e-9);
    QVERIFY(std::abs(cost.pxBetweenFrames - 17.0 * 400.0 / 120.0) < 1e-9);
    // There and back.
    const double exposure = technique::exposureForBlur(fastest, 2.0);
    QVERIFY(std::abs(technique::blurCost(fastest, {0.01, 400.0, {}}, exposure).degrees - 2.0) <
            1e-9);
}

void TestFilmCheck::blurCostIsTheSpreadOfTheAngle() {
    // The wrist anywhere along the blur, across the forearm: spread of the forearm's angle.
    const auto& fastest = pack_.filming.fastest;
    constexpr double exposure = 0.002;
    std::mt19937 random(4);
    std::uniform_real_distribution<double> along(-0.5, 0.5);
    double sum = 0.0;
    double squares = 0.0;
    constexpr int draws = 20000;
    for (int i = 0; i < draws; ++i) {
        const double angle =
            std::atan(along(random) * fastest.speedBhS * exposure / fastest.segmentBh) * 180.0 /
            std::numbers::pi;
        sum += angle;
        squares += angle * angle;
    }
    const double sd = std::sqrt(squares / draws - std::pow(sum / draws, 2));
    const double stated = technique::blurCost(fastest, {0.01, 300.0, {}}, exposure).degrees;
    QVERIFY2(std::abs(stated - sd) < 0.05 * sd, qPrintable(QString("%1, %2").arg(stated).arg(sd)));
}

void TestFilmCheck::smallPlayersCostDegrees() {
    const auto placing = [&](double px) {
        return technique::checkFilm(pack_, {0.01, px, {}}).placingDegrees;
    };
    QCOMPARE(placing(0.0), 0.0); // not known
    QVERIFY(placing(100.0) > placing(400.0));
    // 1.5 px at both ends of a forearm of 0.146 · 400 px.
    QVERIFY(std::abs(placing(400.0) - std::atan(1.5 * std::numbers::sqrt2 / 58.4) * 180.0 /
                                          std::numbers::pi) < 1e-9);
}

QTEST_GUILESS_MAIN(TestFilmCheck)
#include "test_film_check.moc"
