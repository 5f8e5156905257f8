#include "study/position_study.h"
#include "support/coverage.h"
#include "support/test_films.h"

#include <QTest>

using namespace kestrel;
using study::Habit;

/// Key positions in reps as players really do them: of players that nothing was learned from, of
/// all levels and manners, from anywhere, with other movements around the rep.
class TestPositionsOfPlayers : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void mostAreRight();
    void statedErrorsHold();
    void otherMovementsAreNotTakenForTheRep();
    void whatTheFilmDoesNotHaveIsTold();

  private:
    [[nodiscard]] study::PositionTally sum(study::FoundBy by) const;

    std::map<std::pair<study::FoundBy, Habit>, study::PositionTally> tallies_;
};

void TestPositionsOfPlayers::initTestCase() {
    const auto packs = support::shippedPacks();
    for (std::uint32_t seed = 1201; seed <= 1216; ++seed) {
        const auto around = static_cast<study::Around>(seed % 4);
        for (const auto& [key, tally] : study::studyPositions(packs, seed, around)) {
            tallies_[key] += tally;
        }
    }
}

study::PositionTally TestPositionsOfPlayers::sum(study::FoundBy by) const {
    study::PositionTally all;
    for (const auto& [key, tally] : tallies_) {
        if (key.first == by) {
            all += tally;
        }
    }
    return all;
}

void TestPositionsOfPlayers::mostAreRight() {
    const auto network = sum(study::FoundBy::network);
    const auto detectors = sum(study::FoundBy::detectors);
    QVERIFY(network.there > 300);
    qInfo("right: %d of %d by the network, %d of %d by detectors", network.right, network.there,
          detectors.right, detectors.there);
    QVERIFY(network.right >= 0.6 * network.there);
    QVERIFY(network.lasting >= 0.75 * network.there);
    QVERIFY(network.right > detectors.right);
    QVERIFY(network.sureWrong * detectors.sure < detectors.sureWrong * network.sure);
}

void TestPositionsOfPlayers::statedErrorsHold() {
    const auto network = sum(study::FoundBy::network);
    VERIFY_COVERAGE("key positions of players", network.inside95, network.found);
}

void TestPositionsOfPlayers::otherMovementsAreNotTakenForTheRep() {
    for (const Habit habit : {Habit::practises, Habit::givesUp, Habit::secondMovement}) {
        const auto& found = tallies_.at({study::FoundBy::network, habit});
        QVERIFY2(found.lasting >= 0.7 * found.there, study::name(habit).data());
    }
}

void TestPositionsOfPlayers::whatTheFilmDoesNotHaveIsTold() {
    const auto network = sum(study::FoundBy::network);
    QVERIFY2(network.outside > 10, qPrintable(QString::number(network.outside)));
    qInfo("outside: %d of %d", network.outsideTold, network.outside);
    QVERIFY(network.outsideTold >= 0.6 * network.outside);
}

QTEST_APPLESS_MAIN(TestPositionsOfPlayers)
#include "test_positions_of_players.moc"
