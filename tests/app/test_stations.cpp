#include "window/window_driver.h"

#include "support/commands.h"

#include <QComboBox>
#include <QDir>
#include <QLineEdit>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QProcess>
#include <QTemporaryDir>
#include <QTimer>

#include <fstream>

using namespace kestrel;
namespace fs = std::filesystem;

/// Squad, Film and the window as a whole; what happens when things go wrong.
class TestStations : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void init();
    void oneClickOpensAJudgedRep();
    void squadTellsWhereAClipStands();
    void slowMotionIsAskedOnce();
    void functionKeysChangeStations();
    void badFilmsLeaveAMessageAndNothingElse_data();
    void badFilmsLeaveAMessageAndNothingElse();
    void importCanBeTakenBack();
    void playerEditsCanBeTakenBack();
    void schoolChangesTheJudgement();
    void planWithoutAClipSaysWhatToDo();
    void noteIsKeptWhenTheStationIsLeft();
    void consentIsAskedBeforeSaving();
    void killedProgramReopensWhereItWas();

  private:
    fs::path library() const { return folder_->filePath("library").toStdString(); }
    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<support::Window> window_;
};

void TestStations::initTestCase() {
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
}

void TestStations::init() {
    window_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    window_ = std::make_unique<support::Window>(library());
}

void TestStations::oneClickOpensAJudgedRep() {
    const model::ClipId clip = support::addMarkedClip(*window_, support::faulty());
    window_->press(QString("openClip_%1").arg(clip.value));
    window_->waitForPicture();
    QCOMPARE(window_->main().station(), app::MainWindow::bench);
    window_->press("position_foot_plant");
    QVERIFY(window_->readingRow("plant_forearm")[2].contains("outside"));
}

void TestStations::squadTellsWhereAClipStands() {
    support::addMarkedClip(*window_, support::faulty());
    const auto says = [&](const QString& words) {
        const auto labels = window_->find("squadStation")->findChildren<QLabel*>();
        return std::any_of(labels.begin(), labels.end(),
                           [&](QLabel* l) { return l->text().contains(words); });
    };
    QVERIFY(says("8 of 8 positions set"));
    QTRY_VERIFY(says("focus: Back leg collapses")); // once its film was read
    QVERIFY(says("consent to film since"));
}

void TestStations::slowMotionIsAskedOnce() {
    // The same film stored to play at 30: as a phone's slow motion.
    const fs::path slow = folder_->filePath("slow.mp4").toStdString();
    support::makeFilm({"-itsscale", "4", "-i",
                       QString::fromStdString(support::filmFile(support::rightHander()).string()),
                       "-c", "copy"},
                      slow);
    model::Player player;
    player.name = "Juno";
    const model::PlayerId id = window_->library().save(player);
    window_->main().bringIn({QString::fromStdString(slow.string())}, id);
    window_->waitForPicture();
    QCOMPARE(window_->main().station(), app::MainWindow::film);
    QVERIFY(window_->desk().open.captureRateMissing());
    QVERIFY(window_->text("rateQuestion").contains("How many frames a second"));
    window_->desk().repEdits.setPosition("foot_plant", 192);
    window_->desk().repEdits.setPosition("release", 210);
    const auto& time = support::reading(window_->desk().open.review().readings, "plant_to_release");
    QVERIFY(!time.value);
    QCOMPARE(time.missing->kind, model::MissingReason::Kind::captureRateUnknown);

    auto* rate = window_->find<QComboBox>("captureRate");
    rate->lineEdit()->selectAll();
    QTest::keyClicks(rate->lineEdit(), "120");
    QTest::keyClick(rate->lineEdit(), Qt::Key_Return);
    QVERIFY(!window_->desk().open.captureRateMissing());
    const auto& known =
        support::reading(window_->desk().open.review().readings, "plant_to_release");
    QVERIFY(known.value && std::abs(*known.value - 0.15) < 0.001);
    // Not asked again.
    window_->reopen(library());
    window_->waitForPicture();
    QVERIFY(!window_->desk().open.captureRateMissing());
    window_->main().goTo(app::MainWindow::film);
    QVERIFY(!window_->text("rateQuestion").contains("How many"));
}

void TestStations::functionKeysChangeStations() {
    for (const auto& [key, station] : {std::pair{Qt::Key_F2, app::MainWindow::film},
                                       std::pair{Qt::Key_F3, app::MainWindow::bench},
                                       std::pair{Qt::Key_F4, app::MainWindow::compare},
                                       std::pair{Qt::Key_F5, app::MainWindow::plan},
                                       std::pair{Qt::Key_F1, app::MainWindow::squad}}) {
        window_->main().activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(&window_->main()));
        window_->key(key);
        QCOMPARE(window_->main().station(), station);
    }
}

void TestStations::badFilmsLeaveAMessageAndNothingElse_data() {
    QTest::addColumn<QString>("kind");
    QTest::addColumn<QString>("says");
    QTest::newRow("empty") << "empty"
                           << "is empty";
    QTest::newRow("no film") << "words"
                             << "not a film";
    QTest::newRow("sound only") << "sound"
                                << "sound only";
    QTest::newRow("cut off") << "cut"
                             << "cut off";
}

void TestStations::badFilmsLeaveAMessageAndNothingElse() {
    QFETCH(QString, kind);
    QFETCH(QString, says);
    const fs::path file = folder_->filePath(kind + ".mp4").toStdString();
    if (kind == "sound") {
        support::makeFilm({"-f", "lavfi", "-i", "sine=duration=1", "-c:a", "aac"}, file);
    } else if (kind == "cut") {
        fs::copy_file(support::filmFile(support::rightHander()), file);
        fs::resize_file(file, fs::file_size(file) / 3);
    } else {
        std::ofstream(file) << (kind == "words" ? "Dear coach, this is no film" : "");
    }
    model::Player player;
    player.name = "Juno";
    const model::PlayerId id = window_->library().save(player);
    window_->main().bringIn({QString::fromStdString(file.string())}, id);
    const QString text = window_->problem();
    QVERIFY2(text.contains(says), qPrintable(text));
    QVERIFY(text.contains("nothing was added"));
    QVERIFY(window_->library().clips(id).empty());
    QVERIFY(fs::is_empty(window_->library().clipFolder()));
    QVERIFY(!window_->desk().open.hasClip());
}

void TestStations::importCanBeTakenBack() {
    model::Player player;
    player.name = "Juno";
    const model::PlayerId id = window_->library().save(player);
    window_->main().bringIn(
        {QString::fromStdString(support::filmFile(support::rightHander()).string())}, id);
    window_->waitForPicture();
    QCOMPARE(window_->library().clips(id).size(), std::size_t{1});
    window_->press("undo");
    QVERIFY(window_->library().clips(id).empty());
    QVERIFY(!window_->desk().open.hasClip());
    window_->press("redo");
    window_->waitForPicture();
    QCOMPARE(window_->library().clips(id).size(), std::size_t{1});
}

void TestStations::playerEditsCanBeTakenBack() {
    model::Player player;
    player.name = "Juno";
    player.id = window_->desk().squadEdits.addPlayer(player);
    player = *window_->library().player(player.id);
    player.name = "Juno Tarn";
    window_->desk().squadEdits.setPlayer(player, "Change Juno Tarn");
    QCOMPARE(window_->text("playerHeading"), QString("Juno Tarn"));
    window_->press("undo");
    QCOMPARE(window_->text("playerHeading"), QString("Juno"));
    window_->press("undo");
    QVERIFY(window_->library().players().empty());
    QCOMPARE(window_->text("playerHeading"), QString("Welcome"));
    window_->press("redo");
    QCOMPARE(window_->text("playerHeading"), QString("Juno"));
}

void TestStations::schoolChangesTheJudgement() {
    const model::ClipId clip = support::addMarkedClip(*window_, support::faulty());
    window_->press(QString("openClip_%1").arg(clip.value));
    window_->waitForPicture();
    window_->press("position_stride");
    QVERIFY(window_->readingRow("stride_head_drop")[2].contains("outside"));
    model::Player player = window_->desk().open.player();
    player.schools = {"drive", "brace"};
    window_->desk().squadEdits.setPlayer(player, "Change Mika Sorrel");
    QVERIFY(window_->readingRow("stride_head_drop")[2].contains("inside"));
    QVERIFY(window_->readingRow("stride_head_drop")[0].contains("13 %"));
}

void TestStations::planWithoutAClipSaysWhatToDo() {
    window_->press("station_plan");
    QVERIFY(window_->text("planEmpty").contains("Open a clip"));
    QVERIFY(!window_->main().findChild<QPushButton*>("savePdf")->isVisible());
}

void TestStations::noteIsKeptWhenTheStationIsLeft() {
    const model::ClipId clip = support::addMarkedClip(*window_, support::faulty());
    window_->press(QString("openClip_%1").arg(clip.value));
    window_->waitForPicture();
    window_->press("station_plan");
    QTest::keyClicks(window_->find<QPlainTextEdit>("note"), "See you on Friday");
    window_->press("station_squad"); // before the typing pause is over
    QCOMPARE(window_->desk().visit.choice().note, std::string("See you on Friday"));
    window_->press("undo");
    QCOMPARE(window_->desk().visit.choice().note, std::string());
}

void TestStations::consentIsAskedBeforeSaving() {
    const model::ClipId clip = support::addMarkedClip(*window_, support::faulty());
    model::Player player = window_->library().players().front();
    player.consentGiven = {};
    window_->desk().squadEdits.setPlayer(player, "Change Mika Sorrel");
    window_->press(QString("openClip_%1").arg(clip.value));
    window_->waitForPicture();
    window_->press("station_plan");
    QTRY_VERIFY_WITH_TIMEOUT(window_->find<QPushButton>("savePdf")->isEnabled(),
                             support::patientMs);
    bool asked = false;
    // press() waits while the sheet is made anew: the box comes when it comes.
    QTimer look;
    connect(&look, &QTimer::timeout, this, [&] {
        if (auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget())) {
            asked = box->text().contains("no consent");
            box->button(QMessageBox::Cancel)->click();
        }
    });
    look.start(50);
    window_->press("savePdf");
    QVERIFY(asked);
    QVERIFY(QApplication::activeModalWidget() == nullptr); // no file dialog followed
}

void TestStations::killedProgramReopensWhereItWas() {
    // The real program on this library, killed without warning.
    const model::ClipId clip = support::addMarkedClip(*window_, support::faulty());
    window_->press(QString("openClip_%1").arg(clip.value));
    window_->waitForPicture();
    window_->press("position_release");
    window_->desk().repEdits.setPosition("set", 44);
    const model::Rep rep = window_->desk().open.rep();
    window_.reset();
    QProcess program;
    program.start(KESTREL_APP, {"--library", QString::fromStdString(library().string())});
    QVERIFY(program.waitForStarted());
    // Until it has the clip's film open.
    const QDir open(QString("/proc/%1/fd").arg(program.processId()));
    const auto hasFilm = [&] {
        for (const QFileInfo& file : open.entryInfoList(QDir::Files | QDir::System)) {
            if (file.symLinkTarget().contains("/clips/")) {
                return true;
            }
        }
        return false;
    };
    QTRY_VERIFY_WITH_TIMEOUT(hasFilm(), 30000);
    QCOMPARE(program.state(), QProcess::Running);
    program.kill();
    program.waitForFinished();
    window_ = std::make_unique<support::Window>(library());
    window_->waitForPicture();
    QCOMPARE(window_->desk().open.rep(), rep);
    QCOMPARE(window_->main().station(), app::MainWindow::bench);
}

QTEST_MAIN(TestStations)
#include "test_stations.moc"
