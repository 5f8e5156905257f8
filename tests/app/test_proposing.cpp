#include "window/window_driver.h"

#include "app/bench/body_view.h"
#include "technique/positions/doubt.h"
#include "track/files/landmark_file.h"

#include <QAction>
#include <QFileDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QThreadPool>
#include <QTimer>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <set>

using namespace kestrel;
namespace fs = std::filesystem;
using model::Landmark;
using model::Source;

/// Landmarks proposed by the machine and looked at by the coach, in the real window.
class TestProposing : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void init();
    void cleanup() { window_.reset(); }
    void stoppingChangesNothing();
    void proposingFillsEveryPosition();
    void whichEndIsNearerIsSaidWithOneKey();
    void theBodyFollowsAMarkBeforeAllIsSearchedAnew();
    void theMostDoubtfulPointIsAskedForFirst();
    void enterConfirms();
    void aClickCorrectsAndItsNeighboursFollow();
    void hiddenIsSaidWithOneKey();
    void shiftEnterTakesAPosition();
    void swappedSidesAreSwappedBackWithOneKey();
    void undoGoesAllTheWayBack();
    void reopenedItGoesOnFromThere();
    void theBodyStandsBesideTheFilm();
    void positionsAreReadFromAnySide();
    void theClickedPlayerIsFollowed();
    void trackingOnFromHereKeepsWhatIsBefore();
    void aLandmarkIsCopiedFromTheFrameBefore();
    void theBallIsFollowedFromWhereItIsPlaced();
    void landmarksGoToAFileAndBack();
    void aFileOfAnotherClipIsRefused();

  private:
    [[nodiscard]] const model::LandmarkTrack& points() const {
        return window_->desk().open.rep().landmarks;
    }
    [[nodiscard]] int count(Source source) const {
        int found = 0;
        for (const auto& [frame, landmarks] : points()) {
            for (const auto& [landmark, point] : landmarks) {
                found += point.source == source ? 1 : 0;
            }
        }
        return found;
    }
    /// The landmark asked for next; all positions of this rep are set.
    struct Point {
        int frame = 0;
        Landmark landmark = Landmark::head;
    };
    [[nodiscard]] Point mostDoubtful() const {
        desk::Desk& desk = window_->desk();
        const technique::Doubtful first =
            technique::doubtsOf(desk.open.pack(), desk.open.rep(), desk.open.circumstances())
                .front();
        return {first.frame, first.landmark.value()};
    }
    /// The same, shown and chosen.
    Point chooseMostDoubtful() {
        const Point first = mostDoubtful();
        window_->press("nextDoubtful");
        window_->waitForPicture();
        return first;
    }
    /// Confirms all landmarks of Release, which places them.
    void takeRelease() {
        window_->press("position_release");
        window_->waitForPicture();
        window_->key(Qt::Key_Return, Qt::ShiftModifier);
    }
    void waitForProposals() {
        QTRY_VERIFY_WITH_TIMEOUT(!window_->desk().search.isSearching(), 200000);
    }

    /// Opens a copy of a library that was prepared once.
    void openCopyOf(const char* prepared) {
        window_.reset();
        const fs::path library = folder("library");
        fs::remove_all(library);
        fs::copy(folder(prepared), library, fs::copy_options::recursive);
        window_ = std::make_unique<support::Window>(library);
        window_->waitForPicture();
        window_->main().goTo(app::MainWindow::bench);
        window_->press("position_foot_plant");
        window_->waitForPicture();
        QTRY_VERIFY_WITH_TIMEOUT(window_->desk().open.study().has_value(), 60000);
    }
    [[nodiscard]] fs::path folder(const char* name) const {
        return folder_.filePath(name).toStdString();
    }
    const support::TestFilm& film_ = support::rightHander();
    const model::Rep truth_ = support::trueRep(film_.spec);
    QTemporaryDir folder_;
    std::unique_ptr<support::Window> window_;
};

void TestProposing::initTestCase() {
    QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
    QVERIFY2(desk::LandmarkSearch::hindrance().isEmpty(),
             qPrintable(desk::LandmarkSearch::hindrance()));
    window_ = std::make_unique<support::Window>(folder("untouched"));
    const model::ClipId clip = support::addClip(*window_, film_);
    // A rep from a little before foot plant to a little after release, with its positions set; no
    // other is near.
    model::Rep rep = window_->library().reps(clip).front();
    const int plant = truth_.positions.at("foot_plant");
    const int release = truth_.positions.at("release");
    rep.span = model::FrameSpan{plant - 12, release + 12};
    rep.positions = {
        {"foot_plant", plant}, {"lay_back", truth_.positions.at("lay_back")}, {"release", release}};
    window_->library().save(rep);
    emit window_->desk().edits.recordsChanged();
    window_->press(QString("openClip_%1").arg(clip.value));
    window_->waitForPicture();
    window_.reset();

    // What the machine proposes is looked for once, and every test begins with a copy of it.
    openCopyOf("untouched");
    window_->press("proposeLandmarks");
    waitForProposals();
    QVERIFY(!points().empty());
    const auto bodyIsThere = [&] {
        const technique::Circumstances& around = window_->desk().open.circumstances();
        return around.body && !around.bodyOutdated;
    };
    QTRY_VERIFY_WITH_TIMEOUT(bodyIsThere(), support::patientMs);
    window_.reset();
    fs::rename(folder("library"), folder("proposed"));
}

void TestProposing::init() {
    openCopyOf("proposed");
}

void TestProposing::stoppingChangesNothing() {
    openCopyOf("untouched");
    // With nothing placed there is nothing to follow, and the button says so.
    auto* follow = window_->find<QPushButton>("followPlaced");
    QVERIFY(!follow->isEnabled());
    QVERIFY(follow->toolTip().contains("Place a landmark"));
    QSignalSpy progress(&window_->desk().search, &desk::LandmarkSearch::progress);
    window_->press("proposeLandmarks");
    QVERIFY(window_->desk().search.isSearching());
    QVERIFY(window_->find<QPushButton>("proposeLandmarks")->text().startsWith("Stop"));
    QTRY_VERIFY_WITH_TIMEOUT(progress.count() > 2, 60000);
    window_->press("proposeLandmarks");
    QVERIFY(!window_->desk().search.isSearching());
    // The search ends by itself and must leave nothing behind.
    QThreadPool::globalInstance()->waitForDone();
    QApplication::processEvents();
    QVERIFY(points().empty());
    QVERIFY(!window_->desk().edits.stack().canUndo());
}

void TestProposing::proposingFillsEveryPosition() {
    openCopyOf("untouched");
    // A point of the coach's own beforehand, deliberately wrong: it has to stay.
    const int plant = truth_.positions.at("foot_plant");
    const model::Point2 own =
        truth_.landmarks.at(plant).at(Landmark::leftAnkle).px + model::Point2{3.0, 2.0};
    window_->desk().repEdits.setLandmark(
        plant, Landmark::leftAnkle, model::LandmarkPoint{own, 1.5, Source::placed, false}, "Place");
    window_->press("proposeLandmarks");
    waitForProposals();
    QCOMPARE(count(Source::placed), 1);
    QVERIFY(model::find(points(), plant, Landmark::leftAnkle)->px == own);
    desk::Desk& desk = window_->desk();
    for (const char* id : {"foot_plant", "release"}) {
        const int frame = truth_.positions.at(id);
        for (const Landmark landmark : technique::landmarksToPlace(
                 desk.open.pack(), *technique::findPosition(desk.open.pack(), id),
                 desk.open.circumstances())) {
            const model::LandmarkPoint* point = model::find(points(), frame, landmark);
            if (landmark != Landmark::ball) { // a network of bodies knows no ball
                QVERIFY2(point != nullptr, std::string(model::name(landmark)).c_str());
                const double miss = length(point->px - truth_.landmarks.at(frame).at(landmark).px);
                QVERIFY2(miss < 3.5 * point->sdPx, qPrintable(QString("%1 at %2: %3 px off, sd %4")
                                                                  .arg(model::name(landmark).data())
                                                                  .arg(id)
                                                                  .arg(miss)
                                                                  .arg(point->sdPx)));
            }
        }
    }
    // Readings are there at once, with an uncertainty that says how they came about.
    const auto row = window_->readingRow("plant_lead_knee");
    QVERIFY2(!row.isEmpty() && row[1].contains("±"), qPrintable(row.join(" | ")));
    QVERIFY(window_->text("placingAsk").contains("proposed landmark"));
    desk.edits.undo();
    QCOMPARE(count(Source::proposed), 0);
    QVERIFY(window_->library().evidence(desk.open.rep().id).empty());
    desk.edits.undo();
    QVERIFY(points().empty());
}

void TestProposing::theBodyFollowsAMarkBeforeAllIsSearchedAnew() {
    const auto around = [&]() -> const technique::Circumstances& {
        return window_->desk().open.circumstances();
    };
    QVERIFY(around().body && !around().bodyOutdated);
    const auto before = around().body;
    const int plant = truth_.positions.at("foot_plant");
    const model::Point2 seen = model::find(points(), plant, Landmark::leftWrist)->px;
    constexpr double aside = 25.0; // pixels
    window_->desk().repEdits.setLandmark(
        plant, Landmark::leftWrist,
        model::LandmarkPoint{seen + model::Point2{aside, 0.0}, 1.5, Source::placed, false},
        "Place");
    QVERIFY(around().bodyOutdated);
    const auto isThatOf = [&](const std::shared_ptr<const body::FittedBody>& other) {
        return around().body->parts() == other->parts();
    };
    QVERIFY(isThatOf(before));
    QTRY_VERIFY_WITH_TIMEOUT(!isThatOf(before), support::patientMs);
    QVERIFY(around().bodyOutdated); // all is still being searched anew
    const auto wristOf = [&](const body::FittedBody& body) {
        const model::Seconds time = around().time.fieldTimes()[static_cast<std::size_t>(plant)];
        return body.place({Landmark::leftWrist, time}).x();
    };
    QVERIFY(wristOf(*around().body) > wristOf(*before));
    const auto followed = around().body;
    QTRY_VERIFY_WITH_TIMEOUT(!around().bodyOutdated, support::patientMs);
    QVERIFY(!isThatOf(followed));
}

void TestProposing::whichEndIsNearerIsSaidWithOneKey() {
    window_->press("position_foot_plant");
    window_->waitForPicture();
    auto* nearer = window_->find<QPushButton>("swapDepth");
    QVERIFY(!nearer->isVisible());
    window_->clickReading("plant_pelvis_turn");
    QVERIFY(nearer->isVisible());
    // The film is seen from the open side and the hips open: the trail hip comes to the camera.
    QVERIFY2(nearer->text().contains("trail hip is taken for nearer"), qPrintable(nearer->text()));
    window_->key(Qt::Key_Z);
    QVERIFY2(nearer->text().contains("You say the lead hip"), qPrintable(nearer->text()));
    const auto& said = window_->desk().open.rep().nearerEnds;
    QCOMPARE(said.at("foot_plant").at(model::BodyLine::hips), model::Side::left);
    QCOMPARE(window_->desk().edits.stack().undoText(), QString("Say which hip is nearer"));
    window_->press("swapDepth");
    QVERIFY2(nearer->text().contains("You say the trail hip"), qPrintable(nearer->text()));
    window_->desk().edits.undo();
    window_->desk().edits.undo();
    QVERIFY(said.empty());
    QVERIFY(nearer->text().contains("taken for nearer"));
    window_->clickReading("plant_pelvis_turn"); // lets go
    QVERIFY(!nearer->isVisible());
}

void TestProposing::theBodyStandsBesideTheFilm() {
    auto* panel = window_->find<QWidget>("bodyPanel");
    auto* canvas = window_->main().findChild<app::BodyCanvas*>("bodyCanvas");
    QVERIFY(!panel->isVisible());
    const int leastWidth = window_->main().minimumSizeHint().width();
    window_->key(Qt::Key_B);
    QVERIFY(panel->isVisible());
    QCOMPARE(window_->main().minimumSizeHint().width(), leastWidth); // on a small laptop, too
    QVERIFY2(window_->text("bodySays").contains("Warm"), qPrintable(window_->text("bodySays")));
    // It is drawn: the canvas has more colours than its ground.
    const auto colours = [&] {
        const QImage image = canvas->grab().toImage();
        std::set<QRgb> all;
        for (int y = 0; y < image.height(); y += 4) {
            for (int x = 0; x < image.width(); x += 4) {
                all.insert(image.pixel(x, y));
            }
        }
        return all.size();
    };
    QVERIFY(colours() > 50);
    window_->key(Qt::Key_A);
    QCOMPARE(canvas->view().aboveDeg, 90.0);
    window_->key(Qt::Key_D);
    const double front = canvas->view().aroundDeg;
    window_->press("bodyFromSide");
    QVERIFY(std::abs(std::remainder(front - canvas->view().aroundDeg, 360.0) - 90.0) < 1e-9);
    const report::BodyView before = canvas->view();
    QTest::mousePress(canvas, Qt::LeftButton, {}, {50, 50});
    QTest::mouseMove(canvas, {90, 60});
    QTest::mouseRelease(canvas, Qt::LeftButton, {}, {90, 60});
    QVERIFY(canvas->view() != before);
    // Nothing is told in metres of a player whose height nobody has written down.
    window_->main().findChild<QAction*>("saveBody")->trigger();
    const QString refused = window_->problem();
    QVERIFY2(refused.contains("how tall the player is"), qPrintable(refused));
    // Far from the key positions there is none.
    window_->desk().open.goTo(0);
    QVERIFY(window_->text("bodySays").contains("Nothing tells of the body here"));
    window_->key(Qt::Key_B);
    QVERIFY(!panel->isVisible());
}

/// Filmed from the side: what only a camera at the front shows in the picture is read from the
/// body, and more surely once somebody has looked at the landmarks.
void TestProposing::positionsAreReadFromAnySide() {
    const auto lean = [&] {
        const auto& readings = window_->desk().open.review().readings;
        return support::reading(readings, "release_side_lean");
    };
    const model::Reading followed = lean();
    takeRelease();
    QVERIFY(lean().value.has_value());
    QCOMPARE(lean().from, model::ReadFrom::body);
    if (followed.value) {
        QVERIFY(lean().uncertainty.body < followed.uncertainty.body);
    }
    window_->press("position_release");
    window_->clickReading("release_side_lean");
    QVERIFY(window_->text("howMade").contains("body in space"));
    window_->desk().edits.undo();
    QCOMPARE(lean().value.has_value(), followed.value.has_value());
}

void TestProposing::theMostDoubtfulPointIsAskedForFirst() {
    const Point first = mostDoubtful();
    window_->press("nextDoubtful");
    window_->waitForPicture();
    QCOMPARE(window_->desk().open.frame(), first.frame);
    QVERIFY(window_->text("placingAsk").contains("Enter if it is"));
    QVERIFY(window_->find<QPushButton>("confirmLandmark")->isEnabled());
}

void TestProposing::enterConfirms() {
    const Point first = chooseMostDoubtful();
    const model::Point2 at = model::find(points(), first.frame, first.landmark)->px;
    const int placed = count(Source::placed);
    window_->key(Qt::Key_Return);
    const model::LandmarkPoint* point = model::find(points(), first.frame, first.landmark);
    QCOMPARE(point->source, Source::placed);
    QVERIFY(point->px == at);
    QVERIFY(point->sdPx <= model::confirmedPointSd);
    QCOMPARE(count(Source::placed), placed + 1);
    QVERIFY(mostDoubtful().landmark != first.landmark || mostDoubtful().frame != first.frame);
}

void TestProposing::aClickCorrectsAndItsNeighboursFollow() {
    const Point doubtful = chooseMostDoubtful();
    const auto misses = [&] {
        double sum = 0.0;
        for (const int by : {-2, -1, 1, 2}) {
            const int frame = doubtful.frame + by;
            sum += length(model::find(points(), frame, doubtful.landmark)->px -
                          truth_.landmarks.at(frame).at(doubtful.landmark).px);
        }
        return sum;
    };
    const double before = misses();
    const double sdBefore = model::find(points(), doubtful.frame + 1, doubtful.landmark)->sdPx;
    const model::Point2 right = truth_.landmarks.at(doubtful.frame).at(doubtful.landmark).px;
    QCOMPARE(window_->desk().open.frame(), doubtful.frame);
    window_->clickPicture(right);
    const model::LandmarkPoint* point = model::find(points(), doubtful.frame, doubtful.landmark);
    QCOMPARE(point->source, Source::placed);
    QVERIFY(length(point->px - right) < 2.0);
    QVERIFY(model::find(points(), doubtful.frame + 1, doubtful.landmark)->sdPx < sdBefore);
    QVERIFY2(misses() < before, qPrintable(QString("%1, was %2").arg(misses()).arg(before)));
}

void TestProposing::hiddenIsSaidWithOneKey() {
    const Point doubtful = chooseMostDoubtful();
    window_->key(Qt::Key_H);
    QVERIFY(model::find(points(), doubtful.frame, doubtful.landmark)->hidden);
    QCOMPARE(model::find(points(), doubtful.frame, doubtful.landmark)->source, Source::placed);
}

void TestProposing::shiftEnterTakesAPosition() {
    takeRelease();
    for (const auto& [landmark, point] : points().at(truth_.positions.at("release"))) {
        const auto& needed = technique::landmarksToPlace(
            window_->desk().open.pack(),
            *technique::findPosition(window_->desk().open.pack(), "release"),
            window_->desk().open.circumstances());
        if (std::find(needed.begin(), needed.end(), landmark) != needed.end()) {
            QCOMPARE(point.source, Source::placed);
        }
    }
    QVERIFY(!window_->find<QPushButton>("confirmPosition")->isEnabled());
}

void TestProposing::swappedSidesAreSwappedBackWithOneKey() {
    const int frame = truth_.positions.at("release") - 8;
    window_->desk().open.goTo(frame);
    window_->waitForPicture();
    const model::LandmarkTrack before = points();
    const model::Point2 left = before.at(frame).at(Landmark::leftKnee).px;
    const model::Point2 right = before.at(frame).at(Landmark::rightKnee).px;
    window_->key(Qt::Key_X);
    QVERIFY(model::find(points(), frame, Landmark::leftKnee)->px == right);
    QVERIFY(model::find(points(), frame, Landmark::rightKnee)->px == left);
    QCOMPARE(model::find(points(), frame, Landmark::leftKnee)->source, Source::placed);
    // The machine's names of the next frame follow the coach.
    QVERIFY(length(model::find(points(), frame + 1, Landmark::leftKnee)->px - right) <
            length(model::find(points(), frame + 1, Landmark::leftKnee)->px - left));
    window_->desk().edits.undo();
    QVERIFY(points() == before);
}

void TestProposing::theClickedPlayerIsFollowed() {
    window_->desk().open.goTo(truth_.positions.at("foot_plant"));
    window_->waitForPicture();
    window_->key(Qt::Key_L, Qt::ShiftModifier);
    QVERIFY(window_->text("placingAsk").contains("Click on the player"));
    window_->key(Qt::Key_Escape);
    QVERIFY(!window_->text("placingAsk").contains("Click on the player"));
    window_->key(Qt::Key_L, Qt::ShiftModifier);
    const auto& plant = truth_.landmarks.at(truth_.positions.at("foot_plant"));
    window_->clickPicture((plant.at(Landmark::leftHip).px + plant.at(Landmark::rightHip).px) * 0.5);
    QVERIFY(window_->desk().search.isSearching());
    waitForProposals();
    QCOMPARE(window_->desk().edits.stack().undoText(), QString("Propose landmarks"));
    window_->desk().edits.undo();
}

void TestProposing::undoGoesAllTheWayBack() {
    const model::LandmarkTrack proposed = points();
    chooseMostDoubtful();
    window_->key(Qt::Key_Return);
    const Point doubtful = chooseMostDoubtful();
    window_->clickPicture(truth_.landmarks.at(doubtful.frame).at(doubtful.landmark).px);
    chooseMostDoubtful();
    window_->key(Qt::Key_H);
    takeRelease();
    desk::EditStack& edits = window_->desk().edits;
    const model::LandmarkTrack end = points();
    int steps = 0;
    while (edits.undo()) {
        ++steps;
    }
    QCOMPARE(steps, 4); // confirmed, corrected, hidden, position confirmed
    QVERIFY(points() == proposed);
    while (edits.redo()) {
    }
    QVERIFY(points() == end);
}

void TestProposing::reopenedItGoesOnFromThere() {
    chooseMostDoubtful();
    window_->key(Qt::Key_Return);
    const model::LandmarkTrack before = points();
    window_->reopen(folder("library"));
    window_->waitForPicture();
    QVERIFY(points() == before);
    // A correction still reaches the neighbours: what the machine saw was kept.
    const int frame = truth_.positions.at("release") - 5;
    const model::LandmarkPoint old = *model::find(points(), frame, Landmark::rightKnee);
    window_->desk().repEdits.setLandmark(
        frame + 1, Landmark::rightKnee,
        model::LandmarkPoint{old.px + model::Point2{15.0, 0.0}, 1.5, Source::placed, false},
        "Place");
    QVERIFY(model::find(points(), frame, Landmark::rightKnee)->px.x > old.px.x + 5.0);
}

void TestProposing::trackingOnFromHereKeepsWhatIsBefore() {
    takeRelease();
    // Tracking on follows what is placed, too; that is had beforehand, so that it changes nothing.
    const model::LandmarkTrack unfollowed = points();
    window_->key(Qt::Key_F);
    waitForProposals();
    QVERIFY(points() != unfollowed);
    const model::LandmarkTrack before = points();
    const int frame = truth_.positions.at("release");
    window_->desk().open.goTo(frame);
    window_->waitForPicture();
    window_->key(Qt::Key_T);
    QVERIFY(window_->text("placingAsk").contains("Click on the player"));
    const auto& release = truth_.landmarks.at(frame);
    window_->clickPicture((release.at(Landmark::leftHip).px + release.at(Landmark::rightHip).px) *
                          0.5);
    QVERIFY(window_->desk().search.isSearching());
    waitForProposals();
    QCOMPARE(window_->desk().edits.stack().undoText(), QString("Track from frame %1").arg(frame));
    QVERIFY(points() != before);
    QCOMPARE(points().begin()->first, before.begin()->first);
    QCOMPARE(points().rbegin()->first, before.rbegin()->first);
    for (auto earlier = before.begin(); earlier->first < frame; ++earlier) {
        QVERIFY(points().at(earlier->first) == earlier->second);
    }
    window_->desk().edits.undo();
    QVERIFY(points() == before);
}

void TestProposing::aLandmarkIsCopiedFromTheFrameBefore() {
    takeRelease();
    const model::LandmarkTrack before = points();
    const int frame = window_->desk().open.frame();
    window_->clickPicture(before.at(frame).at(Landmark::head).px, Qt::ControlModifier); // choose
    QVERIFY2(window_->text("placingAsk").contains("Arrow keys move the head"),
             qPrintable(window_->text("placingAsk")));
    window_->key(Qt::Key_C);
    const model::LandmarkPoint* point = model::find(points(), frame, Landmark::head);
    QVERIFY(point->px == model::find(before, frame - 1, Landmark::head)->px);
    QCOMPARE(point->source, Source::placed);
    QVERIFY(point->sdPx <= model::confirmedPointSd);
    window_->desk().edits.undo();
    QVERIFY(points() == before);
}

void TestProposing::theBallIsFollowedFromWhereItIsPlaced() {
    window_->press("position_release");
    window_->waitForPicture();
    const int frame = window_->desk().open.frame();
    auto* follow = window_->find<QPushButton>("followPlaced");
    auto* list = window_->find<QListWidget>("landmarkList");
    const auto items = list->findItems("+ ball", Qt::MatchExactly);
    QCOMPARE(items.size(), 1);
    list->scrollToItem(items.front());
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                      list->visualItemRect(items.front()).center());
    QCOMPARE(window_->text("placingAsk"), QString("Click the ball."));
    const model::LandmarkTrack before = points();
    window_->clickPicture(truth_.landmarks.at(frame).at(Landmark::ball).px);
    QCOMPARE(model::find(points(), frame, Landmark::ball)->source, Source::placed);
    QVERIFY(follow->isEnabled());
    const QString hereOnly = "The ball is known in this frame only: F follows it.";
    QVERIFY2(window_->text("placingAsk").contains(hereOnly),
             qPrintable(window_->text("placingAsk")));
    window_->key(Qt::Key_F);
    QVERIFY(window_->desk().search.isSearching());
    waitForProposals();
    QVERIFY2(!window_->text("placingAsk").contains(hereOnly),
             qPrintable(window_->text("placingAsk")));
    QCOMPARE(window_->desk().edits.stack().undoText(), QString("Follow what is placed"));
    // From there it flies out of the picture.
    for (const int flying : {frame + 2, frame + 3}) {
        const model::LandmarkPoint* ball = model::find(points(), flying, Landmark::ball);
        QVERIFY(ball != nullptr);
        QCOMPARE(ball->source, Source::tracked);
        const double miss = length(ball->px - truth_.landmarks.at(flying).at(Landmark::ball).px);
        QVERIFY2(miss < 4.0, qPrintable(QString::number(miss)));
    }
    window_->desk().edits.undo();
    QVERIFY(model::find(points(), frame - 2, Landmark::ball) == nullptr ||
            model::find(points(), frame - 2, Landmark::ball)->source == Source::interpolated);
    window_->desk().edits.undo();
    QVERIFY(points() == before);
}

void TestProposing::landmarksGoToAFileAndBack() {
    takeRelease();
    const model::LandmarkTrack before = points();
    const auto chosen = [](const QString& file) {
        return [file] {
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            QVERIFY(dialog != nullptr);
            auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
            name->setText(file);
            QTest::keyClick(name, Qt::Key_Return);
        };
    };
    const QString file = folder_.filePath("saved.csv");
    QTimer::singleShot(200, chosen(file));
    window_->main().findChild<QAction*>("saveLandmarks")->trigger();
    const model::LandmarkTrack saved = track::readLandmarkFile(file.toStdString());
    QCOMPARE(saved.size(), before.size());

    // One placed point is taken away; the file brings it back, and nothing else is changed.
    const int frame = truth_.positions.at("release");
    const model::LandmarkPoint own = *model::find(before, frame, Landmark::head);
    QCOMPARE(own.source, Source::placed);
    window_->desk().repEdits.setLandmark(frame, Landmark::head, std::nullopt, "Remove");
    QVERIFY(model::find(points(), frame, Landmark::head)->source != Source::placed);
    QTimer::singleShot(200, chosen(file));
    window_->main().findChild<QAction*>("takeLandmarks")->trigger();
    const model::LandmarkPoint* back = model::find(points(), frame, Landmark::head);
    QCOMPARE(back->source, Source::placed);
    QVERIFY(length(back->px - own.px) < 0.01); // a file keeps hundredths of a pixel
    QCOMPARE(count(Source::placed), [&] {
        int placed = 0;
        for (const auto& [number, landmarks] : before) {
            placed += static_cast<int>(
                std::count_if(landmarks.begin(), landmarks.end(),
                              [](const auto& p) { return p.second.source == Source::placed; }));
        }
        return placed;
    }());
    window_->desk().edits.undo();
    window_->desk().edits.undo();
    QVERIFY(points() == before);
}

void TestProposing::aFileOfAnotherClipIsRefused() {
    const model::LandmarkTrack before = points();
    model::LandmarkTrack foreign;
    foreign[window_->desk().open.index().frameCount() + 5][Landmark::head] = {};
    const QString file = folder_.filePath("foreign.csv");
    std::vector<model::Seconds> times(
        static_cast<std::size_t>(window_->desk().open.index().frameCount()) + 6);
    for (std::size_t i = 0; i < times.size(); ++i) {
        times[i] = model::Seconds(static_cast<double>(i) / 60.0);
    }
    track::writeLandmarkFile(file.toStdString(), foreign, model::ClipTime(times));
    QSignalSpy problems(&window_->desk().problems, &desk::Problems::told);
    QTimer::singleShot(200, [file] {
        auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
        QVERIFY(dialog != nullptr);
        auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
        name->setText(file);
        QTest::keyClick(name, Qt::Key_Return);
        QTimer::singleShot(300, [] {
            if (QWidget* message = QApplication::activeModalWidget()) {
                message->close();
            }
        });
    });
    window_->main().findChild<QAction*>("takeLandmarks")->trigger();
    QTRY_COMPARE(problems.count(), 1);
    QVERIFY(problems.front().front().value<desk::Problem>().happened.contains(
        "this clip ends with frame"));
    QVERIFY(points() == before);
}

QTEST_MAIN(TestProposing)
#include "test_proposing.moc"
