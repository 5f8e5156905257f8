#include "model/input_error.h"
#include "support/coverage.h"
#include "support/test_films.h"
#include "technique/positions/doubt.h"
#include "technique/positions/find_positions.h"
#include "words/words.h"

#include <QTemporaryDir>
#include <QTest>

#include <nlohmann/json.hpp>

#include <cmath>
#include <fstream>
#include <random>
#include <tuple>

using namespace kestrel;
using nlohmann::json;

namespace {

constexpr double landmarkSd = 1.5; // pixels

/// A film of the row under test, from that view.
synth::FilmSpec filmOf(model::Hand hand, model::View view, double rate, unsigned seed) {
    synth::FilmSpec spec;
    spec.player.build.heightM = 1.58;
    spec.player.hand = hand;
    spec.player.level = 0.6;
    spec.player.seed = seed;
    spec.width = 960;
    spec.height = 540;
    spec.camera.view = view;
    spec.captureRate = rate;
    spec.fileRate = {static_cast<int>(rate), 1};
    return spec;
}

/// True positions and landmarks; posing a body thousands of times takes seconds, so each film is
/// posed once.
const model::Rep& truthOf(const synth::FilmSpec& spec) {
    static std::map<std::tuple<model::Hand, model::View, double, unsigned>, model::Rep> known;
    const auto key =
        std::tuple(spec.player.hand, spec.camera.view, spec.captureRate, spec.player.seed);
    const auto found = known.find(key);
    return found != known.end() ? found->second
                                : known.emplace(key, support::trueRep(spec)).first->second;
}

/// Landmarks of all frames as a machine would set them, right but for some scatter; no position.
model::Rep machineRep(const model::Rep& truth) {
    model::Rep rep = truth;
    rep.positions.clear();
    std::mt19937 random(7);
    std::normal_distribution<double> normal(0.0, landmarkSd);
    for (auto& [frame, points] : rep.landmarks) {
        for (auto& [landmark, point] : points) {
            point.px = point.px + model::Point2{normal(random), normal(random)};
            point.sdPx = landmarkSd;
            point.source = model::Source::tracked;
        }
    }
    return rep;
}

technique::Circumstances circumstancesOf(const synth::FilmSpec& spec) {
    technique::Circumstances c = support::openSide(spec);
    c.view = spec.camera.view;
    return c;
}

} // namespace

/// Key positions found in landmarks, against the instants that the synthetic player's motion sheet
/// defines in space.
class TestFindPositions : public QObject {
    Q_OBJECT
  private slots:
    void foundAtTheirInstants_data();
    void foundAtTheirInstants();
    void statedErrorsHold();
    void whatTheCoachSetStaysAndLeadsTheOthers();
    void withoutTheCaptureRateNothingIsFound();
    void withoutLandmarksNothingIsFound();
    void aRepEndsTheSearch();
    void aDoubtfulPositionIsAskedForBeforeItsLandmarks();
    void whatOthersHangOnIsAskedForFirst();
    void confirmedPositionsAreNotAskedFor();
    void aFoundPositionMakesReadingsLessSure();
    void packMistakesAreNamed_data();
    void packMistakesAreNamed();

  private:
    const technique::Pack pack_ = support::pitchPack();
};

void TestFindPositions::foundAtTheirInstants_data() {
    QTest::addColumn<bool>("byNetwork");
    QTest::addColumn<bool>("left");
    QTest::addColumn<int>("view");
    QTest::addColumn<double>("rate");
    const auto row = [](const char* name, bool left, model::View view, double rate) {
        for (const bool byNetwork : {true, false}) {
            QTest::addRow("%s, by %s", name, byNetwork ? "the network" : "detectors")
                << byNetwork << left << static_cast<int>(view) << rate;
        }
    };
    row("right-hander, open side, 60 a second", false, model::View::openSide, 60.0);
    row("right-hander, closed side, 120 a second", false, model::View::closedSide, 120.0);
    row("left-hander, open side, 120 a second", true, model::View::openSide, 120.0);
    row("left-hander, closed side, 60 a second", true, model::View::closedSide, 60.0);
}

void TestFindPositions::foundAtTheirInstants() {
    QFETCH(bool, byNetwork);
    QFETCH(bool, left);
    QFETCH(int, view);
    QFETCH(double, rate);
    technique::Pack pack = pack_;
    if (!byNetwork) {
        pack.network.reset();
    }
    const synth::FilmSpec spec = filmOf(left ? model::Hand::left : model::Hand::right,
                                        static_cast<model::View>(view), rate, 21);
    const auto& truth = truthOf(spec).positions;
    const auto found =
        technique::findPositions(pack, machineRep(truthOf(spec)), circumstancesOf(spec));
    // One frame at 60 a second, two at 120. Some are no sharp instants: at Set the player stands
    // still, at Lift top the knee hovers; and the motion sheet counts the hips' start from where
    // they are at a key of its own, when those of a varied rep may be under way.
    std::map<std::string, double> blunt{{"set", 0.060}, {"lift_top", 0.100}, {"hips_start", 0.090}};
    if (byNetwork) {
        blunt["leg_start"] = 0.040; // so long it lasts: the knee still hovers
    }
    for (const technique::Position& position : pack.positions) {
        QVERIFY2(found.contains(position.id), position.id.c_str());
        const model::FoundInstant& instant = found.at(position.id);
        const double miss = (instant.frame - truth.at(position.id)) / rate;
        const auto allowed = blunt.find(position.id);
        const double most = allowed == blunt.end() ? 1.0 / 60.0 : allowed->second;
        // Where the network cannot tell, it asks.
        const bool mayBeAsked = byNetwork && allowed != blunt.end();
        QVERIFY2(std::abs(miss) < most + 1e-9 ||
                     (mayBeAsked && instant.confidence < technique::sureConfidence),
                 qPrintable(QString("%1 is %2 s off").arg(position.id.c_str()).arg(miss)));
        // That it is the right frame, by the network; that it is that instant at all, by detectors.
        QVERIFY2(instant.confidence > (byNetwork ? 0.7 : 0.8) || mayBeAsked, position.id.c_str());
    }
}

void TestFindPositions::statedErrorsHold() {
    int inside = 0;
    int all = 0;
    for (unsigned seed = 1; seed <= 4; ++seed) {
        const synth::FilmSpec spec =
            filmOf(seed % 2 == 0 ? model::Hand::left : model::Hand::right,
                   seed % 3 == 0 ? model::View::closedSide : model::View::openSide, 120.0, seed);
        const auto& truth = truthOf(spec).positions;
        for (const auto& [id, instant] :
             technique::findPositions(pack_, machineRep(truthOf(spec)), circumstancesOf(spec))) {
            const double miss = (instant.frame - truth.at(id)) / spec.captureRate;
            const double rounding = 1.0 / spec.captureRate / std::sqrt(6.0); // of both frames
            const double sd = std::hypot(instant.sd.value, rounding);
            inside += std::abs(miss) <= model::coverage95 * sd ? 1 : 0;
            ++all;
        }
    }
    VERIFY_COVERAGE("key positions of a pitch", inside, all);
}

void TestFindPositions::whatTheCoachSetStaysAndLeadsTheOthers() {
    const synth::FilmSpec spec = filmOf(model::Hand::right, model::View::openSide, 120.0, 21);
    model::Rep rep = machineRep(truthOf(spec));
    const auto before = technique::findPositions(pack_, rep, circumstancesOf(spec));
    const int moved = before.at("release").frame - 12;
    rep.positions["release"] = moved;
    const auto after = technique::findPositions(pack_, rep, circumstancesOf(spec));
    QVERIFY(!after.contains("release"));
    QCOMPARE(rep.positions.at("release"), moved);
    // The arm lies farthest back before the ball leaves the hand.
    QVERIFY(after.at("lay_back").frame <= moved + 1); // the network knows sixtieths of a second
    technique::Pack byDetectors = pack_;
    byDetectors.network.reset();
    const auto detected = technique::findPositions(byDetectors, rep, circumstancesOf(spec));
    QVERIFY(!detected.contains("release"));
    QVERIFY(detected.at("lay_back").frame <= moved); // looked for before it
    rep.found = before;
    QCOMPARE(model::frameOf(rep, "release"), std::optional(moved));
    QVERIFY(model::onlyFound(rep, "release") == nullptr);
    QVERIFY(model::onlyFound(rep, "lay_back") != nullptr);
}

void TestFindPositions::withoutTheCaptureRateNothingIsFound() {
    const synth::FilmSpec spec = filmOf(model::Hand::right, model::View::openSide, 120.0, 21);
    technique::Circumstances c = circumstancesOf(spec);
    c.captureRateKnown = false;
    QVERIFY(technique::findPositions(pack_, machineRep(truthOf(spec)), c).empty());
}

void TestFindPositions::withoutLandmarksNothingIsFound() {
    const synth::FilmSpec spec = filmOf(model::Hand::right, model::View::openSide, 120.0, 21);
    QVERIFY(technique::findPositions(pack_, {}, circumstancesOf(spec)).empty());
    model::Rep rep = machineRep(truthOf(spec));
    for (auto& [frame, points] : rep.landmarks) {
        points.erase(model::Landmark::rightWrist);
    }
    // The detector of the release needs the throwing arm, and all others start from the release.
    technique::Pack byDetectors = pack_;
    byDetectors.network.reset();
    QVERIFY(technique::findPositions(byDetectors, rep, circumstancesOf(spec)).empty());
    // The network goes by the rest of the body.
    const auto found = technique::findPositions(pack_, rep, circumstancesOf(spec));
    QVERIFY(std::abs(found.at("foot_plant").frame - truthOf(spec).positions.at("foot_plant")) <= 3);
    // Where nothing says where the hips are, nothing says how far anything is from them.
    for (auto& [frame, points] : rep.landmarks) {
        points.erase(model::Landmark::leftHip);
    }
    QVERIFY(technique::findPositions(pack_, rep, circumstancesOf(spec)).empty());
}

void TestFindPositions::aRepEndsTheSearch() {
    const synth::FilmSpec spec = filmOf(model::Hand::right, model::View::openSide, 120.0, 21);
    model::Rep rep = machineRep(truthOf(spec));
    const int release = truthOf(spec).positions.at("release");
    rep.span = model::FrameSpan{release - 40, release + 20};
    for (const auto& [id, instant] : technique::findPositions(pack_, rep, circumstancesOf(spec))) {
        QVERIFY2(id != "lift_top" && id != "finish", id.c_str());
    }
}

void TestFindPositions::aDoubtfulPositionIsAskedForBeforeItsLandmarks() {
    const synth::FilmSpec spec = filmOf(model::Hand::right, model::View::openSide, 120.0, 21);
    const technique::Circumstances c = circumstancesOf(spec);
    model::Rep rep = machineRep(truthOf(spec));
    rep.found = technique::findPositions(pack_, rep, c);
    rep.found.at("foot_plant").confidence = 0.5;
    const technique::Position& plant = *technique::findPosition(pack_, "foot_plant");
    QVERIFY(technique::isDoubtful(plant, rep.found.at("foot_plant"), c));
    bool asked = false;
    for (const technique::Doubtful& doubt : technique::doubtsOf(pack_, rep, c)) {
        if (doubt.positionId == "foot_plant") {
            asked = asked || !doubt.landmark;
            QVERIFY2(asked, "a landmark of a doubtful position came first");
        }
    }
    QVERIFY(asked);
}

void TestFindPositions::whatOthersHangOnIsAskedForFirst() {
    const synth::FilmSpec spec = filmOf(model::Hand::right, model::View::openSide, 120.0, 21);
    const technique::Circumstances c = circumstancesOf(spec);
    model::Rep rep = machineRep(truthOf(spec));
    technique::Pack byDetectors = pack_;
    byDetectors.network.reset();
    rep.found = technique::findPositions(byDetectors, rep, c);
    for (auto& [id, instant] : rep.found) {
        instant.confidence = 0.6; // everything is open, as when the release is
    }
    QCOMPARE(technique::doubtsOf(byDetectors, rep, c).front().positionId, std::string("release"));
    QVERIFY(!technique::doubtsOf(byDetectors, rep, c).front().landmark);
}

void TestFindPositions::confirmedPositionsAreNotAskedFor() {
    const synth::FilmSpec spec = filmOf(model::Hand::right, model::View::openSide, 120.0, 21);
    const technique::Circumstances c = circumstancesOf(spec);
    model::Rep rep = machineRep(truthOf(spec));
    rep.found = technique::findPositions(pack_, rep, c);
    for (const auto& [id, instant] : rep.found) {
        rep.positions[id] = instant.frame;
    }
    for (const technique::Doubtful& doubt : technique::doubtsOf(pack_, rep, c)) {
        QVERIFY2(doubt.landmark.has_value(), doubt.positionId.c_str());
    }
}

void TestFindPositions::aFoundPositionMakesReadingsLessSure() {
    const synth::FilmSpec spec = filmOf(model::Hand::right, model::View::openSide, 120.0, 21);
    const technique::Circumstances c = circumstancesOf(spec);
    model::Rep rep = machineRep(truthOf(spec));
    rep.found = technique::findPositions(pack_, rep, c);
    model::Rep confirmed = rep;
    confirmed.positions = model::allPositions(rep);
    const auto unsure = technique::evaluate(pack_, rep, c);
    const auto sure = technique::evaluate(pack_, confirmed, c);
    // A time takes all of it; an angle that changes fast, the way it goes meanwhile.
    for (const auto& [id, least] : {std::pair("plant_forearm", 1.02), {"hands_after_hips", 2.0}}) {
        QVERIFY(support::reading(unsure, id).value == support::reading(sure, id).value);
        const double ratio = support::reading(unsure, id).u95 / support::reading(sure, id).u95;
        QVERIFY2(ratio > least, qPrintable(QString("%1: %2").arg(id).arg(ratio)));
    }
}

void TestFindPositions::packMistakesAreNamed_data() {
    QTest::addColumn<QString>("position");
    QTest::addColumn<QString>("detectors");
    QTest::addColumn<QString>("place");
    const QString rest = R"(, "smooth_ms": 50, "sd_ms": 10, "basis": "b"})";
    const QString speed = R"({"kind": "speed", "points": ["lead_ankle"]})";
    QTest::newRow("nothing to find") << "set"
                                     << R"([{"sd_ms": 10, "basis": "b"}])"
                                     << "/positions/0/found_by/0";
    QTest::newRow("two things at once")
        << "set"
        << R"([{"highest": )" + speed + R"(, "lowest": )" + speed + rest + "]"
        << "/positions/0/found_by/0";
    QTest::newRow("a pass without a level") << "set"
                                            << R"([{"rises": )" + speed + rest + "]"
                                            << "/positions/0/found_by/0";
    QTest::newRow("no such kind")
        << "lift_top"
        << R"([{"highest": {"kind": "wisdom", "points": ["lead_ankle"]})" + rest + "]"
        << "/positions/1/found_by/0/highest/kind";
    QTest::newRow("no such landmark")
        << "set"
        << R"([{"highest": {"kind": "speed", "points": ["lead_wing"]})" + rest + "]"
        << "/positions/0/found_by/0";
    QTest::newRow("too few points")
        << "set"
        << R"([{"highest": {"kind": "flexion", "points": ["lead_hip"]})" + rest + "]"
        << "/positions/0/found_by/0";
    QTest::newRow("a time is no signal")
        << "set"
        << R"([{"highest": {"kind": "time_between", "points": ["lead_hip"]})" + rest + "]"
        << "/positions/0/found_by/0";
    QTest::newRow("no such position")
        << "set"
        << R"([{"highest": )" + speed + R"(, "from": {"position": "nap"})" + rest + "]"
        << "/positions/0/found_by/0";
    QTest::newRow("a circle") << "release"
                              << R"([{"way": {"from": "lay_back", "to": "finish", "share": 0.5}, )"
                                 R"("sd_ms": 10, "basis": "b"}])"
                              << "/positions";
}

void TestFindPositions::packMistakesAreNamed() {
    QFETCH(QString, position);
    QFETCH(QString, detectors);
    QFETCH(QString, place);
    std::ifstream in(std::filesystem::path(KESTREL_PACKS) / "techniques" / "overhand_pitch.json");
    json pack = json::parse(in);
    for (json& p : pack["positions"]) {
        if (p["id"] == position.toStdString()) {
            p["found_by"] = json::parse(detectors.toStdString());
        }
    }
    const QTemporaryDir folder;
    const std::filesystem::path file = folder.filePath("pack.json").toStdString();
    std::ofstream(file) << pack;
    try {
        technique::loadPack(file, std::filesystem::path(KESTREL_PACKS) / "schema" /
                                      "technique.schema.json");
        QFAIL("the pack was taken");
    } catch (const model::InputError& error) {
        QVERIFY2(words::inWords(error.happened()).contains(place),
                 words::plain(error.happened()).c_str());
    }
}

QTEST_APPLESS_MAIN(TestFindPositions)
#include "test_find_positions.moc"
