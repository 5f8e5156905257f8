#include "app/shared/keys.h"
#include "support/page.h"
#include "window/window_driver.h"

#include <QKeyEvent>
#include <QTemporaryDir>

#include <set>

using namespace kestrel;
using app::Action;
using app::Where;

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

std::optional<Action> pressed(int key, Qt::KeyboardModifiers held, Where where) {
    return app::actionFor(QKeyEvent(QEvent::KeyPress, key, held), where);
}

} // namespace

void TestKeys::noKeyHasTwoMeanings() {
    std::set<std::pair<int, QString>> seen;
    for (const app::KeyRow& row : app::keyTable()) {
        QVERIFY(!row.words.isEmpty() && !row.keys.empty());
        for (const QKeySequence& key : row.keys) {
            QVERIFY2(seen.insert({static_cast<int>(row.where), key.toString()}).second,
                     qPrintable(key.toString()));
        }
    }
}

void TestKeys::everyKeyAsksForItsAction() {
    int asked = 0;
    for (const app::KeyRow& row : app::keyTable()) {
        if (row.where == Where::anywhere) {
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
    QVERIFY(!pressed(Qt::Key_Q, Qt::NoModifier, Where::onBench));
    QVERIFY(
        !pressed(Qt::Key_P, Qt::NoModifier, Where::onFilm)); // means something on the Bench only
    QVERIFY(!pressed(Qt::Key_P, Qt::ControlModifier, Where::onBench));
}

void TestKeys::signsDoNotCareForShift() {
    QCOMPARE(pressed(Qt::Key_BracketRight, Qt::ShiftModifier, Where::onBench),
             std::optional(Action::positionAfter));
    QCOMPARE(pressed(Qt::Key_Less, Qt::ShiftModifier, Where::onBench),
             std::optional(Action::backTen));
    QCOMPARE(pressed(Qt::Key_Enter, Qt::KeypadModifier, Where::onBench),
             std::optional(Action::confirm));
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
    for (const app::KeyRow& row : app::keyTable()) {
        QVERIFY2(shown.contains(row.words), qPrintable(row.words));
    }
}

void TestKeys::buttonsNameTheirKeys() {
    QCOMPARE(app::keyName(Action::confirmAll), QString("Shift+Enter"));
    QCOMPARE(app::keySign(Action::confirmAll), QStringLiteral("⇧↵"));
    QCOMPARE(app::keyName(Action::plan), QString("F4"));
    const QTemporaryDir folder;
    support::Window window(folder.filePath("library").toStdString());
    window.press("station_bench");
    QCOMPARE(window.find<QPushButton>("setPosition")->text(), QString("Set here (P)"));
    QCOMPARE(window.find<QPushButton>("confirmPosition")->text(),
             QStringLiteral("Confirm all (⇧↵)"));
}

void TestKeys::thePageIsMade() {
    QString page = "# Keys\n\nMade by `./kestrel pages` from the program's own table.\n";
    for (const auto& [where, heading] : {std::pair{Where::anywhere, "Everywhere"},
                                         {Where::onFilm, "On a film: Film and Bench"},
                                         {Where::onBench, "On the Bench"}}) {
        page += QString("\n## %1\n\n| key | |\n|---|---|\n").arg(heading);
        for (const app::KeyRow& row : app::keyTable()) {
            if (row.where == where) {
                page += QString("| %1 | %2 |\n").arg(app::keyName(row.action), row.words);
            }
        }
    }
    QVERIFY(page.count('\n') > 40);
    support::writePage(page, "keys.md");
}

QTEST_MAIN(TestKeys)
#include "test_keys.moc"
