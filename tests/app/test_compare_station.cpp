#include "app/compare/compare_station.h"
#include "app/compare/pair_stage.h"
#include "support/commands.h"
#include "window/window_driver.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFile>
#include <QTemporaryDir>

#include <cmath>

using namespace kestrel;
using support::operator""_day;

/// The open rep beside another: proposed, in step, drawn together, told and saved.
class TestCompareStation : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance())); }
    void init();
    void proposedInOrderAndChosenWithOneClick();
    void bothFramesAreOfTheKeyPosition();
    void trueTimeRunsFromOnePosition();
    void nudgedAndCorrected();
    void whatDiffersIsTold();
    void aReadingIsShownOnBoth();
    void drawnInEveryWay();
    void savedInFourActions();
    void filmAndTableAreSaved();
    void keysWork();
    void withoutOthersItSaysWhatToDo();

  private:
    QString path(const QString& name) { return folder_->filePath(name); }
    desk::Comparison& comparison() { return window_->desk().comparison; }
    desk::OpenClip& open() { return window_->desk().open; }
    app::PairStage& stage() { return window_->main().compareStation().stage(); }
    void goToCompare() {
        window_->press("station_compare");
        QTRY_VERIFY_WITH_TIMEOUT(comparison().hasOther(), support::patientMs);
    }
    void waitForBoth(int here, int there) {
        QTRY_COMPARE_WITH_TIMEOUT(stage().paintedFrames(), std::pair(here, there),
                                  support::patientMs);
    }
    void choose(const char* combo, int index) {
        auto* box = window_->find<QComboBox>(combo);
        box->setCurrentIndex(index);
        emit box->activated(index);
    }
    QTreeWidgetItem* row(const QString& measure) {
        auto* table = window_->find<QTreeWidget>("differences");
        for (int i = 0; i < table->topLevelItemCount(); ++i) {
            if (table->topLevelItem(i)->data(0, Qt::UserRole) == measure) {
                return table->topLevelItem(i);
            }
        }
        return nullptr;
    }
    int positionOf(const model::Rep& rep, const char* id) { return rep.positions.at(id); }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<support::Window> window_;
    model::ClipId now_;  ///< faulty, open
    model::ClipId then_; ///< without a fault, a month before
};

void TestCompareStation::init() {
    window_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    window_ = std::make_unique<support::Window>(path("library").toStdString());
    now_ = support::addMarkedClip(*window_, support::faulty()); // filmed on 20 November
    then_ = support::addAnotherClip(*window_, support::rightHander(), "2026-10-16"_day,
                                    path("others").toStdString());
    window_->press(QString("openClip_%1").arg(now_.value));
    window_->waitForPicture();
}

void TestCompareStation::proposedInOrderAndChosenWithOneClick() {
    using Why = desk::Comparison::Candidate::Why;
    const auto whys = [&] {
        std::vector<Why> all;
        for (const auto& candidate : comparison().candidates()) {
            all.push_back(candidate.why);
        }
        return all;
    };
    goToCompare();
    QTRY_COMPARE_WITH_TIMEOUT(whys(), (std::vector<Why>{Why::earlierVisit, Why::poseModel}),
                              support::patientMs);
    QCOMPARE(comparison().other().clip.id, then_);
    QVERIFY(window_->find<QToolButton>("candidate_0")->text().contains("16 October 2026"));
    // Another rep of the day goes before.
    const model::ClipId same = support::addAnotherClip(
        *window_, support::rightHander(), "2026-11-20"_day, path("others").toStdString());
    window_->press("station_bench");
    open().judgeAnew();
    window_->press("station_compare");
    QTRY_COMPARE_WITH_TIMEOUT(
        whys(), (std::vector<Why>{Why::visitsBest, Why::earlierVisit, Why::poseModel}),
        support::patientMs);
    QCOMPARE(comparison().other().clip.id, then_); // what was chosen stays
    window_->press("candidate_0");
    QCOMPARE(comparison().other().clip.id, same);
    window_->press("candidate_2");
    QTRY_VERIFY_WITH_TIMEOUT(comparison().hasOther() && comparison().otherIsModel(),
                             support::patientMs);
    QVERIFY(window_->find<QToolButton>("candidate_2")->isChecked());
    QTRY_VERIFY_WITH_TIMEOUT(stage().paintedFrames().second >= 0, support::patientMs);
}

void TestCompareStation::bothFramesAreOfTheKeyPosition() {
    goToCompare();
    const model::Rep here = open().rep();
    const model::Rep there = comparison().other().rep;
    for (const auto& [id, frame] : here.positions) {
        window_->press(QString("pairPosition_%1").arg(QString::fromStdString(id)));
        QCOMPARE(open().frame(), frame);
        QCOMPARE(comparison().otherFrame(frame), std::optional(there.positions.at(id)));
        waitForBoth(frame, there.positions.at(id));
    }
    // Between them it only goes on.
    int before = -1;
    for (int frame = here.positions.at("lift_top"); frame < here.positions.at("release"); ++frame) {
        const auto matching = comparison().otherFrame(frame);
        QVERIFY(matching && *matching >= before);
        before = *matching;
    }
}

void TestCompareStation::trueTimeRunsFromOnePosition() {
    goToCompare();
    auto* step = window_->find<QComboBox>("stepTogether");
    const int release = step->findData("release");
    QVERIFY(release > 0);
    choose("stepTogether", release);
    const model::Rep here = open().rep();
    const model::Rep there = comparison().other().rep;
    QCOMPARE(comparison().otherFrame(positionOf(here, "release")),
             std::optional(positionOf(there, "release")));
    // Both films have 120 frames a second.
    QCOMPARE(comparison().otherFrame(positionOf(here, "release") - 40),
             std::optional(positionOf(there, "release") - 40));
    open().goTo(positionOf(here, "lift_top"));
    QVERIFY2(window_->text("pairTimes").endsWith("same time"),
             qPrintable(window_->text("pairTimes")));
    choose("stepTogether", 0);
    const double later =
        static_cast<double>((positionOf(there, "lift_top") - positionOf(there, "release")) -
                            (positionOf(here, "lift_top") - positionOf(here, "release"))) /
        120.0;
    const QString says =
        QString::number(std::abs(later), 'f', 3) + (later > 0 ? " s later" : " s earlier");
    QVERIFY2(later == 0.0 || window_->text("pairTimes").contains(says),
             qPrintable(window_->text("pairTimes") + " / " + says));
}

void TestCompareStation::nudgedAndCorrected() {
    goToCompare();
    window_->press("pairPosition_release");
    const int there = positionOf(comparison().other().rep, "release");
    QVERIFY(!window_->main().findChild<QPushButton*>("correctPosition")->isVisible());
    window_->press("otherOn");
    window_->press("otherOn");
    QCOMPARE(comparison().otherFrame(open().frame()), std::optional(there + 2));
    QCOMPARE(window_->find<QPushButton>("correctPosition")->text(), QString("Set Release there"));
    window_->press("correctPosition");
    const model::RepId other = comparison().other().rep.id;
    QCOMPARE(window_->library().rep(other)->positions.at("release"), there + 2);
    QCOMPARE(positionOf(comparison().other().rep, "release"), there + 2);
    QCOMPARE(comparison().nudged(), 0);
    QCOMPARE(comparison().otherFrame(open().frame()), std::optional(there + 2));
    QVERIFY(window_->desk().edits.stack().undoText().contains("Release"));
    window_->press("undo");
    QCOMPARE(positionOf(comparison().other().rep, "release"), there);
}

void TestCompareStation::whatDiffersIsTold() {
    goToCompare();
    // The head of the faulty pitch drops in its stride, by what its dial says.
    const auto& here = support::reading(open().review().readings, "stride_head_drop");
    const auto& there = support::reading(comparison().other().review.readings, "stride_head_drop");
    const QTreeWidgetItem* head = row("stride_head_drop");
    QVERIFY(head != nullptr);
    QVERIFY2(head->text(3).startsWith(*here.value > *there.value ? "▲" : "▼"),
             qPrintable(head->text(3)));
    QVERIFY(window_->text("differencesSay").contains("than on 16 October 2026"));
    QVERIFY(window_->text("findingsBetween").contains("Only here:"));
    QVERIFY(window_->text("findingsBetween").contains("Back leg collapses"));
    // The order changes.
    choose("differenceOrder", 0);
    auto* table = window_->find<QTreeWidget>("differences");
    QVERIFY(table->topLevelItem(0)->text(0).startsWith("Set"));
    // The rep beside itself differs in nothing.
    const auto same = coaching::differencesOf(open().pack(), open().review().readings,
                                              open().review().readings, coaching::InCommon::film);
    QVERIFY(std::none_of(same.begin(), same.end(), [](const auto& d) { return d.told(); }));
}

void TestCompareStation::aReadingIsShownOnBoth() {
    goToCompare();
    window_->press("pairPosition_set");
    QTreeWidgetItem* lean = row("release_trunk_lean");
    QVERIFY(lean != nullptr);
    auto* table = window_->find<QTreeWidget>("differences");
    table->scrollToItem(lean);
    QTest::mouseClick(table->viewport(), Qt::LeftButton, Qt::NoModifier,
                      table->visualItemRect(lean).center());
    QCOMPARE(open().frame(), positionOf(open().rep(), "release"));
    waitForBoth(open().frame(), positionOf(comparison().other().rep, "release"));
    const QImage with = stage().grab().toImage();
    stage().setMeasure({});
    const QImage without = stage().grab().toImage();
    const auto differs = [&](const QRect& part) { return with.copy(part) != without.copy(part); };
    const QRect whole = with.rect();
    QVERIFY(differs(QRect(0, 0, whole.width() / 2, whole.height())));
    QVERIFY(differs(QRect(whole.width() / 2, 0, whole.width() / 2, whole.height())));
}

void TestCompareStation::drawnInEveryWay() {
    goToCompare();
    window_->press("pairPosition_release");
    waitForBoth(open().frame(), positionOf(comparison().other().rep, "release"));
    std::vector<QImage> seen{stage().grab().toImage()};
    const auto looksNew = [&] {
        const QImage now = stage().grab().toImage();
        const bool fresh = std::find(seen.begin(), seen.end(), now) == seen.end();
        seen.push_back(now);
        return fresh;
    };
    window_->find<QCheckBox>("mirror")->click();
    QVERIFY(looksNew());
    choose("aid", 3); // height grid
    QVERIFY(looksNew());
    window_->press("layOver");
    QVERIFY(looksNew());
    auto* anchor = window_->find<QComboBox>("anchor");
    const int head = anchor->findData("head");
    QVERIFY(head > 0);
    choose("anchor", head);
    QVERIFY(looksNew());
    choose("otherAs", 1);
    QVERIFY(looksNew());
    choose("aid", 2); // a clock round the head
    QVERIFY(looksNew());
    window_->press("layInSpace");
    QVERIFY(looksNew());
}

void TestCompareStation::savedInFourActions() {
    const QString file = path("both.pdf");
    int actions = 0;
    window_->press("station_compare");
    ++actions;
    QTRY_VERIFY_WITH_TIMEOUT(comparison().hasOther(), support::patientMs);
    support::whenAskedForAFile(file);
    window_->press("saveComparisonPdf");
    actions += 2; // and the name confirmed
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("comparisonState").contains("saved as"),
                             support::patientMs);
    qInfo("%d actions", actions);
    QVERIFY(actions <= 4);
    const support::Outcome words = support::run("pdftotext", {"-layout", file, "-"});
    const QString text = QString::fromUtf8(words.out);
    QVERIFY(text.contains("Mika Sorrel: Overhand pitch"));
    QVERIFY(text.contains("than on 16 October 2026"));
    QVERIFY(text.contains("Back leg collapses"));
    const QString picture = path("both.png");
    support::whenAskedForAFile(picture);
    window_->press("saveComparisonPng");
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("comparisonState").contains("both.png"),
                             support::patientMs);
    QVERIFY(QImage(picture).height() > 2000);
}

void TestCompareStation::filmAndTableAreSaved() {
    goToCompare();
    const QString table = path("both.csv");
    support::whenAskedForAFile(table);
    window_->press("saveComparisonCsv");
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("comparisonState").contains("both.csv"),
                             support::patientMs);
    QFile csv(table);
    QVERIFY(csv.open(QIODevice::ReadOnly));
    const QStringList lines = QString::fromUtf8(csv.readAll()).trimmed().split('\n');
    QCOMPARE(static_cast<std::size_t>(lines.size()), 1 + comparison().differences().size());
    const QString film = path("both.mp4");
    support::whenAskedForAFile(film);
    window_->press("saveComparisonFilm");
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("comparisonState").contains("both.mp4"),
                             support::patientMs);
    const support::Outcome probe =
        support::run("ffprobe", {"-v", "error", "-show_entries", "stream=nb_frames,width", "-of",
                                 "csv=p=0", film});
    const QStringList found = QString::fromUtf8(probe.out).trimmed().split(',');
    QVERIFY(found.size() == 2 && found[1].toInt() > 300);
    QFile captions(path("both.srt"));
    QVERIFY(captions.open(QIODevice::ReadOnly));
    QVERIFY(captions.readAll().contains("16 October 2026"));
}

void TestCompareStation::keysWork() {
    goToCompare();
    window_->main().compareStation().setFocus();
    window_->press("pairPosition_release");
    window_->main().compareStation().setFocus();
    const int frame = open().frame();
    window_->key(Qt::Key_Period);
    QCOMPARE(open().frame(), frame + 1);
    window_->key(Qt::Key_BracketLeft);
    QCOMPARE(open().frame(), frame);
    window_->key(Qt::Key_Right, Qt::AltModifier);
    QCOMPARE(comparison().nudged(), 1);
    window_->key(Qt::Key_Left, Qt::AltModifier);
    QCOMPARE(comparison().nudged(), 0);
    window_->key(Qt::Key_O);
    QCOMPARE(stage().lay(), app::PairStage::Lay::over);
    window_->key(Qt::Key_M);
    QVERIFY(stage().mirrored());
    window_->key(Qt::Key_1);
    QCOMPARE(open().frame(), positionOf(open().rep(), open().pack().positions.front().id.c_str()));
}

void TestCompareStation::withoutOthersItSaysWhatToDo() {
    window_->reopen(path("empty").toStdString());
    window_->press("station_compare");
    QVERIFY(!comparison().hasOther());
    QVERIFY(!window_->find<QPushButton>("saveComparisonPdf")->isEnabled());
    QVERIFY(!window_->find<QToolButton>("otherOn")->isEnabled());
    window_->find<app::PairStage>("pairStage")->grab(); // says so, and stands
}

QTEST_MAIN(TestCompareStation)
#include "test_compare_station.moc"
