#include "window/window_driver.h"

#include "app/packs/document_editor.h"
#include "app/packs/lines_edit.h"
#include "app/packs/packs_station.h"
#include "technique/pack/json_file.h"
#include "technique/pack/pack_edit.h"

#include <QCheckBox>
#include <QComboBox>
#include <QInputDialog>
#include <QLineEdit>
#include <QTemporaryDir>
#include <QTreeWidget>
#include <QTreeWidgetItemIterator>

using namespace kestrel;
using technique::Document;
using technique::Pointer;
namespace fs = std::filesystem;

/// The demo coach's own pack and drills, made in the Packs station with nothing but its tree, its
/// buttons and its fields.
class TestPackByHand : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void cleanupTestCase() { window_.reset(); }
    void drillsAreWritten();
    void packIsCopiedAndChanged();

  private:
    [[nodiscard]] app::DocumentEditor& editor() {
        return *window_->main().findChild<app::DocumentEditor*>();
    }
    /// The document as the editor has it, whole or not yet.
    [[nodiscard]] bool has(const Pointer& place) const { return document_.contains(place); }
    [[nodiscard]] Document at(const Pointer& place) const {
        return has(place) ? document_.at(place) : Document();
    }
    void startFrom(const Document& document, const fs::path& schemaFile);
    void click(const Pointer& place);
    void press(const char* button);
    void fill(const Pointer& place, const Document& wanted);
    void fillList(const Pointer& place, const Document& wanted);
    void setField(const std::string& key, const Document& wanted, const Document& schema);
    void write(QLineEdit* line, const Document& wanted);
    static QString inWords(const Document& value);
    static QString difference(const Document& made, const Document& wanted);

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<support::Window> window_;
    Document document_;
    Document schema_;
    int steps_ = 0;
};

namespace {

const fs::path demoFolder = fs::path(KESTREL_PACKS) / "demo";

Document read(const fs::path& file) {
    return Document::parse(technique::readText(file));
}

/// Lists of parts stand in the tree, lists of words and numbers in the form.
bool inTree(const Document& value) {
    return value.is_object() || (value.is_array() && !value.empty() && value.front().is_object());
}

} // namespace

void TestPackByHand::initTestCase() {
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
    folder_ = std::make_unique<QTemporaryDir>();
    window_ = std::make_unique<support::Window>(folder_->filePath("library").toStdString());
    window_->main().resize(1000, 640); // there is much to paint
    window_->press("station_packs");
    window_->main().packsStation().choosePage(app::PacksStation::change);
    connect(&editor(), &app::DocumentEditor::edited, this,
            [this](const Document& document, const QString&) {
                document_ = document;
                ++steps_;
            });
}

void TestPackByHand::startFrom(const Document& document, const fs::path& schemaFile) {
    document_ = document;
    schema_ = read(schemaFile);
}

void TestPackByHand::click(const Pointer& place) {
    auto* tree = window_->find<QTreeWidget>("packTree");
    const QString wanted = QString::fromStdString(place.to_string());
    for (QTreeWidgetItemIterator it(tree); *it != nullptr; ++it) {
        if ((*it)->data(0, Qt::UserRole).toString() == wanted) {
            tree->scrollToItem(*it); // opens what it lies in
            QTest::mouseClick(tree->viewport(), Qt::LeftButton, Qt::NoModifier,
                              tree->visualItemRect(*it).center());
            QCOMPARE(editor().chosen(), place);
            return;
        }
    }
    QFAIL(qPrintable("not in the tree: " + wanted));
}

void TestPackByHand::press(const char* button) {
    QVERIFY2(window_->find(button)->isEnabled(), button);
    const int before = steps_;
    window_->press(button);
    QTRY_VERIFY_WITH_TIMEOUT(steps_ > before, 5000);
}

QString TestPackByHand::inWords(const Document& value) {
    return value.is_string()   ? QString::fromStdString(value.get<std::string>())
           : value.is_number() ? QString::number(value.get<double>(), 'g', 10)
                               : QString();
}

void TestPackByHand::write(QLineEdit* line, const Document& wanted) {
    line->setFocus();
    line->selectAll();
    line->insert(inWords(wanted));
    if (wanted.is_null()) {
        line->clear();
    }
    QTest::keyClick(line, Qt::Key_Return);
}

void TestPackByHand::setField(const std::string& key, const Document& wanted,
                              const Document& schema) {
    const QString name = "field_" + QString::fromStdString(key);
    const int before = steps_;
    if (schema.value("type", Document()) == "array" && wanted.is_array() && wanted.size() == 2 &&
        window_->main().findChild<QLineEdit*>("limitLow") != nullptr && key == "good") {
        // Low and high are fields of their own, each taken when it is left.
        for (const std::size_t end : {0, 1}) {
            const int soFar = steps_;
            const Document now = at(editor().chosen() / key);
            if (now.is_array() && now.at(end) == wanted.at(end)) {
                continue;
            }
            write(window_->find<QLineEdit>(end == 0 ? "limitLow" : "limitHigh"), wanted.at(end));
            QTRY_VERIFY_WITH_TIMEOUT(steps_ > soFar, 5000);
        }
        return;
    }
    QWidget* field = window_->find(name);
    if (auto* box = qobject_cast<QCheckBox*>(field)) {
        box->click();
    } else if (auto* choice = qobject_cast<QComboBox*>(field)) {
        if (choice->isEditable()) {
            write(choice->lineEdit(), wanted);
        } else {
            const int row = choice->findText(inWords(wanted));
            QVERIFY2(row >= 0, qPrintable(name + ": " + inWords(wanted)));
            choice->setCurrentIndex(row);
            emit choice->activated(row);
        }
    } else if (auto* line = qobject_cast<QLineEdit*>(field)) {
        write(line, wanted);
    } else {
        auto* lines = qobject_cast<QPlainTextEdit*>(field);
        if (lines == nullptr) {
            lines = field->findChild<QPlainTextEdit*>();
        }
        QVERIFY2(lines != nullptr, qPrintable(name));
        QStringList all;
        if (wanted.is_array()) {
            for (const Document& item : wanted) {
                all << inWords(item);
            }
        } else {
            all << inWords(wanted);
        }
        lines->setFocus();
        lines->selectAll();
        QTest::keyClick(lines, Qt::Key_Delete);
        lines->insertPlainText(all.join('\n'));
        window_->find("packTree")->setFocus();
    }
    QTRY_VERIFY2_WITH_TIMEOUT(steps_ > before, qPrintable(name), 5000);
}

/// As a coach would: what has no place in the list goes, what is there already is kept and moved,
/// what is missing is added.
void TestPackByHand::fillList(const Pointer& place, const Document& wanted) {
    const auto idOf = [](const Document& item) { return item.value("id", std::string()); };
    const auto placeOf = [&](const Document& list, const Document& item) -> std::size_t {
        std::size_t i = 0;
        while (i < list.size() && idOf(list.at(i)) != idOf(item)) {
            ++i;
        }
        return i;
    };
    const bool named = !idOf(wanted.front()).empty();
    for (std::size_t i = has(place) ? at(place).size() : 0; i-- > 0;) {
        const bool goes =
            named ? placeOf(wanted, at(place / i)) == wanted.size() : i >= wanted.size();
        if (goes) {
            click(place / i);
            press("removePart");
        }
        if (QTest::currentTestFailed()) {
            return;
        }
    }
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        const std::size_t size = has(place) ? at(place).size() : 0;
        std::size_t now = named ? placeOf(at(place), wanted.at(i)) : i;
        if (now >= size) {
            click(place);
            press("addPart");
            now = size;
        }
        for (; now > i && !QTest::currentTestFailed(); --now) {
            click(place / now);
            press("partUp");
        }
        fill(place / i, wanted.at(i));
        if (QTest::currentTestFailed()) {
            return;
        }
    }
}

void TestPackByHand::fill(const Pointer& place, const Document& wanted) {
    // What does not belong goes first, then fields, then parts.
    const Document before = at(place);
    for (const auto& [key, value] : before.items()) {
        if (inTree(value) && !wanted.contains(key)) {
            click(place / key);
            press("removePart");
        }
        if (QTest::currentTestFailed()) {
            return;
        }
    }
    std::vector<std::string> keys;
    const Document properties =
        technique::schemaAt(schema_, place).value("properties", Document::object());
    for (const auto& [key, property] : properties.items()) {
        keys.push_back(key);
    }
    for (const std::string& key : keys) {
        const Document want = wanted.value(key, Document());
        const Document now = at(place / key);
        if (inTree(want) || inTree(now) || want == now) {
            continue;
        }
        click(place);
        setField(key, want, technique::schemaAt(schema_, place / key));
        if (QTest::currentTestFailed()) {
            return;
        }
    }
    for (const auto& [key, value] : wanted.items()) {
        if (!inTree(value) || value == at(place / key)) {
            continue;
        }
        if (value.is_array()) {
            fillList(place / key, value);
        } else {
            if (!has(place / key)) {
                click(place / key);
                press("addPart");
            }
            fill(place / key, value);
        }
        if (QTest::currentTestFailed()) {
            return;
        }
    }
}

QString TestPackByHand::difference(const Document& made, const Document& wanted) {
    using nlohmann::json; // the order of members is the station's own affair
    const json apart = json::diff(json::parse(made.dump()), json::parse(wanted.dump()));
    return apart.empty() ? QString() : QString::fromStdString(apart.dump(1));
}

void TestPackByHand::drillsAreWritten() {
    auto* list = window_->find<QListWidget>("packs");
    list->setCurrentRow(list->count() - 1);
    window_->main().packsStation().choosePage(app::PacksStation::change);
    startFrom(Document{{"format", 1}, {"drills", Document::array()}},
              fs::path(KESTREL_PACKS) / "schema" / "drills.schema.json");
    const Document wanted = read(demoFolder / "drills.json");
    fillList(Pointer("/drills"), wanted.at("drills"));
    QVERIFY2(!window_->find("packProblem")->isVisible(), qPrintable(window_->text("packProblem")));
    const QString apart = difference(Document::parse(window_->desk().shelf.ownDrills()), wanted);
    QVERIFY2(apart.isEmpty(), qPrintable(apart));
}

void TestPackByHand::packIsCopiedAndChanged() {
    window_->main().packsStation().choosePack("tennis_serve");
    support::whenDialogOpens([](QDialog* dialog) {
        auto* asked = qobject_cast<QInputDialog*>(dialog);
        QVERIFY(asked != nullptr);
        asked->setTextValue("Float serve");
        asked->accept();
    });
    window_->press("copyPack");
    window_->main().activateWindow(); // the focus comes back to it from the dialog
    QTRY_VERIFY(window_->main().isActiveWindow());
    const auto own = [this] {
        for (const technique::Pack& pack : window_->desk().shelf.packs()) {
            if (pack.id == "float_serve") {
                return technique::documentOf(pack.text, "float_serve.json");
            }
        }
        return Document();
    };
    QVERIFY(!own().is_null());
    window_->main().packsStation().choosePage(app::PacksStation::change);
    startFrom(own(), technique::packSchema(KESTREL_PACKS));
    const Document wanted = read(demoFolder / "float_serve.json");
    fill(Pointer(), wanted);
    QVERIFY2(!window_->find("packProblem")->isVisible(), qPrintable(window_->text("packProblem")));
    const QString apart = difference(own(), wanted);
    QVERIFY2(apart.isEmpty(), qPrintable(apart));
    qInfo("made in %d steps", steps_);
    QVERIFY(steps_ > 200); // or it was no work
}

QTEST_MAIN(TestPackByHand)
#include "test_pack_by_hand.moc"
