#include "bare_ffmpeg.h"
#include "film/frame_reader.h"
#include "film/picture.h"
#include "support/test_films.h"

#include <benchmark/benchmark.h>

#include <chrono>
#include <functional>
#include <random>

using namespace kestrel;

namespace {

double seconds(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

std::filesystem::path film() {
    return support::filmFile(support::rightHander());
}

/// Runs ours and the bare libraries' in turn, so that both see the same machine.
void compare(benchmark::State& state, const std::function<void()>& ours,
             const std::function<void()>& bare) {
    double oursTotal = 0.0;
    double bareTotal = 0.0;
    for (auto _ : state) {
        const double mine = seconds(ours);
        oursTotal += mine;
        bareTotal += seconds(bare);
        state.SetIterationTime(mine);
    }
    state.counters["ours/bare"] = oursTotal / bareTotal;
}

void openAClip(benchmark::State& state) {
    compare(
        state, [] { film::buildIndex(film()); }, [] { bench::readPackets(film()); });
}

void playThrough(benchmark::State& state) {
    const film::FilmIndex index = film::buildIndex(film());
    compare(
        state,
        [&] {
            film::FrameReader reader(index);
            film::PictureMaker maker(index);
            for (int frame = 0; frame < index.frameCount(); ++frame) {
                benchmark::DoNotOptimize(maker.make(reader.read(frame)));
            }
        },
        [] { bench::decodeAll(film()); });
}

void landOnAnyFrame(benchmark::State& state) {
    const film::FilmIndex index = film::buildIndex(film());
    std::mt19937 random(3);
    std::uniform_int_distribution<int> any(0, index.frameCount() - 1);
    int frame = 0;
    compare(
        state,
        [&] {
            frame = any(random);
            film::FrameReader reader(index);
            benchmark::DoNotOptimize(&reader.read(frame));
        },
        [&] {
            bench::decodeFromKeyFrame(film(), index.frames[static_cast<std::size_t>(frame)].pts);
        });
}

} // namespace

BENCHMARK(openAClip)->UseManualTime()->Unit(benchmark::kMillisecond);
BENCHMARK(playThrough)->UseManualTime()->Unit(benchmark::kMillisecond);
BENCHMARK(landOnAnyFrame)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(40);
