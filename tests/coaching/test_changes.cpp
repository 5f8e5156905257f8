#include "coaching/changes.h"
#include "support/test_films.h"
#include "words/words.h"

#include <QTest>

#include <algorithm>

using namespace kestrel;
using coaching::Change;

/// What another school changes in the judgement of the same rep.
class TestChanges : public QObject {
    Q_OBJECT
  private slots:
    void nothingChangesByItself() {
        const coaching::Review review = judged({});
        QVERIFY(coaching::changesBetween(review, review).empty());
    }
    /// The faulty pitch drops its head: a fault for coaches who want the back leg tall, none for
    /// those who drive off it. Whatever differs between the two reviews is told, and nothing else.
    void schoolChangesVerdictFaultAndFocus() {
        const coaching::Review tall = judged({"tall"});
        const coaching::Review drive = judged({"drive"});
        const auto changes = coaching::changesBetween(tall, drive);
        int verdicts = 0;
        for (std::size_t i = 0; i < tall.readings.size(); ++i) {
            const bool differs = tall.readings[i].verdict != drive.readings[i].verdict;
            verdicts += differs ? 1 : 0;
            QCOMPARE(count(changes, Change::Of::verdict, tall.readings[i].measureId),
                     differs ? 1 : 0);
        }
        QVERIFY(verdicts > 0);
        QCOMPARE(count(changes, Change::Of::verdict, "stride_head_drop"), 1);
        QVERIFY(!changes.empty());
        QCOMPARE(changes.front().of == Change::Of::focus,
                 tall.plan.focusFaultId != drive.plan.focusFaultId);
        const auto back = coaching::changesBetween(drive, tall);
        QCOMPARE(back.size(), changes.size());
        const auto says = words::inWords(coaching::toldChanges(support::pitchPack(), changes));
        QCOMPARE(static_cast<std::size_t>(says.size()), changes.size());
        QVERIFY(std::any_of(says.begin(), says.end(), [](const QString& line) {
            return line.contains("outside") && line.contains("inside");
        }));
    }

  private:
    static coaching::Review judged(const std::set<std::string>& schools) {
        technique::Circumstances c = support::openSide(support::faulty().spec);
        c.schools = schools;
        model::Rep rep = support::trueRep(support::faulty().spec);
        return coaching::reviewOf(support::pitchPack(), rep, c);
    }
    static std::ptrdiff_t count(const std::vector<Change>& changes, Change::Of of,
                                const std::string& id) {
        return std::count_if(changes.begin(), changes.end(),
                             [&](const Change& c) { return c.of == of && c.id == id; });
    }
};

QTEST_GUILESS_MAIN(TestChanges)
#include "test_changes.moc"
