#include "bare_ffmpeg.h"
#include "bench_films.h"
#include "report/fonts.h"
#include "report/review_film.h"

#include <benchmark/benchmark.h>

#include <QGuiApplication>

#include <chrono>
#include <functional>
#include <stdexcept>

using namespace kestrel;

namespace {

double seconds(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

/// Writes a film of 1080p once through as a review film with a caption, and the same frames
/// decoded, scaled and encoded with bare FFmpeg.
void exportReviewFilm(benchmark::State& state) {
    static int argc = 1;
    static char name[] = "bench";
    static char* argv[] = {name, nullptr};
    qputenv("QT_QPA_PLATFORM", "offscreen");
    static const QGuiApplication gui(argc, argv); // letters are painted
    report::loadFonts();
    const std::filesystem::path file = bench::threeSecondsOf1080p();
    const film::FilmIndex index = film::buildIndex(file);
    report::ReviewFilm film;
    film.time = model::ClipTime(index.fileTimes());
    model::ScriptStep step;
    step.kind = model::ScriptStep::Kind::run;
    step.last = index.frameCount() - 1;
    step.speed = report::reviewRate / index.fileRate(); // every frame once
    step.caption = "Once more. Think: “Travel under a low roof without ducking.”";
    film.script = {step};
    const std::filesystem::path out = file.parent_path() / "review-bench.mp4";
    const std::filesystem::path bareOut = file.parent_path() / "bare-bench.mp4";
    const QSize page = report::reviewSize({index.width, index.height});
    const int height = 2 * (page.width() * index.height / index.width / 2);
    double ours = 0.0;
    double bare = 0.0;
    for (auto _ : state) {
        const double mine = seconds([&] {
            film.shown.images = report::filmImages(index);
            film.shown.fitted = report::filmImages(index, report::reviewWidth);
            report::exportReviewFilm(film, out, {});
        });
        constexpr int quality = 20;
        int frames = 0;
        bare += seconds([&] {
            frames = bench::transcode(file, bareOut, page.width(), height, page.height(),
                                      report::reviewRate, quality);
        });
        if (film::buildIndex(out).frameCount() != frames) {
            throw std::runtime_error("not the same frames");
        }
        ours += mine;
        state.SetIterationTime(mine);
    }
    state.counters["ours/bare"] = ours / bare;
}

BENCHMARK(exportReviewFilm)->UseManualTime()->Iterations(3)->Unit(benchmark::kMillisecond);

} // namespace
