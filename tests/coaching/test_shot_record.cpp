#include "coaching/shot_record.h"
#include "support/test_films.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;
using model::Seen;

namespace {

model::Rep shot(const std::string& spot, Seen seen) {
    model::Rep rep;
    rep.shotType = spot;
    rep.observations = {{std::string(coaching::wentIn), seen}};
    return rep;
}

} // namespace

/// Makes and tries by spot.
class TestShotRecord : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        for (const technique::Pack& pack : support::shippedPacks()) {
            if (pack.id == "jump_shot") {
                pack_ = pack;
            }
        }
        QCOMPARE(pack_.id, std::string("jump_shot"));
    }
    void countsBySpot() {
        const std::vector<model::Rep> reps{shot("three_left_corner", Seen::yes),
                                           shot("three_left_corner", Seen::no),
                                           shot("three_left_corner", Seen::no),
                                           shot("free_throw_line", Seen::yes),
                                           shot("free_throw_line", Seen::notVisible),
                                           shot("", Seen::no),
                                           model::Rep{}};
        const auto record = coaching::shotRecord(pack_, reps);
        QCOMPARE(record.size(), std::size_t{3});
        QCOMPARE(record[0].shotId, std::string("free_throw_line"));
        QCOMPARE(record[0].made, 1);
        QCOMPARE(record[0].tries, 1);
        QCOMPARE(record[1].shotId, std::string("three_left_corner"));
        QCOMPARE(record[1].made, 1);
        QCOMPARE(record[1].tries, 3);
        QCOMPARE(record[2].name, std::string("anywhere"));
        QCOMPARE(record[2].made, 0);
    }
    /// Wilson's interval worked by hand: 5 of 10 is 23.7 to 76.3 %.
    void intervalIsWilsons() {
        std::vector<model::Rep> reps(5, shot("three", Seen::yes));
        reps.insert(reps.end(), 5, shot("three", Seen::no));
        const auto record = coaching::shotRecord(pack_, reps);
        QVERIFY(std::abs(record.front().low - 0.2366) < 0.0005);
        QVERIFY(std::abs(record.front().high - 0.7634) < 0.0005);
    }
    /// Of shooters whose share is known, the interval holds it in about 95 of 100.
    void intervalHoldsTheShare() {
        std::mt19937 random(11);
        int inside = 0;
        int shooters = 0;
        for (int i = 0; i < 2000; ++i) {
            const double share = std::uniform_real_distribution<double>(0.15, 0.85)(random);
            std::vector<model::Rep> reps;
            for (int n = 0; n < 20; ++n) {
                reps.push_back(shot(
                    "three", std::bernoulli_distribution(share)(random) ? Seen::yes : Seen::no));
            }
            const auto record = coaching::shotRecord(pack_, reps);
            ++shooters;
            inside += record.front().low <= share && share <= record.front().high ? 1 : 0;
        }
        QVERIFY2(inside > 0.92 * shooters && inside < 0.98 * shooters,
                 qPrintable(QString::number(inside)));
    }
    void otherPacksKeepNone() {
        QVERIFY(coaching::shotRecord(support::pitchPack(), {shot("fastball", Seen::yes)}).empty());
    }

  private:
    technique::Pack pack_;
};

QTEST_GUILESS_MAIN(TestShotRecord)
#include "test_shot_record.moc"
