#include "window/window_driver.h"

#include "app/shared/clip_map.h"

#include <QSignalSpy>
#include <QTemporaryDir>
#include <QWheelEvent>

#include <cmath>

using namespace kestrel;

/// The Bench in detail.
class TestBench : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void init();
    void arrowKeysNudgeTheChosenLandmark();
    void nudgesCountAsOneEdit();
    void draggingMovesALandmark();
    void hiddenLandmarkIsSaidSo();
    void removedLandmarkIsAskedForAgain();
    void nothingIsPlacedOffThePosition();
    void clicksBesideThePictureDoNothing();
    void zoomKeepsTheSpotUnderThePointer();
    void placingIsExactWhenZoomedIn();
    void stripDragsThroughTheFilm();
    void playingFollowsTheClock();
    void numbersAndBracketsChoosePositions();
    void allPositionsListsEveryReading();
    void clearingAPositionMakesItsReadingsUnreadable();
    void stageDrawsWhatIsChosen();
    void theReadingClickedStaysInSight();
    void everyControlHasAName();
    void toolsMakeRoomForTheReadings();
    void questionsAreAnsweredByKey();
    void aFoldedLimbIsSettledByKey();

  private:
    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<support::Window> window_;

    const model::LandmarkPoint* point(const char* position, model::Landmark landmark) {
        const model::Rep& rep = window_->desk().open.rep();
        return model::find(rep.landmarks, rep.positions.at(position), landmark);
    }
    void choose(const char* position) {
        window_->press(QString("position_%1").arg(position));
        window_->waitForPicture();
    }
    /// Chooses a placed landmark in the list.
    void select(const QString& name) {
        auto* list = window_->find<QListWidget>("landmarkList");
        if (!list->isVisible()) {
            window_->press("placingTools");
        }
        for (int i = 0; i < list->count(); ++i) {
            if (list->item(i)->text().endsWith(name)) {
                list->scrollToItem(list->item(i));
                QTest::mouseClick(list->viewport(), Qt::LeftButton, Qt::NoModifier,
                                  list->visualItemRect(list->item(i)).center());
                return;
            }
        }
        QFAIL(qPrintable("no landmark " + name));
    }
};

void TestBench::initTestCase() {
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
}

void TestBench::init() {
    window_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    window_ = std::make_unique<support::Window>(folder_->filePath("library").toStdString());
    const model::ClipId clip = support::addMarkedClip(*window_, support::rightHander());
    window_->press(QString("openClip_%1").arg(clip.value));
    window_->waitForPicture();
    QCOMPARE(window_->main().station(), app::MainWindow::bench);
}

void TestBench::arrowKeysNudgeTheChosenLandmark() {
    choose("foot_plant");
    const model::Point2 start = point("foot_plant", model::Landmark::leftKnee)->px;
    const int frame = window_->desk().open.frame();
    select("lead knee");
    QVERIFY(window_->text("placingAsk").contains("quarter pixel"));
    window_->key(Qt::Key_Right);
    window_->key(Qt::Key_Right);
    window_->key(Qt::Key_Up);
    window_->key(Qt::Key_Down, Qt::ShiftModifier);
    const model::Point2 end = point("foot_plant", model::Landmark::leftKnee)->px;
    QVERIFY(std::abs(end.x - start.x - 0.5) < 1e-9);
    QVERIFY(std::abs(end.y - start.y - 1.75) < 1e-9);
    QCOMPARE(window_->desk().open.frame(), frame); // the frame stays
    window_->key(Qt::Key_Escape);
    window_->key(Qt::Key_Right); // let go: now it steps
    QCOMPARE(window_->desk().open.frame(), frame + 1);
}

void TestBench::nudgesCountAsOneEdit() {
    choose("foot_plant");
    const model::Rep before = window_->desk().open.rep();
    select("lead knee");
    for (int i = 0; i < 5; ++i) {
        window_->key(Qt::Key_Left);
    }
    QCOMPARE(window_->desk().edits.stack().undoText(),
             QString("Move lead knee, frame %1").arg(before.positions.at("foot_plant")));
    window_->press("undo");
    QCOMPARE(window_->desk().open.rep(), before);
}

void TestBench::draggingMovesALandmark() {
    choose("release");
    auto* stage = window_->find<app::Stage>("stage");
    const model::Point2 start = point("release", model::Landmark::leftKnee)->px;
    const QPoint from = stage->pictureToWidget().map(QPointF(start.x, start.y)).toPoint();
    const QPoint to = from + QPoint(40, -25);
    QTest::mousePress(stage, Qt::LeftButton, Qt::NoModifier, from);
    QTest::mouseMove(stage, from + QPoint(20, -10));
    QTest::mouseMove(stage, to);
    QTest::mouseRelease(stage, Qt::LeftButton, Qt::NoModifier, to);
    const model::Point2 end = point("release", model::Landmark::leftKnee)->px;
    const double scale = stage->pictureToWidget().m11();
    QVERIFY(std::abs((end.x - start.x) * scale - 40.0) < 1.5);
    QVERIFY(std::abs((end.y - start.y) * scale + 25.0) < 1.5);
}

void TestBench::hiddenLandmarkIsSaidSo() {
    choose("foot_plant");
    select("lead knee");
    window_->key(Qt::Key_H);
    QVERIFY(point("foot_plant", model::Landmark::leftKnee)->hidden);
    QVERIFY(window_->readingRow("plant_lead_knee")[2].contains("cannot be read"));
    QVERIFY(window_->readingRow("plant_lead_knee")[0].contains("hidden"));
}

void TestBench::removedLandmarkIsAskedForAgain() {
    choose("foot_plant");
    select("lead knee");
    window_->key(Qt::Key_Delete);
    QVERIFY(point("foot_plant", model::Landmark::leftKnee) == nullptr);
    QCOMPARE(window_->text("placingAsk"), QString("Click the lead knee."));
    QVERIFY(window_->find<QToolButton>("position_foot_plant")->text().contains("8/9"));
}

void TestBench::nothingIsPlacedOffThePosition() {
    choose("foot_plant");
    select("lead knee");
    window_->key(Qt::Key_Delete);
    window_->key(Qt::Key_Period); // one frame on
    const model::Rep before = window_->desk().open.rep();
    QVERIFY(window_->text("placingAsk").contains("off Foot plant"));
    window_->clickPicture({300, 200});
    QCOMPARE(window_->desk().open.rep(), before);
}

void TestBench::clicksBesideThePictureDoNothing() {
    choose("foot_plant");
    select("lead knee");
    window_->key(Qt::Key_Delete);
    auto* stage = window_->find<app::Stage>("stage");
    const QPointF corner = stage->pictureToWidget().map(QPointF(0, 0));
    QVERIFY(corner.y() > 5.0); // the picture is letter-boxed here
    QTest::mouseClick(stage, Qt::LeftButton, Qt::NoModifier, QPoint(stage->width() / 2, 2));
    QVERIFY(point("foot_plant", model::Landmark::leftKnee) == nullptr);
}

void TestBench::zoomKeepsTheSpotUnderThePointer() {
    auto* stage = window_->find<app::Stage>("stage");
    const QPointF pointer(stage->width() * 0.4, stage->height() * 0.55);
    const QPointF before = stage->pictureToWidget().inverted().map(pointer);
    const double scale = stage->pictureToWidget().m11();
    QWheelEvent wheel(pointer, stage->mapToGlobal(pointer), {}, QPoint(0, 480), Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(stage, &wheel);
    QVERIFY(stage->pictureToWidget().m11() > 2.0 * scale);
    const QPointF after = stage->pictureToWidget().inverted().map(pointer);
    QVERIFY(std::hypot(after.x() - before.x(), after.y() - before.y()) < 1e-6);
    window_->key(Qt::Key_0);
    QVERIFY(std::abs(stage->pictureToWidget().m11() - scale) < 1e-9);
}

void TestBench::placingIsExactWhenZoomedIn() {
    choose("foot_plant");
    const model::Point2 truth = point("foot_plant", model::Landmark::leftKnee)->px;
    select("lead knee");
    window_->key(Qt::Key_Delete);
    auto* stage = window_->find<app::Stage>("stage");
    stage->zoomBy(12.0, stage->pictureToWidget().map(QPointF(truth.x, truth.y)));
    window_->clickPicture(truth);
    const model::Point2 placed = point("foot_plant", model::Landmark::leftKnee)->px;
    QVERIFY(model::length(placed - truth) < 0.08); // sub-pixel
}

void TestBench::stripDragsThroughTheFilm() {
    auto* strip = window_->find<app::ClipMap>("clipMap");
    QTest::mousePress(strip, Qt::LeftButton, Qt::NoModifier, QPoint(strip->width() / 2, 10));
    QCOMPARE(window_->desk().open.frame(), strip->frameAt(strip->width() / 2));
    QVERIFY(std::abs(window_->desk().open.frame() - 180) <= 1);
    QMouseEvent move(QEvent::MouseMove, QPointF(strip->width() - 1, 10),
                     strip->mapToGlobal(QPointF(strip->width() - 1, 10)), Qt::NoButton,
                     Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(strip, &move);
    QCOMPARE(window_->desk().open.frame(), 360);
    QTest::mouseRelease(strip, Qt::LeftButton);
}

void TestBench::playingFollowsTheClock() {
    window_->desk().open.goTo(0);
    QElapsedTimer clock;
    window_->key(Qt::Key_Space);
    clock.start();
    QTRY_VERIFY_WITH_TIMEOUT(window_->desk().open.frame() >= 20, support::patientMs);
    const double seconds = static_cast<double>(clock.elapsed()) / 1000.0;
    window_->key(Qt::Key_Space);
    // At a quarter of the speed, 120 frames a second pass at 30.
    const double expected = 30.0 * seconds;
    QVERIFY2(std::abs(window_->desk().open.frame() - expected) < 0.25 * expected + 4.0,
             qPrintable(QString("%1 %2").arg(window_->desk().open.frame()).arg(expected)));
    const int stopped = window_->desk().open.frame();
    constexpr int longerThanAFrameMs = 120;
    QVERIFY(!QTest::qWaitFor([&] { return window_->desk().open.frame() != stopped; },
                             longerThanAFrameMs));
}

void TestBench::numbersAndBracketsChoosePositions() {
    const auto& positions = window_->desk().open.rep().positions;
    window_->key(Qt::Key_1);
    QCOMPARE(window_->desk().open.frame(), positions.at("set"));
    window_->key(Qt::Key_BracketRight);
    QCOMPARE(window_->desk().open.frame(), positions.at("lift_top"));
    window_->key(Qt::Key_9);
    QCOMPARE(window_->desk().open.frame(), positions.at("release"));
    window_->key(Qt::Key_BracketLeft);
    QCOMPARE(window_->desk().open.frame(), positions.at("lay_back"));
}

void TestBench::allPositionsListsEveryReading() {
    choose("release");
    QVERIFY(window_->readingRow("plant_lead_knee").isEmpty());
    window_->find<QAbstractButton>("allReadings")->click();
    QCOMPARE(window_->find<QTreeWidget>("readings")->topLevelItemCount(),
             static_cast<int>(window_->desk().open.pack().measures.size()));
    QVERIFY(window_->readingRow("plant_lead_knee")[0].startsWith("Foot plant: "));
}

void TestBench::clearingAPositionMakesItsReadingsUnreadable() {
    choose("foot_plant");
    window_->press("clearPosition");
    QVERIFY(window_->readingRow("plant_lead_knee")[0].contains("position not set"));
    QVERIFY(window_->find<QToolButton>("position_foot_plant")->text().contains("not set"));
    window_->press("undo");
    QVERIFY(window_->readingRow("plant_lead_knee")[1].contains("±"));
}

void TestBench::stageDrawsWhatIsChosen() {
    choose("release");
    auto* stage = window_->find<app::Stage>("stage");
    const auto picture = [&] { return stage->grab().toImage(); };
    const QImage allDrawn = picture();
    window_->clickReading("release_trunk_lean");
    const QImage one = picture();
    QVERIFY(one != allDrawn);
    window_->clickReading("release_trunk_lean"); // again: back to all of this position
    QCOMPARE(picture(), allDrawn);
}

void TestBench::theReadingClickedStaysInSight() {
    choose("release");
    auto* readings = window_->find<QTreeWidget>("readings");
    const int last = readings->topLevelItemCount() - 1;
    const std::string measure =
        readings->topLevelItem(last)->data(0, Qt::UserRole).toString().toStdString();
    const int tall = readings->height();
    window_->clickReading(measure);
    QCoreApplication::processEvents();
    QVERIFY(readings->height() < tall); // its explanation took room from the list
    QVERIFY(readings->viewport()->rect().contains(
        readings->visualItemRect(readings->topLevelItem(last)).center()));
    window_->clickReading(measure);
}

void TestBench::everyControlHasAName() {
    for (const QWidget* widget : window_->main().findChildren<QWidget*>()) {
        if (const auto* button = qobject_cast<const QAbstractButton*>(widget);
            button && button->isVisible()) {
            QVERIFY2(!button->text().isEmpty() || !button->accessibleName().isEmpty(),
                     qPrintable(button->objectName()));
        }
    }
}

/// At 1280 × 800, with all landmarks of the position placed and then one of them removed.
void TestBench::toolsMakeRoomForTheReadings() {
    window_->main().resize(1280, 800);
    choose("foot_plant");
    auto* list = window_->find<QListWidget>("landmarkList");
    auto* readings = window_->find<QTreeWidget>("readings");
    const auto inSight = [&] {
        QApplication::processEvents();
        int count = 0;
        for (int i = 0; i < readings->topLevelItemCount(); ++i) {
            const QRect row = readings->visualItemRect(readings->topLevelItem(i));
            count += readings->viewport()->rect().contains(row) ? 1 : 0;
        }
        return count;
    };
    QVERIFY(!list->isVisible());
    QVERIFY2(inSight() >= 8, qPrintable(QString::number(inSight())));
    window_->press("placingTools");
    QVERIFY(list->isVisible());
    window_->press("placingTools");
    QVERIFY(!list->isVisible());
    const model::Rep& rep = window_->desk().open.rep();
    window_->desk().repEdits.setLandmark(rep.positions.at("foot_plant"), model::Landmark::leftKnee,
                                         std::nullopt, "Remove");
    QVERIFY(list->isVisible());
    QVERIFY(!window_->find<QPushButton>("placingTools")->isVisible());
}

void TestBench::questionsAreAnsweredByKey() {
    choose("lift_top");
    const auto answer = [&](Qt::KeyboardModifiers modifiers) {
        window_->find("benchStation")->setFocus();
        window_->key(Qt::Key_Y, modifiers);
        const auto& seen = window_->desk().open.rep().observations;
        const auto found = seen.find("eyes_on_target");
        return found == seen.end() ? std::nullopt : std::optional(found->second);
    };
    QCOMPARE(answer(Qt::ShiftModifier), std::optional(model::Seen::no));
    QCOMPARE(answer(Qt::AltModifier), std::optional(model::Seen::notVisible));
    QCOMPARE(answer(Qt::NoModifier), std::optional(model::Seen::yes));
    QTRY_VERIFY(window_->find<QToolButton>("observe_eyes_on_target_yes")->isChecked());
    window_->press("undo");
    window_->press("undo");
    window_->press("undo");
    QVERIFY(window_->desk().open.rep().observations.empty());
}

/// The lead leg laid as if its knee pointed 40° and 45° at the camera: it may be folded or run
/// through.
void TestBench::aFoldedLimbIsSettledByKey() {
    desk::Desk& desk = window_->desk();
    model::Rep rep = desk.open.rep();
    auto& points = rep.landmarks.at(rep.positions.at("foot_plant"));
    const double height =
        technique::bodyHeight(desk.open.pack(), rep, desk.open.player().hand)->value;
    const model::Point2 knee = points.at(model::Landmark::leftKnee).px;
    const auto lay = [&](model::Landmark end, double fraction, double directionDeg,
                         double tiltDeg) {
        const double length = fraction * height * std::cos(tiltDeg * M_PI / 180.0);
        const double direction = directionDeg * M_PI / 180.0;
        points.at(end).px = {knee.x + length * std::sin(direction),
                             knee.y - length * std::cos(direction)};
    };
    lay(model::Landmark::leftHip, 0.245, 0.0, 40.0);
    lay(model::Landmark::leftAnkle, 0.246, 130.0, 45.0);
    window_->library().save(rep);
    window_->reopen(folder_->filePath("library").toStdString());
    window_->waitForPicture();
    choose("foot_plant");
    window_->clickReading("plant_lead_knee");
    const auto button = [&] { return window_->find<QPushButton>("swapDepth")->text(); };
    const auto said = [&]() -> std::optional<model::LimbFold> {
        const auto& folds = window_->desk().open.rep().limbFolds;
        const auto there = folds.find("foot_plant");
        return there == folds.end() || there->second.empty()
                   ? std::nullopt
                   : std::optional(there->second.at(model::Landmark::leftKnee));
    };
    const auto shown = [&] { return window_->readingRow("plant_lead_knee").at(1); };
    QCOMPARE(button(), QString("The lead knee sticks out in depth (Z)"));
    const QString open = shown();
    window_->key(Qt::Key_Z);
    QCOMPARE(said(), std::optional(model::LimbFold::together));
    QCOMPARE(button(), QString("You say the lead knee sticks out in depth: swap (Z)"));
    const QString together = shown();
    QVERIFY(together != open);
    window_->key(Qt::Key_Z);
    QCOMPARE(said(), std::optional(model::LimbFold::through));
    QVERIFY(shown() != together);
    window_->key(Qt::Key_Z);
    QCOMPARE(said(), std::optional<model::LimbFold>());
    QCOMPARE(shown(), open);
    window_->press("undo");
    QCOMPARE(said(), std::optional(model::LimbFold::through));
    QCOMPARE(button(), QString("You say the lead knee lies between in depth: swap (Z)"));
}

QTEST_MAIN(TestBench)
#include "test_bench.moc"
