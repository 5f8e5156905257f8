#include "window/window_driver.h"

#include "app/film/film_station.h"
#include "app/shared/clip_map.h"
#include "report/filming_card.h"
#include "support/commands.h"
#include "support/film_corpus.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHelpEvent>
#include <QLineEdit>
#include <QMessageBox>
#include <QTabWidget>
#include <QTemporaryDir>
#include <QToolTip>
#include <QWheelEvent>

using namespace kestrel;
namespace fs = std::filesystem;

namespace {

QString text(const fs::path& file) {
    return QString::fromStdString(file.string());
}

} // namespace

/// The Film station through the real window: reps, the clip's map, clocks, fields, lost films.
class TestFilmStation : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void init();
    void oneClipWithThreeRepsGivesThreeReps();
    void theMapMovesThroughTheClip();
    void bracketsGoToTheKeyPositions();
    void repsAreMadeByHandToo();
    void slowMotionInsideAFilmIsTakenOver();
    void slowMotionIsMarkedByHand();
    void interlacedFilmIsReadAsFields();
    void aShakyCameraIsTakenOut();
    void theTechniqueIsSaid();
    void makesAreCountedBySpot();
    void whatRepeatsIsTold();
    void theFilmCheckSaysWhatShows();
    void whatAnEditorDidIsTold();
    void aLostFilmComesBack();
    void aLostFilmIsAskedFor();

  private:
    void bringIn(const fs::path& film) {
        model::Player player;
        player.name = "Juno Tarn";
        const model::PlayerId id = window_->library().save(player);
        window_->main().bringIn({text(film)}, id);
        window_->waitForPicture();
        window_->main().goTo(app::MainWindow::film);
    }
    void waitForStudy() {
        QTRY_VERIFY_WITH_TIMEOUT(window_->desk().open.study().has_value(), 120000);
    }
    void page(app::FilmStation::Page page) {
        window_->find<QTabWidget>("filmPages")->setCurrentIndex(page);
        QApplication::processEvents();
    }
    fs::path corpusFilm(const std::string& name) const {
        const auto corpus = support::filmCorpus();
        return support::madeFilm(
            *std::find_if(corpus.begin(), corpus.end(),
                          [&](const support::CorpusFilm& f) { return f.name == name; }),
            folder_->path().toStdString());
    }
    fs::path in(const char* name) const { return folder_->filePath(name).toStdString(); }
    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<support::Window> window_;
};

void TestFilmStation::initTestCase() {
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
}

void TestFilmStation::init() {
    window_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    window_ = std::make_unique<support::Window>(in("library"));
}

void TestFilmStation::oneClipWithThreeRepsGivesThreeReps() {
    support::makeFilm({"-i", text(support::filmFile(support::rightHander())), "-vf",
                       "fps=30,scale=320:180,tpad=start_mode=clone:start_duration=1:"
                       "stop_mode=clone:stop_duration=1",
                       "-c:v", "libx264"},
                      in("once.mp4"));
    support::makeFilm({"-stream_loop", "2", "-i", text(in("once.mp4")), "-c:v", "libx264"},
                      in("three.mp4"));
    bringIn(in("three.mp4"));
    waitForStudy();
    page(app::FilmStation::reps);
    QVERIFY(window_->text("repProposal").contains("shows 3 reps"));
    window_->press("takeReps");
    auto* list = window_->find<QListWidget>("reps");
    QCOMPARE(list->count(), 3);
    const model::ClipId clip = window_->desk().open.clip().id;
    QCOMPARE(window_->library().reps(clip).size(), 3U);
    // Taken back and done again, with the same numbers.
    const model::RepId third = window_->desk().open.reps()[2].id;
    window_->press("undo");
    QCOMPARE(list->count(), 1);
    QVERIFY(!window_->desk().open.reps().front().span);
    window_->press("redo");
    QCOMPARE(list->count(), 3);
    QCOMPARE(window_->desk().open.reps()[2].id, third);

    list->setCurrentRow(1);
    QCOMPARE(window_->desk().open.rep().title, std::string("Rep 2"));
    QVERIFY(window_->desk().open.rep().span->contains(window_->desk().open.frame()));
    auto* title = window_->find<QLineEdit>("repTitle");
    title->selectAll();
    QTest::keyClicks(title, "The good one");
    QTest::keyClick(title, Qt::Key_Return);
    auto* kind = window_->find<QComboBox>("shotType");
    kind->setCurrentIndex(kind->findData("breaking"));
    emit kind->activated(kind->currentIndex());
    QTest::keyClicks(window_->find<QLineEdit>("repResult"), "strike");
    QTest::keyClick(window_->find<QLineEdit>("repResult"), Qt::Key_Return);
    const model::Rep stored = *window_->library().rep(window_->desk().open.rep().id);
    QCOMPARE(stored.title, std::string("The good one"));
    QCOMPARE(stored.shotType, std::string("breaking"));
    QCOMPARE(stored.result, std::string("strike"));
    // The marks go to the rep that is open, and it is open again after a restart.
    window_->desk().repEdits.setPosition("release", window_->desk().open.frame());
    QVERIFY(window_->library().reps(clip)[0].positions.empty());
    window_->reopen(in("library"));
    window_->waitForPicture();
    QCOMPARE(window_->desk().open.rep().title, std::string("The good one"));
    QCOMPARE(window_->desk().open.rep().positions.size(), 1U);
    // The Bench goes from rep to rep by key.
    window_->main().goTo(app::MainWindow::bench);
    window_->key(Qt::Key_PageDown);
    QCOMPARE(window_->desk().open.rep().id, third);
    QVERIFY(window_->text("openClipTitle").contains("Rep 3"));
}

void TestFilmStation::theMapMovesThroughTheClip() {
    bringIn(support::filmFile(support::rightHander()));
    waitForStudy();
    window_->desk().clipEdits.addRep({100, 250});
    auto* map = window_->find<app::ClipMap>("clipMap");
    QCOMPARE(map->inView().first, 0);
    QCOMPARE(map->inView().last, 360);
    // From the whole clip down to single frames, round the pointer, and back.
    const QPointF place(map->placeOf(200), 20);
    for (int notch = 0; notch < 30; ++notch) {
        QWheelEvent wheel(place, map->mapToGlobal(place), {}, {0, 120}, Qt::NoButton,
                          Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(map, &wheel);
    }
    QVERIFY(map->inView().last - map->inView().first <= 8);
    QVERIFY(map->inView().contains(200));
    QTest::mouseClick(map, Qt::LeftButton, Qt::NoModifier,
                      QPoint(static_cast<int>(map->placeOf(201)), 20));
    QCOMPARE(window_->desk().open.frame(), 201);
    window_->desk().open.goTo(330); // out of view: the map follows
    QVERIFY(map->inView().contains(330));
    window_->press("mapAll");
    QCOMPARE(map->inView().last, 360);
    window_->press("mapRep");
    QVERIFY(map->inView().first >= 90 && map->inView().last <= 260);
    window_->press("mapAll");

    // The end of a rep is pulled to another frame, as one edit.
    constexpr int repsRow = 70;
    const QPoint end(static_cast<int>(map->placeOf(250) + map->width() / 361.0 / 2), repsRow);
    QTest::mousePress(map, Qt::LeftButton, Qt::NoModifier, end);
    const QPointF to(map->placeOf(300), repsRow);
    QMouseEvent move(QEvent::MouseMove, to, map->mapToGlobal(to), Qt::NoButton, Qt::LeftButton,
                     Qt::NoModifier);
    QApplication::sendEvent(map, &move);
    QTest::mouseRelease(map, Qt::LeftButton, Qt::NoModifier, to.toPoint());
    QCOMPARE(window_->desk().open.rep().span->last, 300);
    window_->press("undo");
    QCOMPARE(window_->desk().open.rep().span->last, 250);
}

void TestFilmStation::bracketsGoToTheKeyPositions() {
    bringIn(support::filmFile(support::rightHander()));
    window_->desk().repEdits.setPosition("foot_plant", 192);
    window_->desk().repEdits.setPosition("release", 210);
    window_->desk().open.goTo(100);
    window_->find<QWidget>("filmStation")->setFocus();
    window_->key(Qt::Key_BracketRight);
    QCOMPARE(window_->desk().open.frame(), 192);
    window_->key(Qt::Key_BracketRight);
    QCOMPARE(window_->desk().open.frame(), 210);
    window_->key(Qt::Key_BracketRight); // no other after it
    QCOMPARE(window_->desk().open.frame(), 210);
    window_->key(Qt::Key_BracketLeft);
    QCOMPARE(window_->desk().open.frame(), 192);
}

void TestFilmStation::repsAreMadeByHandToo() {
    bringIn(support::filmFile(support::rightHander()));
    page(app::FilmStation::reps);
    window_->desk().open.goTo(200);
    window_->press("addRep");
    QCOMPARE(window_->desk().open.reps().size(), 2U);
    // A second to both sides, at 120 frames a second.
    QCOMPARE(window_->desk().open.rep().span, std::optional(model::FrameSpan{80, 320}));
    window_->desk().open.goTo(150);
    window_->press("repStartsHere");
    QCOMPARE(window_->desk().open.rep().span->first, 150);
    window_->desk().repEdits.setPosition("release", 210);
    window_->press("removeRep");
    QCOMPARE(window_->desk().open.reps().size(), 1U);
    QVERIFY(!window_->find<QPushButton>("removeRep")->isEnabled());
    window_->press("undo"); // with its marks
    QCOMPARE(window_->desk().open.reps().size(), 2U);
    QCOMPARE(window_->desk().open.reps()[1].positions.at("release"), 210);
}

void TestFilmStation::slowMotionInsideAFilmIsTakenOver() {
    // 20 frames as it happened, 20 four times slowed, and as it happened again.
    bringIn(corpusFilm("slow-motion ramp"));
    page(app::FilmStation::camera);
    QVERIFY(window_->desk().open.captureRateMissing());
    QVERIFY(window_->text("speedProposal").contains("3 stretches"));
    window_->press("takeSpeeds");
    QVERIFY(!window_->desk().open.captureRateMissing());
    const model::ClipTime& time = window_->desk().open.circumstances().time;
    QVERIFY(std::abs(model::elapsed(time, 22, 38).value - 16.0 / 30.0) < 0.01);
    QCOMPARE(window_->find<QListWidget>("speeds")->count(), 3);
    window_->press("undo");
    QVERIFY(window_->desk().open.captureRateMissing());
}

void TestFilmStation::slowMotionIsMarkedByHand() {
    bringIn(corpusFilm("h264 mp4")); // 75 frames, 30 a second
    page(app::FilmStation::camera);
    const auto setHere = [&](int frame, double slowdown) {
        window_->desk().open.goTo(frame);
        window_->find<QDoubleSpinBox>("slowdown")->setValue(slowdown);
        window_->press("setSpeed");
    };
    setHere(30, 8.0);
    setHere(60, 1.0);
    const model::ClipTime& time = window_->desk().open.circumstances().time;
    QVERIFY(std::abs(model::elapsed(time, 0, 30).value - 1.0) < 0.01);
    QVERIFY(std::abs(model::elapsed(time, 30, 60).value - 30.0 / 240.0) < 0.001);
    QVERIFY(!window_->desk().open.captureRateMissing());
    window_->desk().open.goTo(61);
    window_->press("removeSpeed");
    QCOMPARE(window_->desk().open.clip().speeds.size(), 2U);
}

void TestFilmStation::interlacedFilmIsReadAsFields() {
    bringIn(corpusFilm("interlaced mpeg2, bottom first"));
    page(app::FilmStation::camera);
    auto* fields = window_->find<QCheckBox>("asFields");
    QVERIFY(fields->isVisible());
    window_->desk().repEdits.setPosition("release", 21);
    const int frames = window_->desk().open.index().frameCount();
    QTest::mouseClick(fields, Qt::LeftButton, Qt::NoModifier, QPoint(8, fields->height() / 2));
    QCOMPARE(window_->desk().open.index().frameCount(), 2 * frames);
    QCOMPARE(window_->desk().open.rep().positions.at("release"), 42);
    window_->waitForPicture();
    window_->press("undo");
    QCOMPARE(window_->desk().open.index().frameCount(), frames);
    QCOMPARE(window_->desk().open.rep().positions.at("release"), 21);
    // Progressive film offers no fields.
    bringIn(support::filmFile(support::rightHander()));
    QTRY_VERIFY_WITH_TIMEOUT(!fields->isVisible(), support::patientMs);
}

void TestFilmStation::aShakyCameraIsTakenOut() {
    support::makeFilm({"-i", text(support::filmFile(support::rightHander())), "-vf",
                       "fps=30,scale=1280:720,crop=960:540:x='2*floor(60+20*sin(n/9))':y=60",
                       "-c:v", "libx264"},
                      in("shaky.mp4"));
    bringIn(in("shaky.mp4"));
    page(app::FilmStation::camera);
    waitForStudy();
    QVERIFY(window_->desk().open.circumstances().camera.empty());
    auto* steadied = window_->find<QCheckBox>("steadied");
    QTRY_VERIFY(steadied->isEnabled());
    QTest::mouseClick(steadied, Qt::LeftButton, Qt::NoModifier, QPoint(8, steadied->height() / 2));
    QCOMPARE(static_cast<int>(window_->desk().open.circumstances().camera.size()),
             window_->desk().open.index().frameCount());
    page(app::FilmStation::shows);
    QVERIFY(window_->text("filmRemarks").contains("The camera moved by up to"));
}

void TestFilmStation::makesAreCountedBySpot() {
    const model::ClipId clip = support::addMarkedClip(*window_, support::rightHander());
    records::Library& library = window_->library();
    model::Rep shot = library.reps(clip).front();
    shot.techniqueId = "jump_shot";
    shot.positions.clear();
    shot.landmarks.clear();
    shot.packEdition = {};
    shot.shotType = "free_throw_line";
    shot.observations = {{"went_in", model::Seen::yes}};
    library.save(shot);
    shot.id = {};
    shot.observations = {{"went_in", model::Seen::no}};
    library.save(shot);
    shot.shotType = "three_left_corner";
    library.save(shot);
    window_->desk().open.open(clip);
    window_->waitForPicture();
    window_->main().goTo(app::MainWindow::film);
    page(app::FilmStation::repeats);
    const QString record = window_->text("shotRecord");
    QVERIFY2(record.contains("from the free-throw line 1 of 2 (9 to 91 %)"), qPrintable(record));
    QVERIFY2(record.contains("three points, left corner 0 of 1 (0 to 79 %)"), qPrintable(record));
}

void TestFilmStation::whatRepeatsIsTold() {
    const model::ClipId clip = support::addMarkedClip(*window_, support::rightHander());
    records::Library& library = window_->library();
    window_->desk().open.open(clip);
    window_->waitForPicture();
    window_->main().goTo(app::MainWindow::film);
    page(app::FilmStation::repeats);
    QVERIFY2(window_->text("consistencySummary").contains("1 reps are marked"),
             qPrintable(window_->text("consistencySummary")));
    // Two more reps of the clip, in one of which the front knee is placed elsewhere.
    const model::Rep first = library.reps(clip).front();
    for (const double moved : {0.0, 25.0}) {
        model::Rep again = first;
        again.id = {};
        again.landmarks.at(again.positions.at("foot_plant")).at(model::Landmark::leftKnee).px.x +=
            moved;
        library.save(again);
    }
    window_->desk().open.open(clip);
    window_->waitForPicture();
    QTRY_VERIFY(window_->text("consistencySummary").contains("Over 3 reps"));
    auto* table = window_->find<QTreeWidget>("consistency");
    const auto knee = table->findItems("Lead knee flexion\nFoot plant", Qt::MatchExactly);
    QCOMPARE(knee.size(), 1);
    QCOMPARE(knee.front()->text(3), QString("3"));
    QVERIFY(knee.front()->text(2) != "–");
    // Times were the same in all three.
    const auto tempo = table->findItems("Tempo, lift to plant\nFoot plant", Qt::MatchExactly);
    QCOMPARE(tempo.size(), 1);
    QCOMPARE(tempo.front()->text(2), QString("–"));

    // How a measure runs through the reps needs landmarks in all frames.
    const auto choose = [&](const char* row) {
        auto* list = window_->find<QTreeWidget>("consistency");
        QTreeWidgetItem* item = list->findItems(row, Qt::MatchExactly).front();
        list->scrollToItem(item);
        QTest::mouseClick(list->viewport(), Qt::LeftButton, Qt::NoModifier,
                          list->visualItemRect(item).center());
    };
    choose("Lead knee flexion\nFoot plant");
    QVERIFY(window_->text("repeatsCourse").contains("needs landmarks in all frames"));
    QVERIFY(!window_->find("repeatsChart")->isVisible());
    model::LandmarkTrack everywhere = support::trueRep(support::rightHander().spec).landmarks;
    for (auto& [frame, points] : everywhere) {
        for (auto& [landmark, point] : points) {
            point.sdPx = 1.0;
        }
    }
    for (model::Rep rep : library.reps(clip)) {
        rep.landmarks = everywhere;
        library.save(rep);
    }
    window_->desk().open.open(clip);
    window_->waitForPicture();
    QTRY_VERIFY2(window_->text("repeatsCourse").contains("in 3 reps"),
                 qPrintable(window_->text("repeatsCourse")));
    QVERIFY(window_->find("repeatsChart")->isVisible());
}

void TestFilmStation::theTechniqueIsSaid() {
    const model::ClipId clip = support::addMarkedClip(*window_, support::rightHander());
    window_->desk().open.open(clip);
    window_->waitForPicture();
    window_->main().goTo(app::MainWindow::film);
    page(app::FilmStation::camera);
    auto* technique = window_->find<QComboBox>("technique");
    QCOMPARE(technique->currentData().toString(), QString("overhand_pitch"));
    QVERIFY(technique->count() >= 12);
    technique->setCurrentIndex(technique->findData("tennis_serve"));
    emit technique->activated(technique->currentIndex());
    QCOMPARE(window_->desk().open.pack().id, std::string("tennis_serve"));
    // The pitch's positions are no places to go to any more.
    window_->desk().open.goTo(0);
    window_->find<app::FilmStation>("filmStation")->setFocus();
    window_->key(Qt::Key_BracketRight);
    for (const auto& [id, frame] : window_->desk().open.rep().positions) {
        QVERIFY2(technique::findPosition(window_->desk().open.pack(), id) != nullptr ||
                     window_->desk().open.frame() != frame,
                 id.c_str());
    }
    // The Bench has the serve's positions, and nothing of the pitch.
    window_->main().goTo(app::MainWindow::bench);
    QTRY_VERIFY(window_->find<QWidget>("position_racket_drop")->isVisible());
    QVERIFY(window_->main().findChildren<QWidget*>("position_lay_back").isEmpty());
    // The marks of the pitch are still there when it was a mistake.
    window_->press("undo");
    QCOMPARE(window_->desk().open.pack().id, std::string("overhand_pitch"));
    QTRY_VERIFY(window_->find<QWidget>("position_lay_back")->isVisible());
    QVERIFY(window_->desk().open.rep().positions.contains("lay_back"));
    // The next film of a player without films starts with the technique said last.
    window_->press("redo");
    model::Player other;
    other.name = "Isa Fennel";
    const model::PlayerId id = window_->library().save(other);
    QCOMPARE(window_->desk().squadEdits.usualTechnique(id), std::string("tennis_serve"));
    QCOMPARE(window_->desk().squadEdits.usualTechnique(window_->desk().open.player().id),
             std::string("tennis_serve"));
}

void TestFilmStation::theFilmCheckSaysWhatShows() {
    bringIn(support::filmFile(support::rightHander())); // 120 frames a second
    page(app::FilmStation::shows);
    waitForStudy();
    QApplication::processEvents();
    const QString remarks = window_->text("filmRemarks");
    QVERIFY2(remarks.contains("The camera stood still"), qPrintable(remarks));
    QVERIFY(remarks.contains("A frame every 8.3 ms"));
    auto* table = window_->find<QTreeWidget>("filmShows");
    const auto found = table->findItems("Release", Qt::MatchExactly);
    QCOMPARE(found.size(), 1);
    QVERIFY(found.front()->text(2).contains("only bracketed"));
    QVERIFY(table->findItems("Set", Qt::MatchExactly).front()->text(2).contains("can be read"));

    report::writeFilmingCard(window_->desk().open.pack(), model::Metres(1.50), in("card.pdf"));
    const auto pdf = support::run("pdftotext", {"-layout", text(in("card.pdf")), "-"});
    QVERIFY(pdf.out.contains("Overhand pitch"));
    QVERIFY(pdf.out.contains("240 a second; at least 120"));
    QVERIFY(pdf.out.contains("0.9 m above the ground")); // 0.6 of 1.50 m
    QVERIFY(pdf.out.contains("3.1 m at the nearest"));   // 2.4 · 1.50 / 2 / tan 30°
}

/// A film that fades in, and stops in the middle of the pitch for two seconds.
void TestFilmStation::whatAnEditorDidIsTold() {
    support::makeFilm({"-i", text(support::filmFile(support::rightHander())), "-vf",
                       "fps=30,scale=320:180,tpad=start_mode=clone:start_duration=2,"
                       "loop=60:1:105,setpts=N/30/TB,fade=in:st=0:d=1",
                       "-c:v", "libx264"},
                      in("edited.mp4"));
    bringIn(in("edited.mp4"));
    waitForStudy();
    page(app::FilmStation::shows);
    const QString remarks = window_->text("filmRemarks");
    QVERIFY2(remarks.contains("1 dark or fading stretch is left out."), qPrintable(remarks));
    QVERIFY2(remarks.contains("One picture is held once, for 2.0 s in all."), qPrintable(remarks));
    // The map says so where it is.
    auto* map = window_->find<QWidget>("clipMap");
    const QPoint early(2, 50);
    QHelpEvent help(QEvent::ToolTip, early, map->mapToGlobal(early));
    QApplication::sendEvent(map, &help);
    QVERIFY2(QToolTip::text().contains("dark or fades"), qPrintable(QToolTip::text()));
}

void TestFilmStation::aLostFilmComesBack() {
    fs::copy_file(support::filmFile(support::rightHander()), in("phone.mp4"));
    bringIn(in("phone.mp4"));
    const model::Clip clip = window_->desk().open.clip();
    window_->desk().repEdits.setPosition("release", 210);
    window_.reset();
    fs::remove(in("library") / "clips" / clip.fileName);
    // It still lies where it was brought in from: nobody is asked.
    window_ = std::make_unique<support::Window>(in("library"));
    window_->waitForPicture();
    QCOMPARE(window_->desk().open.rep().positions.at("release"), 210);
    QVERIFY(fs::exists(window_->library().clipFile(clip)));
}

void TestFilmStation::aLostFilmIsAskedFor() {
    fs::create_directories(in("disk"));
    fs::copy_file(support::filmFile(support::rightHander()), in("phone.mp4"));
    bringIn(in("phone.mp4"));
    const model::Clip clip = window_->desk().open.clip();
    window_.reset();
    fs::remove(in("library") / "clips" / clip.fileName);
    fs::rename(in("phone.mp4"), in("disk") / fs::path("renamed.mp4"));
    window_ = std::make_unique<support::Window>(in("library"));
    QMessageBox* box = nullptr;
    QTRY_VERIFY_WITH_TIMEOUT((box = window_->main().findChild<QMessageBox*>("filmLost")) != nullptr,
                             support::patientMs);
    QVERIFY(box->text().contains("not in the library any more"));
    QVERIFY(box->informativeText().contains("All marks and notes are safe"));
    QVERIFY(!window_->desk().open.hasClip());
    box->findChild<QPushButton*>("leaveLostFilm")->click();
    window_->desk().open.restoreFilm(clip.id, in("disk"));
    window_->waitForPicture();
    QCOMPARE(window_->desk().open.clip().id, clip.id);
}

QTEST_MAIN(TestFilmStation)
#include "test_film_station.moc"
