#include "words/catalogue.h"
#include "words/keys.h"
#include "words/language.h"
#include "words/measured.h"
#include "words/words.h"

#include <QTest>

#include <filesystem>
#include <fstream>
#include <regex>
#include <set>
#include <sstream>

using namespace kestrel;
namespace fs = std::filesystem;

namespace {

std::set<std::string> catalogueIds() {
    std::set<std::string> ids;
    for (const auto entries : words::catalogue()) {
        for (const words::Entry& entry : entries) {
            ids.insert(std::string(entry.id));
        }
    }
    return ids;
}

/// Text literals of the form “subject.what” in all rooms but the words' own.
std::set<std::string> idsInSources() {
    static const std::regex literal("\"([a-z_]+\\.(?!(?:json|png|sqlite)\")[a-z0-9_]+)\"");
    std::set<std::string> ids;
    for (const auto& entry : fs::recursive_directory_iterator(KESTREL_SOURCES)) {
        const fs::path& file = entry.path();
        if (file.extension() != ".cpp" || file.string().find("/words/") != std::string::npos) {
            continue;
        }
        std::ifstream in(file);
        std::stringstream whole;
        whole << in.rdbuf();
        const std::string text = whole.str();
        for (std::sregex_iterator at(text.begin(), text.end(), literal), end; at != end; ++at) {
            ids.insert((*at)[1]);
        }
    }
    return ids;
}

std::string subject(const std::string& id) {
    return id.substr(0, id.find('.'));
}

} // namespace

class TestWords : public QObject {
    Q_OBJECT

  private slots:
    void initTestCase() { words::applyLanguage(*QCoreApplication::instance(), QLocale::c()); }

    void idsAreUnique() {
        std::size_t entries = 0;
        for (const auto part : words::catalogue()) {
            entries += part.size();
        }
        QCOMPARE(catalogueIds().size(), entries);
        QVERIFY(entries > 100);
    }

    /// A sentence nobody says is dead; a message without a sentence ends the slot that shows it.
    void catalogueHoldsWhatTheLibrariesSay() {
        const std::set<std::string> known = catalogueIds();
        const std::set<std::string> used = idsInSources();
        std::set<std::string> subjects;
        for (const std::string& id : known) {
            subjects.insert(subject(id));
        }
        QStringList missing;
        for (const std::string& id : used) {
            if (subjects.contains(subject(id)) && !known.contains(id)) {
                missing << QString::fromStdString(id);
            }
        }
        QVERIFY2(missing.isEmpty(), qPrintable("no sentence for " + missing.join(", ")));
        // Composed of a name of an enumeration or a role.
        const std::set<std::string> composed{"role",    "equipment",  "kind", "view",
                                             "verdict", "confidence", "stage"};
        QStringList unused;
        for (const std::string& id : known) {
            const bool dotted = id.find('.') != std::string::npos;
            if (dotted && !composed.contains(subject(id)) && !used.contains(id)) {
                unused << QString::fromStdString(id);
            }
        }
        QVERIFY2(unused.isEmpty(), qPrintable("nobody says " + unused.join(", ")));
    }

    void argumentsStandAtTheirPlaces() {
        using model::Figure;
        QCOMPARE(
            words::inWords(model::message("peak.too_short", model::message("role.throwing_wrist"),
                                          Figure{11.6}, Figure{30.0}, Figure{95.0})),
            QString("The throwing wrist is fast for 12 ms only; at 30 frames a second its "
                    "peak can't be told. Film with at least 95."));
        // A file may be called anything.
        QCOMPARE(words::inWords(model::message("change.measure", "50%2 off", "a", "b")),
                 QString("50%2 off: a → b."));
        QVERIFY(words::inWords(model::Message()).isEmpty());
        QVERIFY_EXCEPTION_THROWN(words::inWords(model::message("no.such")), std::logic_error);
        QVERIFY_EXCEPTION_THROWN(words::inWords(model::message("peak.none")), std::logic_error);
    }

    void listsAreJoined() {
        const auto name = [](const char* text) { return model::asItIs(text); };
        const auto list = [&](const char* id, std::vector<model::Message> parts) {
            return words::inWords(model::listOf(id, std::move(parts)));
        };
        QCOMPARE(list("list.and", {}), QString());
        QCOMPARE(list("list.and", {name("a")}), QString("a"));
        QCOMPARE(list("list.and", {name("a"), name("b")}), QString("a and b"));
        QCOMPARE(list("list.or", {name("a"), name("b"), name("c")}), QString("a, b or c"));
        QCOMPARE(list("list.sentences", {name("A."), name("B.")}), QString("A. B."));
    }

    void pluralsFollowTheCount() {
        QVERIFY(words::inWords(model::message("plan.left_out_minutes", "Wall", 1))
                    .endsWith("1 minute."));
        QVERIFY(words::inWords(model::message("plan.left_out_minutes", "Wall", 2))
                    .endsWith("2 minutes."));
    }

    void keysAreThoseOfTheTable() {
        const QString says = words::inWords(
            model::message("angle.either_fold", model::Measured{80.0},
                           model::message("role.lead_knee"), model::Measured{120.0}));
        QVERIFY2(says.contains("(" + words::keyName(words::Action::swapDepth) + ")"),
                 qPrintable(says));
    }

    void rolesOfAnOwnPackAreSpoken() {
        QCOMPARE(words::inWords(model::message("role.kicking_foot")), QString("kicking foot"));
    }

    void figuresAreRoundedHonestly() {
        using model::Unit;
        QCOMPARE(words::valueText(43.4, Unit::degrees), QString("43°"));
        QCOMPARE(words::valueText(-0.4, Unit::degrees), QString("0°"));
        QCOMPARE(words::valueText(-12.6, Unit::degrees), QString("−13°"));
        QCOMPARE(words::valueText(0.853, Unit::bodyHeights), QString("85 %"));
        QCOMPARE(words::valueText(0.145, Unit::seconds), QString("0.14 s"));
        QCOMPARE(words::rangeText({{}, 8.0}, Unit::degrees), QString("up to 8°"));
        QCOMPARE(words::rangeText({30.0, {}}, Unit::degrees), QString("at least 30°"));
        QCOMPARE(words::rangeText({30.0, 45.0}, Unit::degrees), QString("30 to 45°"));
        model::Reading r;
        QCOMPARE(words::valueWithUncertainty(r), QString("–"));
        r.value = 43.2;
        r.u95 = 0.2;
        QCOMPARE(words::valueWithUncertainty(r), QString("43 ± 1°")); // never ± 0
    }
};

QTEST_GUILESS_MAIN(TestWords)
#include "test_words.moc"
