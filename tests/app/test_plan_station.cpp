#include "app/plan/film_panel.h"
#include "app/plan/film_preview.h"
#include "app/plan/plan_station.h"
#include "film/sound.h"
#include "scenario/scenario.h"
#include "support/commands.h"
#include "window/window_driver.h"
#include "words/day_text.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QDoubleSpinBox>
#include <QPlainTextEdit>
#include <QSpinBox>
#include <QTabBar>
#include <QTabWidget>
#include <QTemporaryDir>
#include <QTextBrowser>

#include <algorithm>
#include <cmath>

using namespace kestrel;
using support::operator""_day;
namespace fs = std::filesystem;
using support::whenAskedForAFile;
using support::whenDialogOpens;

/// The Plan station in a real window.
class TestPlanStation : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void init();
    void cleanup() { window_.reset(); }
    void takeHomeInEightActions();
    void takeHomeOfTheDemosPlayers();
    void dismissedWithAReasonAndBack();
    void putFirstRewordedAndAdded();
    void findingOfAnotherRepIsShownThere();
    void nextVisitAsksFirst();
    void homeworkIsPlannedMovedAndTicked();
    void calendarIsSaved();
    void otherDrillsAreFound();
    void allSheetsAreMadeAndSaved();
    void filmIsProposedAndEdited();
    void voiceIsRecordedAndTakenAway();
    void filmIsSavedAndBrokenOff();

  private:
    [[nodiscard]] QString path(const char* name) const { return folder_->filePath(name); }
    void openPlan() {
        const model::ClipId clip = support::addMarkedClip(*window_, support::faulty());
        window_->press(QString("openClip_%1").arg(clip.value));
        window_->waitForPicture();
        window_->press("station_plan");
    }
    /// Another marked film of the same player; its content differs by a few bytes at the end.
    model::ClipId addAnother(const support::TestFilm& film, model::Day filmed) {
        return support::addAnotherClip(*window_, film, filmed, path("others").toStdString());
    }
    void page(app::PlanStation::Page page) {
        auto* pages = window_->find<QTabWidget>("planPages");
        QTest::mouseClick(pages->tabBar(), Qt::LeftButton, Qt::NoModifier,
                          pages->tabBar()->tabRect(page).center());
    }
    void choose(const char* combo, const QString& text) {
        auto* box = window_->find<QComboBox>(combo);
        const int index = box->findText(text);
        QVERIFY2(index >= 0, qPrintable(text));
        box->setCurrentIndex(index);
        emit box->activated(index);
    }
    void waitForSheet() {
        QTRY_VERIFY_WITH_TIMEOUT(window_->text("sheetState").isEmpty(), support::patientMs);
    }
    /// From the Bench with a judged rep to a take-home sheet on disk; counts every click and key.
    int saveTakeHome(const QString& file) {
        int actions = 0;
        window_->key(Qt::Key_F5);
        ++actions;
        page(app::PlanStation::homework);
        ++actions;
        if (window_->find("planHomework")->isEnabled()) { // else there is no drill to plan
            window_->press("planHomework");
            ++actions;
        }
        page(app::PlanStation::sheets);
        ++actions;
        const auto ready = [&] { return window_->find<QPushButton>("savePdf")->isEnabled(); };
        [&] { QTRY_VERIFY_WITH_TIMEOUT(ready(), support::patientMs); }();
        whenAskedForAFile(file);
        window_->press("savePdf");
        actions += 2; // the button, and Save in the dialog
        [&] {
            QTRY_VERIFY_WITH_TIMEOUT(window_->text("sheetState").contains("saved"),
                                     support::patientMs);
        }();
        return actions;
    }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<support::Window> window_;
};

void TestPlanStation::initTestCase() {
    QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
}

void TestPlanStation::init() {
    folder_ = std::make_unique<QTemporaryDir>();
    window_ = std::make_unique<support::Window>(path("library").toStdString());
}

void TestPlanStation::takeHomeInEightActions() {
    const model::ClipId clip = support::addMarkedClip(*window_, support::faulty());
    window_->press(QString("openClip_%1").arg(clip.value));
    window_->waitForPicture();
    const int actions = saveTakeHome(path("home.pdf"));
    qInfo("%d actions", actions);
    QVERIFY(actions <= 8);
    const support::Outcome words = support::run("pdftotext", {"-layout", path("home.pdf"), "-"});
    const QString text = QString::fromUtf8(words.out);
    QVERIFY(text.contains("Your one focus: Back leg collapses"));
    QVERIFY(text.contains("Your plan"));
    // What was given out is on record: the next visit asks about it.
    QCOMPARE(window_->desk().visit.choice().focusFaultId, std::string("back_leg_collapse"));
    QVERIFY(!window_->library().homework(window_->desk().visit.key()).empty());
}

/// On the demo library, with small pictures.
void TestPlanStation::takeHomeOfTheDemosPlayers() {
    window_.reset();
    constexpr double filmScale = 0.25;
    scenario::makeDemoLibrary(path("demo").toStdString(), {}, filmScale);
    window_ = std::make_unique<support::Window>(path("demo").toStdString());
    desk::Desk& desk = window_->desk();
    int players = 0;
    for (const model::Player& player : window_->library().players()) {
        for (const model::Clip& clip : window_->library().clips(player.id)) {
            if (window_->library().reps(clip.id).front().positions.empty()) {
                continue; // not marked yet
            }
            desk.open.open(clip.id);
            QTRY_VERIFY_WITH_TIMEOUT(desk.open.hasClip() && desk.open.clip().id == clip.id,
                                     support::patientMs);
            const QString file = path("sheet.pdf");
            const int actions = saveTakeHome(file);
            QVERIFY(actions <= 8);
            QVERIFY(QFile::exists(file));
            qInfo("%s: %d actions, focus %s", player.name.c_str(), actions,
                  desk.visit.choice().focusFaultId.c_str());
            QFile::remove(file);
            ++players;
            break; // the newest of each player
        }
    }
    QCOMPARE(players, static_cast<int>(window_->library().players().size()));
}

void TestPlanStation::dismissedWithAReasonAndBack() {
    openPlan();
    QVERIFY(window_->text("whyFirst").contains("Back leg collapses"));
    whenDialogOpens([](QDialog* dialog) {
        QTest::keyClicks(dialog->findChild<QLineEdit*>(), "the mound was wet");
        dialog->accept();
    });
    window_->press("dismiss_back_leg_collapse");
    QCOMPARE(window_->text("dismissed_back_leg_collapse"),
             QString("Back leg collapses: the mound was wet"));
    QVERIFY(window_->find<QComboBox>("focus")->findData("back_leg_collapse") < 0);
    window_->reopen(path("library").toStdString()); // it is kept
    window_->waitForPicture();
    window_->press("station_plan");
    QVERIFY(window_->text("dismissed_back_leg_collapse").contains("the mound was wet"));
    window_->press("undismiss_back_leg_collapse");
    QVERIFY(window_->find<QComboBox>("focus")->findData("back_leg_collapse") >= 0);
    window_->press("undo");
    QVERIFY(window_->text("dismissed_back_leg_collapse").contains("the mound was wet"));
}

void TestPlanStation::putFirstRewordedAndAdded() {
    openPlan();
    window_->press("pin_late_arm");
    QVERIFY(window_->text("whyFirst").contains("you put it there"));
    QCOMPARE(window_->find<QComboBox>("focus")->currentData().toString(), QString("late_arm"));
    QVERIFY(window_->find<QToolButton>("pin_late_arm")->isChecked());
    whenDialogOpens([](QDialog* dialog) {
        dialog->findChild<QLineEdit*>("rewordName")->setText("Hand comes late");
        dialog->accept();
    });
    window_->press("reword_late_arm");
    QVERIFY(window_->text("fault_late_arm").contains("Hand comes late"));
    waitForSheet();
    QVERIFY(window_->find<QTextBrowser>("sheet")->toPlainText().contains(
        "Your one focus: Hand comes late"));
    auto* add = window_->find<QComboBox>("addFinding");
    const int wide = add->findData("wide_set");
    QVERIFY(wide > 0);
    add->setCurrentIndex(wide);
    emit add->activated(wide);
    QVERIFY(window_->text("fault_wide_set").contains("you saw it"));
    window_->press("takeAway_wide_set");
    QVERIFY(!window_->desk().visit.choice().findings.contains("wide_set"));
    // The chain stands beside, in words for a screen reader too.
    QVERIFY(window_->find<QLabel>("chain_back_leg_collapse")
                ->accessibleName()
                .contains("Can lead to:"));
    for (int i = 0; i < 4; ++i) {
        window_->press("undo");
    }
    QCOMPARE(window_->desk().visit.choice(), model::PlanChoice());
}

void TestPlanStation::findingOfAnotherRepIsShownThere() {
    const model::ClipId good = support::addMarkedClip(*window_, support::rightHander());
    const model::ClipId bad = addAnother(support::faulty(), "2026-11-20"_day);
    window_->press(QString("openClip_%1").arg(good.value));
    window_->waitForPicture();
    window_->press("station_plan");
    QVERIFY(window_->text("fault_back_leg_collapse").contains("in 1 of 2 reps"));
    window_->press("see_back_leg_collapse");
    QTRY_VERIFY_WITH_TIMEOUT(window_->desk().open.clip().id == bad &&
                                 window_->main().station() == app::MainWindow::bench,
                             support::patientMs);
    QTRY_COMPARE(window_->desk().open.frame(), window_->desk().open.rep().positions.at("stride"));
}

void TestPlanStation::nextVisitAsksFirst() {
    openPlan(); // filmed on 20 November
    addAnother(support::faulty(), "2026-11-20"_day);
    addAnother(support::faulty(), "2026-11-20"_day);
    page(app::PlanStation::homework);
    window_->press("planHomework");
    const model::VisitKey first = window_->desk().visit.key();
    QVERIFY(!window_->main().findChild<QWidget*>("askBack")->isVisible());
    addAnother(support::rightHander(), "2027-01-20"_day);
    addAnother(support::rightHander(), "2027-01-20"_day);
    const model::ClipId later = addAnother(support::rightHander(), "2027-01-20"_day);
    window_->press("station_squad");
    window_->press(QString("openClip_%1").arg(later.value));
    QTRY_COMPARE_WITH_TIMEOUT(window_->desk().open.clip().id, later, support::patientMs);
    window_->waitForPicture();
    window_->press("station_plan");
    QVERIFY(window_->find("askBack")->isVisible());
    const QString text = window_->text("askBackText");
    QVERIFY2(text.contains("It is there. Step up"), qPrintable(text));
    const auto planned = window_->library().homework(first).size();
    QVERIFY(text.contains(QString("0 of %1 drills are ticked").arg(planned)));
    // The ticks of the sheet that came back.
    page(app::PlanStation::homework);
    auto* which = window_->find<QComboBox>("homeworkOf");
    which->setCurrentIndex(1);
    emit which->activated(1);
    auto* days = window_->find<QTreeWidget>("homeworkDays");
    days->topLevelItem(0)->child(0)->setCheckState(0, Qt::Checked);
    QTRY_VERIFY(window_->text("askBackText").contains(QString("1 of %1 drills").arg(planned)));
    QVERIFY(!window_->library().homework(first).front().doneOn.empty());
    QVERIFY(!window_->find<QPushButton>("dayLater")->isEnabled()); // that plan is over
}

void TestPlanStation::homeworkIsPlannedMovedAndTicked() {
    openPlan();
    page(app::PlanStation::homework);
    const model::VisitKey visit = window_->desk().visit.key();
    for (const int day : {1, 3, 6}) { // from three days to two
        auto* box = window_->find<QCheckBox>(QString("weekday_%1").arg(day));
        QVERIFY(box->isChecked());
        box->setChecked(day != 3);
    }
    window_->find<QSpinBox>("homeworkMinutes")->setValue(20);
    window_->press("nextVisitAgreed");
    const QDate next = words::dateOf(support::testDay).addDays(28);
    window_->find<QDateEdit>("nextVisit")->setDate(next);
    window_->press("planHomework");
    const model::Homework planned = window_->library().homework(visit);
    QVERIFY(!planned.empty());
    for (const auto& item : planned) {
        QVERIFY(*model::weekdayOf(item.day) == 1 || *model::weekdayOf(item.day) == 6);
        QVERIFY(item.day < words::dayOf(next));
    }
    auto* days = window_->find<QTreeWidget>("homeworkDays");
    // From a Monday to the Monday in four weeks, both left out: four Saturdays, three Mondays.
    QCOMPARE(days->topLevelItemCount(), 7);
    // A day later, and its drills with it.
    days->setCurrentItem(days->topLevelItem(1));
    const QString from = days->topLevelItem(1)->data(0, Qt::UserRole).toString();
    window_->press("dayLater");
    const QString to = QDate::fromString(from, Qt::ISODate).addDays(1).toString(Qt::ISODate);
    const auto onDay = [&](const QString& day) {
        const model::Homework all = window_->library().homework(visit);
        return std::count_if(all.begin(), all.end(), [&](const auto& item) {
            return item.day == *model::dayFromIso(day.toStdString());
        });
    };
    QCOMPARE(onDay(from), 0);
    QVERIFY(onDay(to) > 0);
    QCOMPARE(days->currentItem()->data(0, Qt::UserRole).toString(), to);
    window_->press("dayEarlier"); // back where it was proposed
    QVERIFY(onDay(from) > 0);
    QVERIFY(window_->library().planWish(visit)->moved.empty());
    window_->press("undo");
    QVERIFY(onDay(to) > 0);
    window_->press("redo");
    // A drill without its equipment is left out, and that is said.
    window_->press("has_resistance band");
    window_->press("planHomework");
    QVERIFY2(window_->text("homeworkRemarks").contains("needs a resistance band"),
             qPrintable(window_->text("homeworkRemarks")));
    for (const auto& item : window_->library().homework(visit)) {
        QVERIFY(item.drillId != "band_glides");
    }
    days->topLevelItem(0)->child(0)->setCheckState(0, Qt::Checked);
    QTRY_VERIFY(!window_->library().homework(visit).front().doneOn.empty());
    window_->press("undo");
    QVERIFY(window_->library().homework(visit).front().doneOn.empty());
    QVERIFY(days->topLevelItem(0)->child(0)->checkState(0) == Qt::Unchecked);
}

void TestPlanStation::calendarIsSaved() {
    openPlan();
    page(app::PlanStation::homework);
    QVERIFY(!window_->find<QPushButton>("saveCalendar")->isEnabled());
    window_->press("planHomework");
    whenAskedForAFile(path("home.ics"));
    window_->press("saveCalendar");
    QFile file(path("home.ics"));
    QVERIFY(file.open(QIODevice::ReadOnly));
    const QByteArray text = file.readAll();
    std::set<model::Day> days;
    for (const auto& item : window_->library().homework(window_->desk().visit.key())) {
        days.insert(item.day);
    }
    QCOMPARE(text.count("BEGIN:VEVENT"), static_cast<int>(days.size()));
}

void TestPlanStation::otherDrillsAreFound() {
    openPlan();
    std::string taken;
    whenDialogOpens([&](QDialog* dialog) {
        auto* list = dialog->findChild<QListWidget*>("drillList");
        const int ofTechnique = list->count();
        dialog->findChild<QComboBox*>("drillFault")->setCurrentIndex(0);
        QVERIFY(list->count() > ofTechnique); // those of other techniques, too
        dialog->findChild<QSpinBox*>("drillMinutes")->setValue(4);
        const int shortOnes = list->count();
        QVERIFY(shortOnes > 0 && shortOnes < 200);
        QTest::keyClicks(dialog->findChild<QLineEdit*>("drillWords"), "no such words");
        QCOMPARE(list->count(), 0);
        QVERIFY(dialog->findChild<QLabel*>("drillCount")->text().contains("No drill fits"));
        dialog->findChild<QLineEdit*>("drillWords")->clear();
        QCOMPARE(list->count(), shortOnes);
        QVERIFY(!dialog->findChild<QPushButton*>("takeDrills")->isEnabled());
        list->item(0)->setCheckState(Qt::Checked);
        taken = list->item(0)->data(Qt::UserRole).toString().toStdString();
        QVERIFY(dialog->findChild<QTextBrowser*>("drillPage")->toPlainText().contains("Caution"));
        QTest::mouseClick(dialog->findChild<QPushButton*>("takeDrills"), Qt::LeftButton);
    });
    window_->press("moreDrills");
    const auto& drills = window_->desk().visit.review().plan.drillIds;
    QVERIFY(std::find(drills.begin(), drills.end(), taken) != drills.end());
    QVERIFY(window_->find<QCheckBox>("drill_" + QString::fromStdString(taken))->isChecked());
    window_->press("undo");
    QCOMPARE(drills.size(), std::size_t{3});
}

void TestPlanStation::allSheetsAreMadeAndSaved() {
    openPlan();
    waitForSheet();
    choose("sheetKind", "Full report for you");
    waitForSheet();
    QVERIFY(window_->find<QTextBrowser>("sheet")->toPlainText().contains("How it was made"));
    choose("paper", "Letter");
    whenAskedForAFile(path("full.pdf"));
    window_->press("savePdf");
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("sheetState").contains("saved"), support::patientMs);
    QVERIFY(support::run("pdfinfo", {path("full.pdf")}).out.contains("letter"));
    // Another clip judged meanwhile makes the sheet again; where it was saved stays told.
    emit window_->desk().visit.moreJudged();
    QVERIFY(!window_->text("sheetState").contains("saved"));
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("sheetState").contains("full.pdf"), support::patientMs);
    choose("sheetKind", "Numbered pictures");
    waitForSheet();
    whenAskedForAFile(path("numbers.png"));
    window_->press("savePng");
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("sheetState").contains("saved"), support::patientMs);
    const QImage positions(path("numbers.png"));
    QVERIFY(!positions.isNull());
    choose("numberedFrames", "evenly over the rep");
    window_->find<QSpinBox>("numberedCount")->setValue(20);
    QTRY_VERIFY_WITH_TIMEOUT(window_->find<QPushButton>("savePng")->isEnabled(),
                             support::patientMs);
    whenAskedForAFile(path("even.png"));
    window_->press("savePng");
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("sheetState").contains("even.png"), support::patientMs);
    QVERIFY(QImage(path("even.png")).height() > positions.height());
    // Blurred from now on, and remembered.
    window_->press("blurFaces");
    QTRY_VERIFY_WITH_TIMEOUT(window_->find<QPushButton>("savePng")->isEnabled(),
                             support::patientMs);
    QCOMPARE(window_->library().setting("blur_faces"), std::string("yes"));
}

void TestPlanStation::filmIsProposedAndEdited() {
    openPlan();
    page(app::PlanStation::film);
    QVERIFY(window_->text("filmState").contains("press Propose"));
    QVERIFY(!window_->find<QPushButton>("saveFilm")->isEnabled());
    window_->press("proposeFilm");
    auto* steps = window_->find<QListWidget>("filmSteps");
    const int proposed = steps->count();
    QVERIFY(proposed >= 6);
    int focus = -1;
    for (int i = 0; i < proposed; ++i) {
        if (steps->item(i)->text().contains("Work on this")) {
            focus = i;
        }
    }
    QVERIFY(focus > 0);
    steps->setCurrentRow(focus);
    auto* preview = window_->find<app::FilmPreview>("filmPreview");
    QTRY_VERIFY_WITH_TIMEOUT(!preview->image().isNull(), support::patientMs);
    const auto script = [&] {
        return window_->library().reviewScript(window_->desk().open.rep().id);
    };
    const auto at = static_cast<std::size_t>(focus);
    // Words, time, ring, order; each can be taken back.
    window_->find<QPlainTextEdit>("stepCaption")->setPlainText("Stay tall, Mika");
    QTRY_COMPARE(QString::fromStdString(script()[at].caption), QString("Stay tall, Mika"));
    window_->find<QDoubleSpinBox>("stepSeconds")->setValue(6.5);
    QCOMPARE(script()[at].seconds, 6.5);
    window_->press("stepRing");
    QTRY_VERIFY(!preview->image().isNull());
    QTest::mouseClick(preview, Qt::LeftButton, Qt::NoModifier, preview->rect().center());
    QVERIFY(script()[at].pointer.has_value());
    const model::FrameSpan film{0, window_->desk().open.index().width};
    QVERIFY(script()[at].pointer->x > 0.3 * film.last && script()[at].pointer->x < 0.7 * film.last);
    window_->press("stepUp");
    QCOMPARE(QString::fromStdString(script()[at - 1].caption), QString("Stay tall, Mika"));
    QCOMPARE(steps->currentRow(), focus - 1);
    window_->press("undo");
    QCOMPARE(QString::fromStdString(script()[at].caption), QString("Stay tall, Mika"));
    window_->press("undo");
    QVERIFY(!script()[at].pointer);
    window_->press("addStop");
    QCOMPARE(steps->count(), proposed + 1);
    QCOMPARE(script()[static_cast<std::size_t>(steps->currentRow())].first,
             window_->desk().open.frame());
    window_->press("addStretch");
    QCOMPARE(steps->count(), proposed + 2);
    window_->press("removeStep");
    QCOMPARE(steps->count(), proposed + 1);
    // Played from start to end, the steps light up one after the other.
    steps->setCurrentRow(0);
    QTRY_VERIFY(!preview->image().isNull());
    window_->press("playFilm");
    QTRY_VERIFY_WITH_TIMEOUT(steps->currentRow() >= 1, support::patientMs);
    QCOMPARE(window_->find<QPushButton>("playFilm")->text(), QString("Stop"));
    window_->press("playFilm");
    QCOMPARE(window_->find<QPushButton>("playFilm")->text(), QString("Play"));
}

void TestPlanStation::voiceIsRecordedAndTakenAway() {
    std::vector<float> tone(film::soundRate);
    for (std::size_t i = 0; i < tone.size(); ++i) {
        tone[i] = static_cast<float>(0.3 * std::sin(0.05 * static_cast<double>(i)));
    }
    film::writeWav(tone, path("tone.wav").toStdString());
    openPlan();
    struct Recorded : app::SoundSource {
        explicit Recorded(std::vector<float> samples) : samples_(std::move(samples)) {}
        std::vector<float> heard() override { return samples_; }
        std::vector<float> samples_;
    };
    window_->main().planStation().filmPanel().setMicrophone(
        [tone] { return std::make_unique<Recorded>(tone); });
    page(app::PlanStation::film);
    window_->press("proposeFilm");
    auto* steps = window_->find<QListWidget>("filmSteps");
    steps->setCurrentRow(2);
    window_->press("recordVoice");
    QCOMPARE(window_->find<QPushButton>("recordVoice")->text(), QString("Stop recording"));
    window_->press("recordVoice");
    const auto script = [&] {
        return window_->library().reviewScript(window_->desk().open.rep().id);
    };
    const std::string voice = script()[2].voice;
    QVERIFY(!voice.empty());
    const std::vector<float> heard = film::readSound(window_->library().voiceFolder() / voice);
    QCOMPARE(heard.size(), tone.size());
    QVERIFY(std::abs(heard[1000] - tone[1000]) < 1e-3);
    QVERIFY(steps->item(2)->text().contains(QStringLiteral("♪")));
    window_->press("removeVoice");
    QVERIFY(script()[2].voice.empty());
    whenAskedForAFile(path("tone.wav"));
    window_->press("importVoice");
    QVERIFY(!script()[2].voice.empty());
}

void TestPlanStation::filmIsSavedAndBrokenOff() {
    openPlan();
    page(app::PlanStation::film);
    window_->press("proposeFilm");
    whenAskedForAFile(path("review.mp4"));
    window_->press("saveFilm");
    QVERIFY(window_->find<QPushButton>("cancelFilm")->isVisible());
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("filmState").contains("saved"), 60000);
    QVERIFY(QFile::exists(path("review.mp4")) && QFile::exists(path("review.vtt")));
    whenAskedForAFile(path("half.mp4"));
    window_->press("saveFilm");
    window_->press("cancelFilm");
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("filmState").contains("broken off"), 60000);
    QVERIFY(!QFile::exists(path("half.mp4")));
    QVERIFY(window_->find<QPushButton>("saveFilm")->isEnabled());
}

QTEST_MAIN(TestPlanStation)
#include "test_plan_station.moc"
