#include "support/page.h"
#include "window/window_driver.h"
#include "words/keys.h"

#include <QKeyEvent>
#include <QTemporaryDir>

#include <set>

using namespace kestrel;
using words::Action;
using words::Where;

/// The table of keys: what a key does, what labels say, and the page that shows them all.
class TestKeys : public QObject {
    Q_OBJECT
  private slots:
    void noKeyHasTwoMeanings();
    void everyKeyAsksForItsAction();
    void signsDoNotCareForShift();
    void theOverlayShowsThemAll();
    void buttonsNameTheirKeys();
    void thePageIsMade();
};

namespace {

std::optional<words::Action> pressed(int key, Qt::KeyboardModifiers held, words::Where where) {
    return words::actionFor(QKeyEvent(QEvent::KeyPress, key, held), where);
}

} // namespace

void TestKeys::noKeyHasTwoMeanings() {
    std::set<std::pair<int, QString>> seen;
    for (const words::KeyRow& row : words::keyTable()) {
        QVERIFY(!row.words.isEmpty() && !row.keys.empty());
        for (const QKeySequence& key : row.keys) {
            QVERIFY2(seen.insert({static_cast<int>(row.where), key.toString()}).second,
                     qPrintable(key.toString()));
        }
    }
}

void TestKeys::everyKeyAsksForItsAction() {
    int asked = 0;
    for (const words::KeyRow& row : words::keyTable()) {
        if (row.where == words::Where::anywhere) {
            continue; // shortcuts of the window
        }
        for (const QKeySequence& key : row.keys) {
            const QKeyCombination combination = key[0];
            const auto action =
                pressed(combination.key(), combination.keyboardModifiers(), row.where);
            // “Shift+,” arrives as the sign that the keyboard has there.
            const bool shiftedSign =
                combination.key() == Qt::Key_Comma || combination.key() == Qt::Key_Period;
            QVERIFY2(action == row.action || shiftedSign, qPrintable(key.toString()));
            ++asked;
        }
    }
    QVERIFY(asked > 40);
    QVERIFY(!pressed(Qt::Key_Q, Qt::NoModifier, words::Where::onBench));
    QVERIFY(!pressed(Qt::Key_P, Qt::NoModifier,
                     words::Where::onFilm)); // means something on the Bench only
    QVERIFY(!pressed(Qt::Key_P, Qt::ControlModifier, words::Where::onBench));
}

void TestKeys::signsDoNotCareForShift() {
    QCOMPARE(pressed(Qt::Key_BracketRight, Qt::ShiftModifier, words::Where::onBench),
             std::optional(words::Action::positionAfter));
    QCOMPARE(pressed(Qt::Key_Less, Qt::ShiftModifier, words::Where::onBench),
             std::optional(words::Action::backTen));
    QCOMPARE(pressed(Qt::Key_Enter, Qt::KeypadModifier, words::Where::onBench),
             std::optional(words::Action::confirm));
}

void TestKeys::theOverlayShowsThemAll() {
    const QTemporaryDir folder;
    support::Window window(folder.filePath("library").toStdString());
    window.press("keys");
    const auto* dialog = window.main().findChild<QDialog*>("keysDialog");
    QVERIFY(dialog != nullptr && dialog->isVisible());
    QStringList shown;
    for (const QLabel* label : dialog->findChildren<QLabel*>()) {
        shown << label->text();
    }
    for (const words::KeyRow& row : words::keyTable()) {
        QVERIFY2(shown.contains(row.words), qPrintable(row.words));
    }
}

void TestKeys::buttonsNameTheirKeys() {
    QCOMPARE(words::keyName(words::Action::confirmAll), QString("Shift+Enter"));
    QCOMPARE(words::keySign(words::Action::confirmAll), QStringLiteral("⇧↵"));
    QCOMPARE(words::keyName(words::Action::plan), QString("F5"));
    const QTemporaryDir folder;
    support::Window window(folder.filePath("library").toStdString());
    window.press("station_bench");
    QCOMPARE(window.find<QPushButton>("setPosition")->text(), QString("Set here (P)"));
    QCOMPARE(window.find<QPushButton>("confirmPosition")->text(),
             QStringLiteral("Confirm all (⇧↵)"));
}

void TestKeys::thePageIsMade() {
    QString page = "# Keys\n\nMade by `./kestrel pages` from the program's own table.\n";
    for (const auto& [where, heading] :
         {std::pair{words::Where::anywhere, "Everywhere"},
          {words::Where::onFilm, "On a film: Film, Bench and Compare"},
          {words::Where::onMarks, "On Bench and Compare"},
          {words::Where::onCompare, "On Compare"},
          {words::Where::onBench, "On the Bench"}}) {
        page += QString("\n## %1\n\n| key | |\n|---|---|\n").arg(heading);
        for (const words::KeyRow& row : words::keyTable()) {
            if (row.where == where) {
                page += QString("| %1 | %2 |\n").arg(words::keyName(row.action), row.words);
            }
        }
    }
    QVERIFY(page.count('\n') > 40);
    support::writePage(page, "keys.md");
}

QTEST_MAIN(TestKeys)
#include "test_keys.moc"
