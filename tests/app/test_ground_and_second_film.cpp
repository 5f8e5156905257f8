#include "window/window_driver.h"

#include "app/film/film_station.h"
#include "film/sound.h"
#include "support/commands.h"
#include "synth/film_edit.h"
#include "synth/placed_by_hand.h"
#include "synth/truth.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QTabWidget>
#include <QTemporaryDir>

using namespace kestrel;
using support::operator""_day;
namespace fs = std::filesystem;

namespace {

QString text(const fs::path& file) {
    return QString::fromStdString(file.string());
}

} // namespace

/// What tells metres and space on the Film station, through the real window: marks on the ground, a
/// known length, a second film.
class TestGroundAndSecondFilm : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void init();
    void theGroundIsMarkedAndMeasured();
    void aKnownLengthTellsHowTallThePlayerIs();
    void twoFilmsAreMatchedByTheirSound();
    void aSecondFilmGivesReadingsInSpace();

  private:
    void page(app::FilmStation::Page page) {
        window_->find<QTabWidget>("filmPages")->setCurrentIndex(page);
        QApplication::processEvents();
    }
    fs::path in(const char* name) const { return folder_->filePath(name).toStdString(); }
    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<support::Window> window_;
};

void TestGroundAndSecondFilm::initTestCase() {
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
}

void TestGroundAndSecondFilm::init() {
    window_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    window_ = std::make_unique<support::Window>(in("library"));
}

void TestGroundAndSecondFilm::theGroundIsMarkedAndMeasured() {
    const model::ClipId clip = support::addMarkedClip(*window_, support::rightHander());
    window_->desk().open.open(clip);
    window_->waitForPicture();
    window_->main().goTo(app::MainWindow::film);
    page(app::FilmStation::ground);
    const synth::FilmScene scene(support::rightHander().spec);
    const auto click = [&](double x, double y) {
        window_->clickPicture(*scene.steadyCamera().project({x, y, 0.0}));
        QApplication::processEvents();
    };
    auto* place = window_->find<QComboBox>("groundPlace");
    place->setCurrentIndex(place->findData("rectangle"));
    emit place->activated(place->currentIndex());
    for (const auto& [name, metres] : {std::pair{"groundAlong", 2.4}, {"groundAcross", 2.0}}) {
        auto* size = window_->find<QDoubleSpinBox>(name);
        size->setValue(metres);
        emit size->editingFinished();
    }
    QVERIFY(window_->text("groundAsked").contains("rear right corner"));
    click(-0.6, -1.0);
    QVERIFY(window_->text("groundAsked").contains("rear left corner"));
    click(-0.6, 1.0);
    click(1.8, 1.0);
    QVERIFY(window_->text("groundResult").contains("3 of at least 4"));
    click(1.8, -1.0);
    QVERIFY2(window_->text("groundResult").contains("The marks fit within"),
             qPrintable(window_->text("groundResult")));
    QVERIFY(window_->desk().open.circumstances().ground.has_value());

    // Over the ground between two spots.
    window_->press("groundMeasure");
    click(0.0, 0.3);
    click(1.5, 0.3);
    const double metres = window_->text("groundMeasured").section(' ', 0, 0).toDouble();
    QVERIFY2(std::abs(metres - 1.5) < 0.06, qPrintable(window_->text("groundMeasured")));
    window_->press("groundMeasure");

    // A straight edge: the far side line of cones on the grass, click by click.
    window_->press("groundEdge");
    QVERIFY(window_->text("groundAsked").contains("straight on the field"));
    for (const double x : {-1.5, -0.5, 0.5, 1.5}) {
        click(x, 1.6);
    }
    QVERIFY(window_->text("groundAsked").contains("along the same edge"));
    QVERIFY2(window_->text("groundResult").contains("the lens moves the picture's corners by"),
             qPrintable(window_->text("groundResult")));
    QCOMPARE(window_->library().clip(clip)->ground->straightEdges.size(), 1U);
    QCOMPARE(window_->desk().open.clip().ground->straightEdges.front().size(), 4U);
    window_->press("groundEdge");
    for (int i = 0; i < 4; ++i) {
        window_->press("undo");
    }
    QVERIFY(window_->desk().open.clip().ground->straightEdges.empty());

    // What is read on the ground is read now, on the Bench too; and it is on disk.
    const auto stride = [&] {
        return support::reading(window_->desk().open.review().readings, "plant_stride_metres");
    };
    QVERIFY(stride().value.has_value());
    QCOMPARE(window_->library().clip(clip)->ground->points.size(), std::size_t{4});
    window_->press("undo");
    QVERIFY(!stride().value.has_value());
    QVERIFY(window_->text("groundAsked").contains("front right corner"));
    window_->press("redo");
    QVERIFY(stride().value.has_value());

    // Mixed up: said, and nothing is read.
    window_->press("groundClear");
    click(-0.6, -1.0);
    click(1.8, 1.0);
    click(-0.6, 1.0);
    click(1.8, -1.0);
    QVERIFY2(window_->text("groundResult").contains("No camera sees this place so"),
             qPrintable(window_->text("groundResult")));
    QVERIFY(!stride().value.has_value());
    place->setCurrentIndex(0);
    emit place->activated(0);
    QVERIFY(!window_->desk().open.clip().ground);
}

void TestGroundAndSecondFilm::aKnownLengthTellsHowTallThePlayerIs() {
    const model::ClipId clip = support::addMarkedClip(*window_, support::rightHander());
    const model::Rep truth = support::trueRep(support::rightHander().spec);
    model::Rep rep = window_->library().reps(clip).front();
    rep.positions = truth.positions;
    rep.landmarks = truth.landmarks;
    for (auto& [frame, points] : rep.landmarks) {
        for (auto& [landmark, point] : points) {
            point.sdPx = 1.0;
        }
    }
    window_->library().save(rep);
    window_->desk().open.open(clip);
    window_->waitForPicture();
    window_->main().goTo(app::MainWindow::film);
    page(app::FilmStation::ground);
    auto* place = window_->find<QComboBox>("groundPlace");
    place->setCurrentIndex(place->findData("length"));
    emit place->activated(place->currentIndex());
    QVERIFY(!window_->find("groundAcross")->isVisible());
    QVERIFY(!window_->find("groundGrid")->isVisible());
    auto* length = window_->find<QDoubleSpinBox>("groundAlong");
    length->setValue(0.84);
    emit length->editingFinished();
    QVERIFY(window_->text("groundAsked").contains("one end"));
    const synth::FilmScene scene(support::rightHander().spec);
    for (const double x : {-0.2, 0.64}) {
        window_->clickPicture(*scene.steadyCamera().project({x, 0.0, 1.0}));
        QApplication::processEvents();
    }
    const QString said = window_->text("groundResult");
    QVERIFY2(said.contains("At the player 100 pixels are") && said.contains("m tall"),
             qPrintable(said));
    const double tall = said.section("is about ", 1, 1).section(' ', 0, 0).toDouble();
    const double truly = support::rightHander().spec.player.build.heightM;
    QVERIFY2(std::abs(tall - truly) < 0.08 * truly, qPrintable(said));
    QCOMPARE(window_->library().clip(clip)->ground->placeId, std::string("length"));
    QVERIFY(window_->desk().open.circumstances().scale.has_value());
    window_->press("undo");
    QVERIFY(!window_->desk().open.circumstances().scale.has_value());
    QVERIFY(window_->text("groundAsked").contains("other end"));
    place->setCurrentIndex(0);
    emit place->activated(0);
    QVERIFY(!window_->desk().open.clip().ground);
}

void TestGroundAndSecondFilm::twoFilmsAreMatchedByTheirSound() {
    // Five knocks at uneven times; the second film hears them 0.3 s later.
    const auto heard = [&](double later, const char* sound, const char* name) {
        std::vector<float> samples(4 * film::soundRate, 0.0F);
        for (const double knock : {0.6, 1.1, 1.9, 2.2, 3.1}) {
            const auto start = static_cast<std::size_t>((knock + later) * film::soundRate);
            for (std::size_t i = 0; i < 2000; ++i) {
                samples[start + i] =
                    0.7F * static_cast<float>(std::exp(-static_cast<double>(i) / 500) *
                                              std::sin(0.2 * static_cast<double>(i)));
            }
        }
        film::writeWav(samples, in(sound));
        support::makeFilm({"-f", "lavfi", "-i", "testsrc2=size=64x64:rate=30:duration=4", "-i",
                           text(in(sound)), "-c:v", "libx264", "-c:a", "aac"},
                          in(name));
    };
    heard(0.0, "one.wav", "one.mp4");
    heard(0.3, "other.wav", "other.mp4");
    desk::Desk& desk = window_->desk();
    model::Player player;
    player.name = "Two Films";
    player.id = window_->library().save(player);
    std::vector<model::ClipId> clips;
    for (const char* name : {"one.mp4", "other.mp4"}) {
        const auto stored = records::storeFilm(in(name), window_->library().clipFolder());
        model::Clip clip =
            records::addClip(window_->library(), player.id, *stored, name, "overhand_pitch");
        clip.captureRate = 30.0;
        clip.filmed = "2026-11-01"_day;
        window_->library().save(clip);
        clips.push_back(clip.id);
    }
    desk.open.open(clips[0]);
    window_->waitForPicture();
    window_->main().goTo(app::MainWindow::film);
    page(app::FilmStation::camera);
    QVERIFY(!window_->find("secondSound")->isVisible());
    auto* second = window_->find<QComboBox>("secondView");
    second->setCurrentIndex(1);
    emit second->activated(1);
    QTRY_VERIFY(window_->find("secondSound")->isVisible());
    window_->press("secondSound");
    QTRY_VERIFY2(window_->text("secondViewState").contains("the other film began 0.30"),
                 qPrintable(window_->text("secondViewState")));
    QVERIFY(window_->text("secondViewState").contains("earlier"));
    const auto step = window_->library().syncOffset(clips[0]);
    QVERIFY(step && std::abs(step->seconds - 0.3) < 0.003);
    // The other way round, undone, and by key positions again.
    QCOMPARE(window_->library().syncOffset(clips[1])->seconds, -step->seconds);
    window_->press("undo");
    QVERIFY(!window_->library().syncOffset(clips[0]));
    window_->press("redo");
    QVERIFY(window_->find<QPushButton>("secondSound")->text().contains("key positions"));
    window_->press("secondSound");
    QVERIFY(!window_->library().syncOffset(clips[0]));
    // Slowed down, sound and pictures need not go together.
    model::Clip slow = *window_->library().clip(clips[1]);
    slow.captureRate = 240.0;
    window_->library().save(slow);
    window_->press("secondSound");
    QVERIFY(window_->problem().contains("plays slower"));
}

void TestGroundAndSecondFilm::aSecondFilmGivesReadingsInSpace() {
    // The same pitch from the front, small.
    synth::FilmSpec front = support::rightHander().spec;
    front.camera.view = model::View::front;
    front.camera.heightM = 2.0;
    front.camera.distanceM = 9.0;
    QVERIFY(synth::renderFilm(synth::FrameRenderer(front), in("front.mp4")));
    desk::Desk& desk = window_->desk();
    const model::ClipId side = support::addMarkedClip(*window_, support::rightHander());
    const auto stored = records::storeFilm(in("front.mp4"), window_->library().clipFolder());
    model::Clip other =
        records::addClip(window_->library(), window_->library().clip(side)->playerId, *stored,
                         "From the front", "overhand_pitch");
    other.captureRate = front.captureRate;
    other.view = model::View::front;
    other.filmed = window_->library().clip(side)->filmed;
    window_->library().save(other);
    const auto mark = [&](model::Clip clip, const synth::FilmSpec& spec) {
        std::mt19937 exact;
        clip.ground = synth::cones(synth::FilmScene(spec), model::Metres(2.4), model::Metres(2.0),
                                   -0.8, -1.0, 0.0, exact);
        window_->library().save(clip);
        model::Rep rep = window_->library().reps(clip.id).front();
        const model::Rep truth = support::trueRep(spec);
        rep.positions = truth.positions;
        for (const auto& [id, frame] : rep.positions) {
            rep.landmarks[frame] = truth.landmarks.at(frame);
            for (auto& [landmark, point] : rep.landmarks[frame]) {
                point.sdPx = 0.5;
            }
        }
        window_->library().save(rep);
    };
    desk.open.open(side);
    window_->waitForPicture();
    window_->main().goTo(app::MainWindow::film);
    page(app::FilmStation::camera);
    auto* second = window_->find<QComboBox>("secondView");
    QCOMPARE(second->count(), 2);
    second->setCurrentIndex(1);
    emit second->activated(1);
    QTRY_VERIFY2(window_->text("secondViewState").contains("Mark the ground"),
                 qPrintable(window_->text("secondViewState")));
    mark(*window_->library().clip(side), support::rightHander().spec);
    mark(other, front);
    desk.open.open(side);
    window_->waitForPicture();
    QTRY_VERIFY2(window_->text("secondViewState").contains("come from both films"),
                 qPrintable(window_->text("secondViewState")));
    const auto knee = [&] {
        const auto& readings = desk.open.review().readings;
        return *std::find_if(readings.begin(), readings.end(),
                             [](const auto& r) { return r.measureId == "plant_separation"; });
    };
    QVERIFY((knee().from == model::ReadFrom::twoFilms));
    const auto truth =
        synth::trueMeasures(synth::FilmScene(support::rightHander().spec)).at("plant_separation");
    QVERIFY2(std::abs(*knee().value - truth) < 4.0, std::to_string(*knee().value).c_str());
    // Films without sound are not matched by it, and that is said.
    window_->press("secondSound");
    QVERIFY(window_->problem().contains("gives no sound"));
    QVERIFY(!window_->library().syncOffset(side));
    QTRY_VERIFY(window_->find("secondSound")->isEnabled());
    // Said of one, it holds for both; and it can be taken back.
    QCOMPARE(window_->library().pairOf(other.id), std::optional(side));
    second->setCurrentIndex(0);
    emit second->activated(0);
    QVERIFY(!(knee().from == model::ReadFrom::twoFilms));
    QVERIFY(!window_->library().pairOf(other.id));
    window_->press("undo");
    QVERIFY((knee().from == model::ReadFrom::twoFilms));
}

QTEST_MAIN(TestGroundAndSecondFilm)
#include "test_ground_and_second_film.moc"
