#include "model/input_error.h"
#include "support/test_films.h"
#include "technique/pack/json_file.h"
#include "technique/pack/pack.h"
#include "technique/pack/pack_edit.h"
#include "technique/positions/find_positions.h"

#include <QTest>

using namespace kestrel;
using technique::Document;
using technique::Pointer;

/// Packs as documents that a coach changes.
class TestPackEdit : public QObject {
    Q_OBJECT
  private:
    Document pitch() {
        const technique::Pack pack = support::pitchPack();
        return technique::documentOf(pack.text, pack.file);
    }
    technique::Pack load(const Document& document) {
        return technique::packFromText(technique::textOf(document), "own.json",
                                       technique::packSchema(KESTREL_PACKS));
    }
    Document schema() {
        return Document::parse(technique::readText(technique::packSchema(KESTREL_PACKS)));
    }

  private slots:
    /// Writing out what was read changes nothing that is judged, and keeps the order.
    void roundTrip() {
        for (const technique::Pack& pack : support::shippedPacks()) {
            const Document document = technique::documentOf(pack.text, pack.file);
            const technique::Pack again = load(document);
            QCOMPARE(again.measures.size(), pack.measures.size());
            QCOMPARE(document.begin().key(), std::string("format"));
            QVERIFY(technique::documentOf(technique::textOf(document), "x") == document);
        }
    }
    void copyKnowsItsOrigin() {
        const technique::Pack copy = load(technique::copied(pitch(), "my_pitch", "My pitch"));
        QCOMPARE(copy.id, std::string("my_pitch"));
        QCOMPARE(copy.name, std::string("My pitch"));
        QCOMPARE(copy.basedOn, std::string("overhand_pitch"));
        QCOMPARE(copy.version, 1);
        const technique::Pack second = load(technique::copied(
            technique::copied(pitch(), "my_pitch", "My pitch"), "third", "Third"));
        QCOMPARE(second.basedOn, std::string("my_pitch"));
        // What the network knows of a technique it knows of each copy.
        QVERIFY(technique::learnedTechnique(second) != nullptr);
        QVERIFY(technique::canBeFound(second, *technique::findPosition(second, "release"), {}));
    }
    void valuesAreSetAddedRemovedMoved() {
        const Pointer range("/measures/0/ranges/0/good/0");
        const Document changed = technique::withValue(pitch(), range, 0.5);
        QCOMPARE(load(changed).measures[0].ranges[0].good.low, std::optional(0.5));
        const Document noted =
            technique::withValue(pitch(), Pointer("/measures/0/note"), "Mind it.");
        QCOMPARE(load(noted).measures[0].note, std::string("Mind it."));
        QVERIFY(load(technique::withValue(noted, Pointer("/measures/0/note"), nullptr))
                    .measures[0]
                    .note.empty());
        const Document caution = technique::withAdded(pitch(), Pointer("/cautions"), "Rest.");
        QCOMPARE(load(caution).cautions.back(), std::string("Rest."));
        QCOMPARE(load(technique::moved(caution, Pointer("/cautions/0"), 1)).cautions[1],
                 load(caution).cautions[0]);
        QVERIFY(technique::moved(caution, Pointer("/cautions/0"), -5) == caution);
        const std::size_t last = caution.at("cautions").size() - 1;
        QVERIFY(technique::without(caution, Pointer("/cautions") / last) == pitch());
    }
    void schemaOfAPlace() {
        const Document root = schema();
        QVERIFY(technique::schemaAt(root, Pointer("/measures/3/kind")).at("type") == "string");
        QVERIFY(technique::schemaAt(root, Pointer("/filming/view")).contains("enum"));
        QVERIFY(technique::schemaAt(root, Pointer("/faults/0/signs/any/0/is")).contains("enum"));
        QVERIFY(technique::schemaAt(root, Pointer("/points/mid_hip/lead_hip")).at("type") ==
                "number");
        QVERIFY(technique::schemaAt(root, Pointer("/no/such/place")).empty());
    }
    /// What Add starts from fits the schema; what is still wrong is what the coach has to choose.
    void smallestPartsFitTheSchema() {
        const Document root = schema();
        for (const char* list : {"/measures", "/observations", "/faults", "/schools", "/variants",
                                 "/positions", "/cautions"}) {
            const Pointer place(list);
            const Document item =
                technique::smallest(root, technique::schemaAt(root, place).at("items"));
            Document pack = technique::withAdded(pitch(), place, item);
            technique::checkJson(nlohmann::json::parse(technique::textOf(pack)), "own.json",
                                 technique::packSchema(KESTREL_PACKS));
        }
        // A measure filled in is a measure.
        Document measure =
            technique::smallest(root, technique::schemaAt(root, Pointer("/measures")).at("items"));
        measure["id"] = "mine";
        measure["at"] = "foot_plant";
        measure["kind"] = "flexion";
        measure["points"] = {"lead_hip", "lead_knee", "lead_ankle"};
        measure["views"] = {"open_side"};
        QVERIFY(technique::findMeasure(
            load(technique::withAdded(pitch(), Pointer("/measures"), measure)), "mine"));
    }
};

QTEST_GUILESS_MAIN(TestPackEdit)
#include "test_pack_edit.moc"
