#include "app/main_window.h"
#include "app/shared/clip_map.h"
#include "app/shared/stage.h"
#include "app/theme.h"
#include "bench_films.h"
#include "desk/desk.h"
#include "records/clip_store.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cstdio>
#include <functional>
#include <random>
#include <vector>

/// How long the coach waits: from a key press or a drag in the real window to the frame painted, on
/// a 1080p film of 240 frames a second and on a 4K film. Needs a display (Xvfb does).

using namespace kestrel;

namespace {

constexpr int patienceMs = 20000;

/// Milliseconds until `done`, with the window at work; −1 when it never was.
double timeUntil(const std::function<bool()>& done) {
    QElapsedTimer clock;
    clock.start();
    while (!done()) {
        QApplication::processEvents(QEventLoop::AllEvents, 1);
        if (clock.elapsed() > patienceMs) {
            return -1.0;
        }
    }
    return static_cast<double>(clock.nsecsElapsed()) * 1e-6;
}

void pause(int ms) {
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < ms) {
        QApplication::processEvents(QEventLoop::AllEvents, 2);
    }
}

void print(const char* film, const char* what, std::vector<double> ms) {
    std::sort(ms.begin(), ms.end());
    std::printf("| %s | %s | %.1f | %.1f | %.1f |\n", film, what, ms[ms.size() / 2],
                ms[ms.size() * 95 / 100], ms.back());
    std::fflush(stdout);
}

class Bench {
  public:
    Bench(app::MainWindow& window, desk::Desk& desk, const char* film)
        : window_(window), desk_(desk), film_(film) {
        for (auto* stage : window_.findChildren<app::Stage*>()) {
            if (stage->isVisible()) {
                stage_ = stage;
            }
        }
        for (auto* map : window_.findChildren<app::ClipMap*>()) {
            if (map->isVisible()) {
                map_ = map;
            }
        }
    }

    /// Presses a key `count` times as a held key repeats, 30 a second.
    void keys(const char* what, Qt::Key key, Qt::KeyboardModifiers modifiers, int count) {
        std::vector<double> times;
        constexpr int repeatMs = 33;
        for (int i = 0; i < count; ++i) {
            const int before = desk_.open.frame();
            QElapsedTimer clock;
            clock.start();
            QTest::sendKeyEvent(QTest::Press, QApplication::focusWidget(), key, QString(),
                                modifiers);
            timeUntil([&] { return stage_->paintedFrame() == desk_.open.frame(); });
            if (desk_.open.frame() != before) { // not at an end of the film
                times.push_back(static_cast<double>(clock.nsecsElapsed()) * 1e-6);
            }
            pause(std::max(0, repeatMs - static_cast<int>(clock.elapsed())));
        }
        print(film_, what, times);
    }

    /// Drags along the map: how soon something near is shown, and how soon the exact frame.
    void drag() {
        std::vector<double> settled;
        std::vector<double> painted;
        std::mt19937 random(3);
        std::uniform_int_distribution<int> any(5, map_->width() - 5);
        for (int sweep = 0; sweep < 6; ++sweep) {
            int x = any(random);
            QTest::mousePress(map_, Qt::LeftButton, Qt::NoModifier, QPoint(x, 10));
            const int way = x < map_->width() / 2 ? 9 : -9;
            for (int i = 0; i < 25; ++i) {
                x += way;
                const QPointF at(x, 10);
                QMouseEvent move(QEvent::MouseMove, at, map_->mapToGlobal(at), Qt::NoButton,
                                 Qt::LeftButton, Qt::NoModifier);
                const int before = stage_->paints();
                QElapsedTimer clock;
                clock.start();
                QApplication::sendEvent(map_, &move);
                timeUntil([&] { return stage_->paints() > before; });
                painted.push_back(static_cast<double>(clock.nsecsElapsed()) * 1e-6);
                constexpr int moveMs = 16;
                pause(std::max(0, moveMs - static_cast<int>(clock.elapsed())));
            }
            QElapsedTimer clock;
            clock.start();
            timeUntil([&] { return stage_->paintedFrame() == desk_.open.frame(); });
            settled.push_back(static_cast<double>(clock.nsecsElapsed()) * 1e-6);
            QTest::mouseRelease(map_, Qt::LeftButton, Qt::NoModifier, QPoint(x, 10));
        }
        print(film_, "drag along the map: something near painted", painted);
        print(film_, "drag let go: the exact frame painted", settled);
    }

  private:
    app::MainWindow& window_;
    desk::Desk& desk_;
    const char* film_;
    app::Stage* stage_ = nullptr;
    app::ClipMap* map_ = nullptr;
};

void measure(app::MainWindow& window, records::Library& library, desk::Desk& desk, const char* name,
             const std::filesystem::path& film, double captureRate) {
    model::Player player;
    player.name = name;
    const model::PlayerId id = library.save(player);
    const auto stored = records::storeFilm(film, library.clipFolder());
    model::Clip clip = records::addClip(library, id, *stored, name, "overhand_pitch");
    clip.captureRate = captureRate;
    clip.view = model::View::openSide;
    library.save(clip);
    desk.open.open(clip.id);
    timeUntil([&] { return desk.open.hasClip() && desk.open.clip().id == clip.id; });
    window.goTo(app::MainWindow::bench);
    timeUntil([&] { return desk.open.study().has_value(); }); // its pass over the film is done
    desk.open.goTo(desk.open.index().frameCount() / 2);
    pause(1500);
    Bench bench(window, desk, name);
    bench.keys("step on (.)", Qt::Key_Period, Qt::NoModifier, 90);
    bench.keys("step back (,)", Qt::Key_Comma, Qt::NoModifier, 180);
    bench.keys("ten on (Shift+.)", Qt::Key_Greater, Qt::ShiftModifier, 12);
    bench.keys("ten back (Shift+,)", Qt::Key_Less, Qt::ShiftModifier, 12);
    bench.drag();
}

} // namespace

int main(int count, char** words) {
    QApplication application(count, words);
    app::applyTheme(application);
    const QTemporaryDir folder;
    records::Library library(folder.filePath("library").toStdString());
    desk::Desk desk(library, KESTREL_PACKS, [] { return *model::dayFromIso("2026-11-23"); });
    app::MainWindow window(desk);
    window.resize(1280, 800);
    window.show();
    window.activateWindow();
    pause(500);
    std::printf("| film | action | median ms | 95 %% ms | worst ms |\n|---|---|---|---|---|\n");
    measure(window, library, desk, "1080p, 240 a second", bench::fast1080p(), 240.0);
    measure(window, library, desk, "4K, 30 a second", bench::benchFilms()[3].file, 30.0);
    return 0;
}
