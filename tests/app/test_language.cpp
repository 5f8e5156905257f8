#include "app/packs/document_editor.h"
#include "app/plan/plan_station.h"
#include "technique/pack/json_file.h"
#include "technique/pack/text_overlay.h"
#include "window/window_driver.h"

#include <QAbstractButton>
#include <QComboBox>
#include <QGroupBox>
#include <QRegularExpression>
#include <QSet>
#include <QTabBar>
#include <QTabWidget>
#include <QTemporaryDir>
#include <QTextBrowser>
#include <QTranslator>

#include <fstream>
#include <set>

using namespace kestrel;
namespace fs = std::filesystem;

namespace {

/// A text in a language of the test's own: each letter a–z stands in its full-width form. Places of
/// arguments, tags, entities and what stands in braces stay.
QString foreign(const QString& text) {
    static const QRegularExpression kept("%L?\\d|%n|<[^>]*>|&[a-z]+;|&#\\d+;|\\{[^}]*\\}");
    QString result;
    qsizetype at = 0;
    const auto shift = [&](QStringView part) {
        for (const QChar c : part) {
            constexpr char16_t fullWidth = 0xFEE0;
            result += c.isLetter() && c.unicode() < 0x80 ? QChar(c.unicode() + fullWidth) : c;
        }
    };
    for (auto found = kept.globalMatch(text); found.hasNext();) {
        const auto match = found.next();
        shift(QStringView(text).mid(at, match.capturedStart() - at));
        result += match.captured();
        at = match.capturedEnd();
    }
    shift(QStringView(text).mid(at));
    return result;
}

class ForeignLanguage : public QTranslator {
  public:
    [[nodiscard]] bool isEmpty() const override { return false; }
    [[nodiscard]] QString translate(const char* context, const char* source, const char* /*what*/,
                                    int /*n*/) const override {
        // Qt's own words are not this program's; it would take its keys and formats apart.
        const bool ours = !QByteArray(context).startsWith('Q');
        return ours ? foreign(QString::fromUtf8(source)) : QString();
    }
};

void put(const fs::path& file, const technique::Texts& texts) {
    fs::create_directories(file.parent_path());
    nlohmann::json content{{"format", 1}, {"texts", nlohmann::json::object()}};
    for (const auto& [path, text] : texts) {
        content["texts"][path] = foreign(QString::fromStdString(text)).toStdString();
    }
    std::ofstream(file) << content.dump();
}

/// The packs that ship with all their texts in the foreign language.
void makePacks(const fs::path& folder) {
    fs::copy(KESTREL_PACKS, folder, fs::copy_options::recursive);
    for (const auto& [from, below] : {std::pair("techniques", ""), std::pair("drills", "drills")}) {
        for (const auto& entry : fs::directory_iterator(folder / from)) {
            const auto content =
                technique::parseJson(technique::readText(entry.path()), entry.path());
            put(folder / "languages" / "eo" / below / entry.path().filename(),
                technique::textsOf(content));
        }
    }
}

/// What stays as it is in every language: names that a person gave, keys, kinds of files.
const QSet<QString>& known() {
    static const QSet<QString> words = [] {
        QSet<QString> all{"Mika",  "Sorrel", "Pitch", "Rep", "Jolly", "Kestrel", "Ctrl",
                          "Shift", "Alt",    "Del",   "Esc", "Space", "Left",    "Right",
                          "PgUp",  "PgDown", "Home",  "End", "Tab",   "Return",  "PDF",
                          "HTML",  "PNG",    "CSV",   "TRC", "JSON"};
        for (const auto format : {QLocale::LongFormat, QLocale::ShortFormat}) {
            for (int month = 1; month <= 12; ++month) {
                all << QLocale().monthName(month, format);
            }
            for (int day = 1; day <= 7; ++day) {
                all << QLocale().dayName(day, format);
            }
        }
        return all;
    }();
    return words;
}

/// Words of the English language in a text that is shown.
QStringList english(QString text) {
    static const QRegularExpression tags("<style.*</style>|<[^>]*>|&[a-z]+;",
                                         QRegularExpression::DotMatchesEverythingOption);
    static const QRegularExpression word("[A-Za-z]{3,}");
    text.remove(tags);
    QStringList words;
    for (auto found = word.globalMatch(text); found.hasNext();) {
        const QString one = found.next().captured();
        if (!known().contains(one)) {
            words << one;
        }
    }
    return words;
}

bool isInEditorOfData(const QWidget* widget) {
    for (; widget != nullptr; widget = widget->parentWidget()) {
        if (qobject_cast<const app::DocumentEditor*>(widget) != nullptr) {
            return true;
        }
    }
    return false;
}

void addItem(const QTreeWidgetItem* item, QStringList& texts) {
    for (int column = 0; column < item->columnCount(); ++column) {
        texts << item->text(column) << item->toolTip(column);
    }
    for (int i = 0; i < item->childCount(); ++i) {
        addItem(item->child(i), texts);
    }
}

/// All that a widget says.
QStringList textsOf(const QWidget& widget) {
    QStringList texts{widget.toolTip(), widget.accessibleName(), widget.windowTitle()};
    if (const auto* label = qobject_cast<const QLabel*>(&widget)) {
        texts << label->text();
    } else if (const auto* button = qobject_cast<const QAbstractButton*>(&widget)) {
        texts << button->text();
    } else if (const auto* group = qobject_cast<const QGroupBox*>(&widget)) {
        texts << group->title();
    } else if (const auto* tabs = qobject_cast<const QTabBar*>(&widget)) {
        for (int i = 0; i < tabs->count(); ++i) {
            texts << tabs->tabText(i) << tabs->tabToolTip(i);
        }
    } else if (const auto* box = qobject_cast<const QComboBox*>(&widget)) {
        for (int i = 0; i < box->count(); ++i) {
            texts << box->itemText(i);
        }
    } else if (const auto* line = qobject_cast<const QLineEdit*>(&widget)) {
        texts << line->placeholderText();
    } else if (const auto* browser = qobject_cast<const QTextBrowser*>(&widget)) {
        texts << browser->toPlainText();
    } else if (const auto* tree = qobject_cast<const QTreeWidget*>(&widget)) {
        addItem(tree->headerItem(), texts);
        for (int i = 0; i < tree->topLevelItemCount(); ++i) {
            addItem(tree->topLevelItem(i), texts);
        }
    } else if (const auto* list = qobject_cast<const QListWidget*>(&widget)) {
        for (int i = 0; i < list->count(); ++i) {
            texts << list->item(i)->text() << list->item(i)->toolTip();
        }
    }
    return texts;
}

} // namespace

/// The whole program in a language that nobody speaks: what is still English was never given to the
/// translators.
class TestLanguage : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        QVERIFY(folder_.isValid());
        app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
        packs_ = fs::path(folder_.path().toStdString()) / "packs";
        makePacks(packs_);
        const fs::path library = fs::path(folder_.path().toStdString()) / "library";
        window_ = std::make_unique<support::Window>(library);
        clip_ = support::addMarkedClip(*window_, support::faulty());
        QVERIFY(QCoreApplication::installTranslator(&language_));
        QLocale::setDefault(QLocale(QLocale::Esperanto));
        window_->setPacks(packs_);
        window_->reopen(library);
    }
    void cleanupTestCase() { window_.reset(); }

    void packsSpeakIt() {
        const technique::Pack& pack = *window_->desk().shelf.newest("overhand_pitch");
        QVERIFY(english(QString::fromStdString(pack.name)).isEmpty());
        for (const auto& fault : pack.faults) {
            QVERIFY2(english(QString::fromStdString(fault.name + fault.meaning)).isEmpty(),
                     fault.id.c_str());
        }
        // It is the same edition: nothing has to be judged anew for a translation.
        QCOMPARE(pack.text, technique::loadPack(pack.file, technique::packSchema(packs_)).text);
    }

    void windowSpeaksIt() {
        look("squad");
        window_->press(QString("openClip_%1").arg(clip_.value));
        window_->waitForPicture();
        QTRY_VERIFY_WITH_TIMEOUT(!window_->desk().visit.review().findings.faults.empty(), 60000);
        for (const char* station : {"film", "bench", "plan", "packs"}) {
            window_->press(QString("station_%1").arg(station));
            support::Window::settle();
            look(station);
            for (auto* pages : window_->main().findChildren<QTabWidget*>()) {
                for (int page = 0; pages->isVisible() && page < pages->count(); ++page) {
                    pages->setCurrentIndex(page);
                    support::Window::settle();
                    look(station);
                }
            }
        }
        QVERIFY2(spoken_ > 300, qPrintable(QString::number(spoken_)));
        QVERIFY2(found_.isEmpty(), qPrintable("\n" + found_.join("\n")));
    }

    void reviewFilmSpeaksIt() {
        window_->press("station_plan");
        window_->find<QTabWidget>("planPages")->setCurrentIndex(app::PlanStation::film);
        support::Window::settle();
        window_->press("proposeFilm");
        const auto script = window_->library().reviewScript(window_->desk().open.rep().id);
        QVERIFY2(script.size() >= 4, qPrintable(QString::number(script.size())));
        for (const model::ScriptStep& step : script) {
            const QStringList words = english(QString::fromStdString(step.caption));
            QVERIFY2(words.isEmpty(), qPrintable(words.join(' ')));
        }
    }

  private:
    /// Notes what is English in all that is visible now.
    void look(const QString& where) {
        for (const QWidget* widget : window_->main().findChildren<QWidget*>()) {
            if (isInEditorOfData(widget)) {
                continue; // its fields are the keys of the files, as the schema has them
            }
            const bool qts = qobject_cast<QTabBar*>(widget->parentWidget()) != nullptr;
            if (!widget->isVisible() || qts) {
                continue;
            }
            for (const QString& text : textsOf(*widget)) {
                spoken_ += text.isEmpty() ? 0 : 1;
                const QStringList words = english(text);
                const QString line =
                    where + ", " + widget->objectName() + ": " + words.mid(0, 8).join(' ');
                if (!words.isEmpty() && !found_.contains(line)) {
                    found_ << line;
                }
            }
        }
    }

    QTemporaryDir folder_;
    fs::path packs_;
    ForeignLanguage language_;
    std::unique_ptr<support::Window> window_;
    model::ClipId clip_;
    QStringList found_;
    int spoken_ = 0;
};

QTEST_MAIN(TestLanguage)
#include "test_language.moc"
