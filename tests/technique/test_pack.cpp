#include "coaching/drill_library.h"
#include "model/input_error.h"
#include "support/test_films.h"
#include "technique/kinds/measure_kind.h"
#include "technique/pack/roles.h"
#include "words/words.h"

#include <nlohmann/json.hpp>

#include <QTemporaryDir>
#include <QTest>

#include <fstream>
#include <functional>

using namespace kestrel;
using nlohmann::json;

using Change = std::function<void(json&)>;
Q_DECLARE_METATYPE(Change)

/// The pack that ships, and what is said of packs with mistakes.
class TestPack : public QObject {
    Q_OBJECT
  private slots:
    void shippedPackIsWhole();
    void everyFaultHasCuesAndDrillsOfThreePlaces();
    void rolesFollowTheHand();
    void schoolsFallBackToTheDefault();
    void mistakesNameFilePlaceAndReason_data();
    void mistakesNameFilePlaceAndReason();
    void brokenJsonNamesTheLine();
    void aKeyThatStandsTwiceIsNamed();

  private:
    std::filesystem::path write(const std::string& content) const {
        const auto path = std::filesystem::path(folder_.path().toStdString()) / "own.json";
        std::ofstream(path) << content;
        return path;
    }
    static technique::Pack load(const std::filesystem::path& file) {
        return technique::loadPack(file, std::filesystem::path(KESTREL_PACKS) / "schema" /
                                             "technique.schema.json");
    }
    static json shipped() {
        std::ifstream in(std::filesystem::path(KESTREL_PACKS) / "techniques" /
                         "overhand_pitch.json");
        return json::parse(in);
    }
    QTemporaryDir folder_;
};

void TestPack::shippedPackIsWhole() {
    const technique::Pack pack = support::pitchPack();
    // Brief 4.1: Set · Lift top · Hands part · Stride · Foot plant · Lay-back · Release · Finish.
    std::vector<std::string> positions;
    for (const technique::Position& p : pack.positions) {
        if (!p.event) {
            positions.push_back(p.id);
        }
    }
    QCOMPARE(positions, (std::vector<std::string>{"set", "lift_top", "hands_part", "stride",
                                                  "foot_plant", "lay_back", "release", "finish"}));
    QCOMPARE(pack.anchor, std::string("release"));
    QVERIFY(pack.faults.size() >= 8);
    for (const technique::Measure& measure : pack.measures) {
        for (const technique::MeasureRange& range : measure.ranges) {
            QVERIFY2(range.basis == "literature" || range.basis == "coaching consensus" ||
                         range.basis.starts_with("school: "),
                     measure.id.c_str());
        }
    }
    // Measures whose ranges the brief gives as literature values.
    const technique::Measure* knee = technique::findMeasure(pack, "plant_lead_knee");
    QVERIFY(knee != nullptr);
    QCOMPARE(knee->ranges.front().good, (model::Range{35.0, 60.0}));
}

void TestPack::everyFaultHasCuesAndDrillsOfThreePlaces() {
    const coaching::DrillLibrary drills = support::drills();
    for (const technique::Pack& pack : support::shippedPacks()) {
        coaching::checkDrills(pack, drills); // throws when a place is missing
        for (const technique::FaultDefinition& fault : pack.faults) {
            QVERIFY2(fault.cues.size() >= 2, fault.id.c_str());
            QVERIFY2(fault.drills.size() >= 3, fault.id.c_str());
        }
    }
    for (const auto& [id, drill] : drills) {
        QVERIFY2(!coaching::doseFor(drill, 9).empty(), id.c_str());
        QVERIFY2(!coaching::doseFor(drill, std::nullopt).empty(), id.c_str());
        QVERIFY2(!drill.caution.empty(), id.c_str());
        QVERIFY2(drill.place != coaching::DrillPlace::home || drill.equipment.empty(), id.c_str());
    }
    technique::Pack broken = support::pitchPack();
    broken.faults.front().drills = {"no_such_drill"};
    QVERIFY_EXCEPTION_THROWN(coaching::checkDrills(broken, drills), model::InputError);
}

void TestPack::rolesFollowTheHand() {
    const technique::Pack pack = support::pitchPack();
    using model::Hand;
    using model::Landmark;
    QCOMPARE(technique::landmarkForRole(pack, "lead_knee", Hand::right),
             std::optional(Landmark::leftKnee));
    QCOMPARE(technique::landmarkForRole(pack, "lead_knee", Hand::left),
             std::optional(Landmark::rightKnee));
    QCOMPARE(technique::landmarkForRole(pack, "throwing_wrist", Hand::left),
             std::optional(Landmark::leftWrist));
    QCOMPARE(technique::landmarkForRole(pack, "head_top", Hand::left),
             std::optional(Landmark::headTop));
    QVERIFY(!technique::landmarkForRole(pack, "bottom_hand", Hand::right));
    QVERIFY(!technique::landmarkForRole(pack, "left_knee", Hand::right));
    const technique::Position* plant = technique::findPosition(pack, "foot_plant");
    QCOMPARE(technique::roleName(pack, plant, Landmark::rightElbow, Hand::right),
             std::string("throwing_elbow"));
    QCOMPARE(technique::nameOfRole("throwing_elbow").id, std::string("role.throwing_elbow"));
}

void TestPack::schoolsFallBackToTheDefault() {
    const technique::Pack pack = support::pitchPack();
    using Schools = std::set<std::string>;
    QCOMPARE(technique::schoolsInForce(pack, {}), (Schools{"both", "brace", "classic", "tall"}));
    QCOMPARE(technique::schoolsInForce(pack, {"drive"}),
             (Schools{"both", "brace", "classic", "drive"}));
    QCOMPARE(technique::schoolsInForce(pack, {"nonsense"}),
             (Schools{"both", "brace", "classic", "tall"}));
    // The nearest choice that answers a question counts: the rep's, the visit's, the player's.
    QCOMPARE(technique::nearestChoice(pack, {{"drive"}, {"tall", "fold"}, {"tall", "brace"}}),
             (Schools{"drive", "fold"}));
    QCOMPARE(technique::nearestChoice(pack, {{}, {"nonsense"}, {"fold"}}), Schools{"fold"});
}

void TestPack::mistakesNameFilePlaceAndReason_data() {
    QTest::addColumn<Change>("change");
    QTest::addColumn<QString>("place");
    QTest::addColumn<QString>("reason");
    const auto row = [](const char* name, const char* place, const char* reason,
                        const Change& change) {
        QTest::newRow(name) << change << QString(place) << QString(reason);
    };
    row("missing name", "", "name", [](json& j) { j.erase("name"); });
    row("misspelt key", "/measures/0", "", [](json& j) { j["measures"][0]["kidn"] = "lean"; });
    row("range upside down", "/measures/0/ranges/0/good", "not below", [](json& j) {
        j["measures"][0]["ranges"][0]["good"] = {1.3, 0.8};
    });
    row("range without limits", "/measures/0/ranges/0/good", "at least one limit", [](json& j) {
        j["measures"][0]["ranges"][0]["good"] = {nullptr, nullptr};
    });
    row("unknown kind", "/measures/0/kind", "no measure kind",
        [](json& j) { j["measures"][0]["kind"] = "vibe"; });
    row("too few points", "/measures/0/points", "needs 4 points",
        [](json& j) { j["measures"][0]["points"].erase(0); });
    row("landmark that the position does not list", "/measures/0/points/0", "does not list",
        [](json& j) { j["measures"][0]["points"][0] = "trail_elbow"; });
    row("side instead of role", "/positions/0/landmarks/0", "no landmark",
        [](json& j) { j["positions"][0]["landmarks"][0] = "left_knee"; });
    row("unknown position", "/measures/0/at", "no position",
        [](json& j) { j["measures"][0]["at"] = "lunch"; });
    row("id twice", "/measures/1/id", "used twice",
        [](json& j) { j["measures"][1]["id"] = j["measures"][0]["id"]; });
    row("unknown anchor", "/anchor", "no position", [](json& j) { j["anchor"] = "lunch"; });
    row("unknown school", "/measures/0/ranges/0/school", "no school",
        [](json& j) { j["measures"][0]["ranges"][0]["school"] = "night"; });
    row("default that is no option", "/schools/0/default", "not one of the options",
        [](json& j) { j["schools"][0]["default"] = "night"; });
    row("fault on nothing", "/faults/0/signs", "no measure or observation",
        [](json& j) { j["faults"][0]["signs"]["any"][0]["of"] = "luck"; });
    row("chain to nowhere", "/faults/0/leads_to", "no fault",
        [](json& j) { j["faults"][0]["leads_to"] = {"luck"}; });
    row("circle", "/faults", "circle",
        [](json& j) { j["faults"][1]["leads_to"] = {j["faults"][0]["id"]}; });
    row("one cue", "/faults/0/cues", "", [](json& j) { j["faults"][0]["cues"].erase(0); });
    row("time without start", "", "counted from", [](json& j) {
        for (json& m : j["measures"]) {
            if (m["id"] == "tempo") {
                m.erase("from");
            }
        }
    });
    row("bone that is none", "/points", "ends of one bone", [](json& j) {
        for (json& m : j["measures"]) {
            if (m["id"] == "lift_thigh") {
                m["points"][1] = "trail_ankle";
            }
        }
    });
    row("place twice", "/places/1/id", "used twice",
        [](json& j) { j["places"][1]["id"] = j["places"][0]["id"]; });
    row("ground point twice", "/places/0/points/1/id", "used twice",
        [](json& j) { j["places"][0]["points"][1]["id"] = j["places"][0]["points"][0]["id"]; });
    row("the coach's own place", "/places/0/id", "coach's own",
        [](json& j) { j["places"][0]["id"] = "rectangle"; });
    row("line without length", "/places/0/lines/0", "same spot",
        [](json& j) { j["places"][0]["lines"][0]["to"] = j["places"][0]["lines"][0]["from"]; });
    row("unknown line", "/line", "a line that one of", [](json& j) {
        for (json& m : j["measures"]) {
            if (m["id"] == "plant_foot_direction") {
                m["kind"] = "ground_past_line";
                m["points"] = {"lead_toe"};
                m["line"] = "horizon";
            }
        }
    });
    row("unknown shot", "/shot", "no shot", [](json& j) {
        for (json& m : j["measures"]) {
            if (m["id"] == "plant_landing") {
                m["ranges"][1]["shot"] = "lob";
            }
        }
    });
    row("flight of no ball", "/points/0", "no landmark", [](json& j) {
        for (json& m : j["measures"]) {
            if (m["id"] == "ball_speed") {
                m["points"][0] = "balloon";
            }
        }
    });
    row("weights", "", "add up to 1", [](json& j) { j["points"]["mid_hip"]["lead_hip"] = 0.6; });
}

void TestPack::mistakesNameFilePlaceAndReason() {
    QFETCH(Change, change);
    QFETCH(QString, place);
    QFETCH(QString, reason);
    json pack = shipped();
    change(pack);
    try {
        load(write(pack.dump()));
        QFAIL("it was loaded");
    } catch (const model::InputError& error) {
        const QString says = words::inWords(error.happened());
        QVERIFY2(says.startsWith("own.json, "), qPrintable(says));
        QVERIFY2(says.contains(place), qPrintable(says));
        QVERIFY2(says.contains(reason), qPrintable(says));
    }
}

void TestPack::brokenJsonNamesTheLine() {
    try {
        load(write("{\n \"format\": 1,\n \"id\" \"x\"\n}\n"));
        QFAIL("it was loaded");
    } catch (const model::InputError& error) {
        QVERIFY2(words::inWords(error.happened()).contains("line 3"),
                 words::plain(error.happened()).c_str());
    }
    QVERIFY_EXCEPTION_THROWN(load("/nowhere/own.json"), model::InputError);
}

void TestPack::aKeyThatStandsTwiceIsNamed() {
    std::string text = shipped().dump();
    const std::string key = "\"found_by\":";
    const auto at = text.find(key);
    QVERIFY(at != std::string::npos);
    text.insert(at, key + "[],");
    try {
        load(write(text));
        QFAIL("one of the two was taken silently");
    } catch (const model::InputError& error) {
        QVERIFY(words::plain(error.happened()).find("“found_by”") != std::string::npos);
        QVERIFY(words::plain(error.happened()).find("twice") != std::string::npos);
    }
}

QTEST_GUILESS_MAIN(TestPack)
#include "test_pack.moc"
