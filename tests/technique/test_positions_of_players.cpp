#include "study/position_lessons.h"
#include "study/position_study.h"
#include "support/coverage.h"
#include "support/test_films.h"
#include "technique/positions/pose_sequence.h"

#include <QTemporaryDir>
#include <QTest>

#include <nlohmann/json.hpp>

#include <filesystem>
#include <fstream>
#include <sstream>

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
    void lessonsAreOfOtherPlayersAndWhole();

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

void TestPositionsOfPlayers::lessonsAreOfOtherPlayersAndWhole() {
    QTemporaryDir folder;
    const auto write = [&](const char* name) {
        const std::filesystem::path to = folder.filePath(name).toStdString();
        study::writeLessons(support::shippedPacks(), study::firstLesson, 4, to, [](int, int) {});
        return to;
    };
    const auto textOf = [](const std::filesystem::path& file) {
        std::ifstream in(file, std::ios::binary);
        return std::string{std::istreambuf_iterator<char>(in), {}};
    };
    const auto first = write("first");
    std::istringstream lines(textOf(first / "reps.jsonl"));
    std::int64_t columns = 0;
    int reps = 0;
    for (std::string line; std::getline(lines, line); ++reps) {
        const auto rep = nlohmann::json::parse(line);
        QCOMPARE(rep.at("first").get<std::int64_t>(), columns);
        columns += rep.at("columns").get<std::int64_t>();
        QVERIFY(!rep.at("positions").empty());
        for (const auto& [id, at] : rep.at("positions").items()) {
            QVERIFY(at.is_null() || (at > -1.0 && at < rep.at("columns").get<double>() + 1.0));
        }
    }
    QVERIFY(reps > 0 && reps % static_cast<int>(study::allHabits.size()) == 0);
    QCOMPARE(std::filesystem::file_size(first / "poses.f32"),
             static_cast<std::uintmax_t>(columns * technique::PoseSequence::rowCount) *
                 sizeof(float));
    const auto again = write("again");
    QVERIFY(textOf(first / "poses.f32") == textOf(again / "poses.f32"));
}

QTEST_APPLESS_MAIN(TestPositionsOfPlayers)
#include "test_positions_of_players.moc"
