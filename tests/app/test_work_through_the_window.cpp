#include "window/window_driver.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QFile>
#include <QFileDialog>
#include <QLineEdit>
#include <QTemporaryDir>
#include <QTextBrowser>
#include <QTimer>

#include <cmath>

using namespace kestrel;

/// The whole way of a coach, from an empty library to a sheet on disk, with keys and mouse.
class TestWorkThroughTheWindow : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void addAPlayer();
    void bringInAFilm();
    void sayWhatTheCameraWas();
    void stepFrameByFrame();
    void setThePositions();
    void placeTheLandmarks();
    void readTheVerdicts();
    void seeHowAReadingWasMade();
    void answerAnObservation();
    void undoAndRedo();
    void planHasAFocus();
    void saveTheSheet();
    void reopenAndFindEverything();

  private:
    const support::TestFilm& film_ = support::faulty();
    QTemporaryDir folder_;
    std::unique_ptr<support::Window> window_;
    model::Rep before_;
};

void TestWorkThroughTheWindow::initTestCase() {
    QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
    window_ = std::make_unique<support::Window>(folder_.filePath("library").toStdString());
    QVERIFY(window_->main().isVisible());
    QCOMPARE(window_->main().station(), app::MainWindow::squad);
    QVERIFY(window_->text("playerAbout").contains("Add a player first"));
}

void TestWorkThroughTheWindow::addAPlayer() {
    support::whenDialogOpens([](QDialog* dialog) {
        QVERIFY(!dialog->findChild<QPushButton*>("keepPlayer")->isEnabled()); // a name is needed
        QTest::keyClicks(dialog->findChild<QLineEdit*>("playerName"), "Mika Sorrel");
        dialog->findChild<QComboBox*>("hand")->setCurrentIndex(0);
        dialog->findChild<QCheckBox*>("consent")->setChecked(true);
        QTest::mouseClick(dialog->findChild<QPushButton*>("keepPlayer"), Qt::LeftButton);
    });
    window_->press("newPlayer");
    QCOMPARE(window_->library().players().size(), std::size_t{1});
    QCOMPARE(window_->text("playerHeading"), QString("Mika Sorrel"));
    QVERIFY(window_->text("playerAbout").contains("right-handed"));
    QVERIFY(window_->text("playerAbout").contains("age not known"));
}

void TestWorkThroughTheWindow::bringInAFilm() {
    const QString file = QString::fromStdString(support::filmFile(film_).string());
    support::whenDialogOpens([file](QDialog* dialog) {
        auto* chooser = qobject_cast<QFileDialog*>(dialog);
        QVERIFY(chooser != nullptr);
        chooser->findChild<QLineEdit*>("fileNameEdit")->setText(file);
        static_cast<QDialog*>(chooser)->accept();
    });
    window_->press("squadBringIn");
    window_->waitForPicture();
    // The file plays at 120 frames a second, so only the view has to be asked.
    QCOMPARE(window_->main().station(), app::MainWindow::film);
    QVERIFY(!window_->desk().open.captureRateMissing());
    QVERIFY(window_->text("clipFacts").contains("640 × 360"));
    QVERIFY(window_->text("clipFacts").contains("361 frames"));
}

void TestWorkThroughTheWindow::sayWhatTheCameraWas() {
    QVERIFY(window_->text("viewHelp").contains("only once this is said"));
    window_->press("view_open_side");
    QCOMPARE(window_->library().clip(window_->desk().open.clip().id)->view,
             std::optional(model::View::openSide));
    window_->press("toBench");
    QCOMPARE(window_->main().station(), app::MainWindow::bench);
}

void TestWorkThroughTheWindow::stepFrameByFrame() {
    window_->desk().open.goTo(0);
    window_->key(Qt::Key_Period);
    window_->key(Qt::Key_Period);
    QCOMPARE(window_->desk().open.frame(), 2);
    window_->key(Qt::Key_Comma);
    QCOMPARE(window_->desk().open.frame(), 1);
    window_->key(Qt::Key_Right, Qt::ShiftModifier);
    QCOMPARE(window_->desk().open.frame(), 11);
    window_->press("onTen");
    QCOMPARE(window_->desk().open.frame(), 21);
    window_->press("backOne");
    QCOMPARE(window_->desk().open.frame(), 20);
    window_->waitForPicture();
    QVERIFY(window_->text("place").contains("frame 20 of 360"));
    QTest::keyClicks(window_->find<QLineEdit>("goToTime"), "1.75");
    QTest::keyClick(window_->find<QLineEdit>("goToTime"), Qt::Key_Return);
    QCOMPARE(window_->desk().open.frame(), 210);
}

void TestWorkThroughTheWindow::setThePositions() {
    window_->main().goTo(app::MainWindow::bench);
    for (const auto& [id, frame] : synth::truePositions(synth::FilmScene(film_.spec))) {
        window_->press("position_" + QString::fromStdString(id));
        QVERIFY(window_->text("placingAsk").contains("set it with P"));
        window_->desk().open.goTo(frame);
        window_->key(Qt::Key_P);
        QCOMPARE(window_->desk().open.rep().positions.at(id), frame);
    }
    const QString release = window_->find<QToolButton>("position_release")->text();
    QVERIFY2(release.contains("0 ms"), qPrintable(release));
    const QString plant = window_->find<QToolButton>("position_foot_plant")->text();
    QVERIFY2(plant.contains("−150 ms"), qPrintable(plant));
    QVERIFY2(plant.contains("0/9"), qPrintable(plant));
}

void TestWorkThroughTheWindow::placeTheLandmarks() {
    const model::LandmarkTrack truth = synth::trueLandmarks(synth::FilmScene(film_.spec));
    for (const technique::Position& position : window_->desk().open.pack().positions) {
        window_->press("position_" + QString::fromStdString(position.id));
        window_->waitForPicture();
        const int frame = window_->desk().open.frame();
        const auto needed = technique::landmarksToPlace(window_->desk().open.pack(), position,
                                                        window_->desk().open.circumstances());
        for (const model::Landmark landmark : needed) {
            QVERIFY2(window_->text("placingAsk").startsWith("Click the "),
                     qPrintable(window_->text("placingAsk")));
            window_->clickPicture(truth.at(frame).at(landmark).px);
            const model::LandmarkPoint* placed =
                model::find(window_->desk().open.rep().landmarks, frame, landmark);
            QVERIFY(placed != nullptr);
            QCOMPARE(placed->source, model::Source::placed);
            // One screen pixel is less than one picture pixel here.
            QVERIFY(model::length(placed->px - truth.at(frame).at(landmark).px) < 1.0);
        }
        if (!needed.empty()) {
            QVERIFY(window_->text("placingAsk").contains("are placed"));
        }
    }
    QVERIFY(window_->find<QToolButton>("position_foot_plant")->text().contains("9/9"));
}

void TestWorkThroughTheWindow::readTheVerdicts() {
    window_->press("position_foot_plant");
    const QStringList forearm = window_->readingRow("plant_forearm");
    QCOMPARE(forearm.size(), 3);
    QVERIFY2(forearm[2].contains("outside"), qPrintable(forearm.join('|')));
    QVERIFY2(forearm[0].contains("at least 30°"), qPrintable(forearm.join('|')));
    QVERIFY2(forearm[1].contains("±"), qPrintable(forearm.join('|')));
    QVERIFY(window_->readingRow("plant_stride_length")[2].contains("inside"));
    const QStringList separation = window_->readingRow("plant_separation_above");
    QVERIFY(separation[2].contains("cannot be read"));
    QVERIFY(separation[0].contains("another view"));
    // What the screen says is what the truth says.
    const double truth =
        synth::trueMeasures(synth::FilmScene(film_.spec)).at("plant_stride_length") * 100.0;
    const double shown =
        window_->readingRow("plant_stride_length")[1].section(' ', 0, 0).toDouble();
    QVERIFY2(std::abs(shown - truth) < 4.0, qPrintable(QString("%1 %2").arg(shown).arg(truth)));
}

void TestWorkThroughTheWindow::seeHowAReadingWasMade() {
    window_->press("position_release");
    window_->clickReading("release_trunk_lean");
    const QString how = window_->text("howMade");
    QVERIFY2(how.contains("Trunk forward lean"), qPrintable(how));
    QVERIFY(how.contains("middle of lead hip and trail hip"));
    QVERIFY(how.contains("coaching consensus"));
    QVERIFY(how.contains("from placing"));
    QCOMPARE(window_->desk().open.frame(), window_->desk().open.rep().positions.at("release"));
    window_->press("position_foot_plant");
    window_->clickReading("plant_separation_above");
    QVERIFY(window_->text("howMade").contains("overhead"));
}

void TestWorkThroughTheWindow::answerAnObservation() {
    window_->press("position_finish");
    window_->press("observe_hand_passes_knee_no");
    QCOMPARE(window_->desk().open.rep().observations.at("hand_passes_knee"), model::Seen::no);
}

void TestWorkThroughTheWindow::undoAndRedo() {
    const model::Rep full = window_->desk().open.rep();
    QVERIFY(window_->find<QToolButton>("undo")->toolTip().contains("Answer"));
    window_->press("undo");
    QVERIFY(window_->desk().open.rep().observations.empty());
    window_->press("undo"); // the last landmark
    QVERIFY(window_->find<QToolButton>("redo")->toolTip().contains("Place"));
    window_->press("redo");
    window_->press("redo");
    QCOMPARE(window_->desk().open.rep(), full);
    QCOMPARE(*window_->library().rep(full.id), full);
}

void TestWorkThroughTheWindow::planHasAFocus() {
    window_->press("station_plan");
    auto* focus = window_->find<QComboBox>("focus");
    QCOMPARE(focus->currentText(), QString("Back leg collapses (proposed)"));
    QVERIFY(window_->text("cues").contains("low roof"));
    QVERIFY(window_->text("fault_late_arm").contains("Throwing forearm above level"));
    QTRY_VERIFY_WITH_TIMEOUT(window_->find<QPushButton>("savePdf")->isEnabled(),
                             support::patientMs);
    QVERIFY(window_->find<QTextBrowser>("sheet")->toPlainText().contains(
        "Your one focus: Back leg collapses"));
    // Choose another focus, then take it back.
    focus->setCurrentIndex(focus->findData("late_arm"));
    emit focus->activated(focus->currentIndex());
    QVERIFY(window_->text("cues").contains("sky"));
    window_->press("undo");
    QCOMPARE(window_->find<QComboBox>("focus")->currentText(),
             QString("Back leg collapses (proposed)"));
    // Leave out a drill.
    auto* drill = window_->find<QCheckBox>("drill_band_hip_glides");
    QVERIFY(drill->isChecked());
    drill->click();
    QCOMPARE(window_->desk().visit.review().plan.drillIds.size(), std::size_t{2});
}

void TestWorkThroughTheWindow::saveTheSheet() {
    for (const auto& [button, name] :
         {std::pair{"savePdf", "sheet.pdf"}, std::pair{"saveHtml", "sheet.html"}}) {
        // Giving out the plan makes the sheet again; a button of a sheet being made is off.
        QTRY_VERIFY_WITH_TIMEOUT(window_->find<QPushButton>(button)->isEnabled(),
                                 support::patientMs);
        const QString file = folder_.filePath(name);
        support::whenDialogOpens([file](QDialog* dialog) {
            auto* chooser = qobject_cast<QFileDialog*>(dialog);
            QVERIFY(chooser != nullptr);
            chooser->findChild<QLineEdit*>("fileNameEdit")->setText(file);
            static_cast<QDialog*>(chooser)->accept();
        });
        window_->press(button);
        QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(file), support::patientMs);
    }
    QFile html(folder_.filePath("sheet.html"));
    QVERIFY(html.open(QIODevice::ReadOnly));
    const QByteArray bytes = html.readAll();
    QVERIFY(bytes.contains("Back leg collapses"));
    QVERIFY(!bytes.contains("Band glides")); // left out
    QTRY_VERIFY_WITH_TIMEOUT(window_->text("sheetState").contains("saved as"), 5000);
}

void TestWorkThroughTheWindow::reopenAndFindEverything() {
    before_ = window_->desk().open.rep();
    const int frame = window_->desk().open.frame();
    window_->main().close();
    window_->reopen(folder_.filePath("library").toStdString());
    QTRY_VERIFY_WITH_TIMEOUT(window_->desk().open.hasClip(), support::patientMs);
    QCOMPARE(window_->desk().open.rep(), before_);
    QCOMPARE(window_->desk().open.frame(), frame);
    QCOMPARE(window_->main().station(), app::MainWindow::plan);
    QCOMPARE(window_->desk().open.review().plan.focusFaultId, std::string("back_leg_collapse"));
    QCOMPARE(window_->desk().visit.review().plan.drillIds.size(), std::size_t{2});
}

QTEST_MAIN(TestWorkThroughTheWindow)
#include "test_work_through_the_window.moc"
