#include "app/picture_tour.h"

#include "app/bench/bench_station.h"
#include "app/compare/compare_station.h"
#include "app/compare/pair_stage.h"
#include "app/film/film_station.h"
#include "app/main_window.h"
#include "app/packs/document_editor.h"
#include "app/packs/pack_reader.h"
#include "app/packs/packs_station.h"
#include "app/plan/film_preview.h"
#include "app/plan/plan_station.h"
#include "desk/desk.h"
#include "model/input_error.h"

#include <QApplication>
#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QListWidget>
#include <QPixmap>
#include <QPushButton>
#include <QToolButton>
#include <QTreeWidget>

#include <functional>

namespace kestrel::app {
namespace {

/// Lets the window work until `done`, or until far longer than it should take.
void waitFor(const std::function<bool()>& done, int patienceMs = 60000) {
    QElapsedTimer clock;
    clock.start();
    while (!done() && clock.elapsed() < patienceMs) {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    }
}

/// Until everything that was asked for is on screen.
void settle(MainWindow& window) {
    constexpr int quietMs = 400;
    QElapsedTimer quiet;
    quiet.start();
    waitFor([&] {
        if (window.thumbnailsBusy()) {
            quiet.restart();
        }
        return quiet.elapsed() > quietMs;
    });
}

void grab(MainWindow& window, const std::filesystem::path& file) {
    settle(window);
    if (!window.grab().save(QString::fromStdString(file.string()), "PNG")) {
        throw model::InputError(model::message("file.unwritable", file.string()),
                                model::message("safe.nothing_changed"),
                                model::message("todo.choose_other_place"));
    }
}

/// Presses Open on the clip of that title of the player in that row.
void openClip(MainWindow& window, desk::Desk& desk, int row, const std::string& title) {
    window.goTo(MainWindow::squad);
    auto* players = window.findChild<QListWidget*>("players");
    const QListWidgetItem* item = players->item(row);
    if (item == nullptr) {
        return; // a library that is not the demo's
    }
    players->setCurrentRow(row);
    const auto player = model::PlayerId(item->data(Qt::UserRole).toLongLong());
    for (const model::Clip& clip : desk.library.clips(player)) {
        if (clip.title == title) {
            bool opened = false; // also when this very clip was open before
            QObject context;
            QObject::connect(&desk.open, &desk::OpenClip::opened, &context, [&] { opened = true; });
            window.findChild<QPushButton*>("openClip_" + QString::number(clip.id.value))->click();
            waitFor([&] {
                return opened && desk.open.clip().id == clip.id &&
                       !desk.open.picture(desk.open.frame()).isNull() &&
                       desk.open.study().has_value(); // else the map tells how far it is looked at
            });
        }
    }
}

/// Landmarks and positions proposed in the open rep: a position that is asked about, and a
/// landmark.
void takeProposals(MainWindow& window, desk::Desk& desk, const std::filesystem::path& folder) {
    if (!desk::LandmarkSearch::hindrance().isEmpty()) {
        return; // the pictures of before stay
    }
    model::Clip clip = desk.open.clip();
    clip.view = model::View::openSide;
    clip.captureRate = desk.open.index().fileRate(); // this film is no slow motion
    desk.clipEdits.setClip(clip, "Camera");
    window.goTo(MainWindow::bench);
    desk.search.propose();
    constexpr int minutes = 60000;
    waitFor([&] { return !desk.search.isSearching(); }, 5 * minutes); // a network on every frame
    const auto pictureThere = [&] { return !desk.open.picture(desk.open.frame()).isNull(); };
    window.benchStation().choosePosition("foot_plant");
    waitFor(pictureThere);
    window.findChild<QPushButton*>("nextDoubtful")->click();
    waitFor(pictureThere);
    grab(window, folder / "bench-proposed.png");
    auto* curves = window.findChild<QPushButton*>("curvesButton");
    curves->click();
    window.benchStation().choosePosition("release");
    waitFor(pictureThere);
    grab(window, folder / "bench-curves.png");
    curves->click();
    waitFor(
        [&] {
            const technique::Circumstances& around = desk.open.circumstances();
            return around.body && !around.bodyOutdated;
        },
        2 * minutes);
    auto* body = window.findChild<QPushButton*>("bodyButton");
    body->click();
    grab(window, folder / "bench-body.png");
    body->click();
}

// Players are listed by name.
constexpr int juno = 3;
constexpr int mika = 6;

/// The open rep beside the pose model at foot plant, and both bodies from above.
void takeComparison(MainWindow& window, desk::Desk& desk, const std::filesystem::path& folder) {
    window.goTo(MainWindow::compare);
    const auto& candidates = desk.comparison.candidates();
    waitFor([&] { return desk.comparison.hasOther(); });
    desk.comparison.choose(candidates.size() - 1);
    waitFor([&] { return desk.comparison.hasOther() && desk.comparison.otherIsModel(); });
    window.findChild<QToolButton*>("pairPosition_foot_plant")->click();
    const PairStage& stage = window.compareStation().stage();
    const auto bothThere = [&] {
        const auto other = desk.comparison.otherFrame(desk.open.frame());
        return other && stage.paintedFrames() == std::pair(desk.open.frame(), *other);
    };
    waitFor(bothThere);
    grab(window, folder / "compare.png");
    window.findChild<QToolButton*>("layInSpace")->click();
    grab(window, folder / "compare-space.png");
    window.findChild<QToolButton*>("layBeside")->click();
}

/// Homework planned, and the review film put together.
void takePlanPages(MainWindow& window, desk::Desk& desk, const std::filesystem::path& folder) {
    PlanStation& plan = window.planStation();
    plan.choosePage(PlanStation::homework);
    if (desk.library.homework(desk.visit.key()).empty()) {
        window.findChild<QPushButton*>("planHomework")->click();
    }
    grab(window, folder / "plan-homework.png");
    plan.choosePage(PlanStation::film);
    if (desk.library.reviewScript(desk.open.rep().id).empty()) {
        window.findChild<QToolButton*>("proposeFilm")->click();
    }
    auto* steps = window.findChild<QListWidget*>("filmSteps");
    auto* preview = window.findChild<FilmPreview*>("filmPreview");
    for (int i = 0; i < steps->count(); ++i) {
        if (steps->item(i)->text().contains("Work on this")) {
            steps->setCurrentRow(i);
        }
    }
    waitFor([&] { return !preview->image().isNull(); });
    grab(window, folder / "plan-film.png");
    plan.choosePage(PlanStation::sheets);
}

} // namespace

void takeWindowPicture(MainWindow& window, desk::Desk& desk, const std::filesystem::path& file) {
    openClip(window, desk, mika, "Pitch 2");
    if (desk.open.hasClip()) {
        window.benchStation().choosePosition("foot_plant");
        waitFor([&] { return !desk.open.picture(desk.open.frame()).isNull(); });
    }
    grab(window, file);
}

void takeTour(MainWindow& window, desk::Desk& desk, const std::filesystem::path& folder) {
    std::filesystem::create_directories(folder);
    window.goTo(MainWindow::squad);
    window.findChild<QListWidget*>("players")->setCurrentRow(mika);
    grab(window, folder / "squad.png");

    openClip(window, desk, juno, "Pitch 2 (not marked yet)");
    waitFor([&] { return desk.open.study().has_value(); });
    window.filmStation().choosePage(FilmStation::camera);
    grab(window, folder / "film.png");
    openClip(window, desk, mika, "Three pitches (not marked yet)");
    waitFor([&] { return desk.open.study().has_value(); });
    window.filmStation().choosePage(FilmStation::reps);
    if (desk.open.reps().size() == 1) {
        window.findChild<QPushButton*>("takeReps")->click();
        desk.open.openRep(desk.open.reps().at(1).id);
        desk.open.goTo(desk.open.rep().span->first + 90);
    }
    grab(window, folder / "film-reps.png");
    takeProposals(window, desk, folder);
    openClip(window, desk, mika, "Pitch 2");
    window.goTo(MainWindow::film);
    waitFor([&] { return desk.open.study().has_value(); });
    window.filmStation().choosePage(FilmStation::shows);
    grab(window, folder / "film-check.png");

    takeWindowPicture(window, desk, folder / "bench.png");
    auto* readings = window.findChild<QTreeWidget*>("readings");
    window.benchStation().choosePosition("release");
    for (int i = 0; i < readings->topLevelItemCount(); ++i) {
        if (readings->topLevelItem(i)->data(0, Qt::UserRole) == "release_trunk_lean") {
            emit readings->itemClicked(readings->topLevelItem(i), 0);
        }
    }
    grab(window, folder / "bench-reading.png");

    openClip(window, desk, mika, "Pitch 1");
    window.goTo(MainWindow::film);
    window.filmStation().choosePage(FilmStation::ground);
    grab(window, folder / "film-ground.png");
    window.filmStation().choosePage(FilmStation::repeats);
    auto* over = window.findChild<QComboBox*>("consistencyOver");
    over->setCurrentIndex(over->count() - 1); // all of the player's reps
    emit over->activated(over->currentIndex());
    grab(window, folder / "film-repeats.png");

    takeWindowPicture(window, desk, folder / "bench.png");
    takeComparison(window, desk, folder);
    window.goTo(MainWindow::plan);
    waitFor([&] { return window.findChild<QPushButton*>("savePdf")->isEnabled(); });
    grab(window, folder / "plan.png");
    takePlanPages(window, desk, folder);

    window.goTo(MainWindow::packs);
    PacksStation& packs = window.packsStation();
    packs.choosePack("tennis_serve");
    packs.choosePage(PacksStation::read);
    waitFor([&] { return !packs.reader().busy(); });
    packs.reader().scrollToAnchor("load");
    grab(window, folder / "packs-read.png");
    packs.choosePack("overhand_pitch");
    packs.choosePage(PacksStation::change);
    window.findChild<DocumentEditor*>()->choose(technique::Pointer("/measures/9/ranges/0"));
    grab(window, folder / "packs-change.png");
}

} // namespace kestrel::app
