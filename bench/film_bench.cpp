#include "bare_ffmpeg.h"
#include "bench_films.h"
#include "film/frame_reader.h"
#include "film/frame_server.h"
#include "film/picture_reader.h"

#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <fstream>
#include <functional>
#include <random>

using namespace kestrel;

namespace {

double seconds(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
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

void openAClip(benchmark::State& state, const std::filesystem::path& film) {
    compare(
        state, [&] { film::buildIndex(film); }, [&] { bench::readPackets(film); });
}

void playThrough(benchmark::State& state, const std::filesystem::path& film) {
    const film::FilmIndex index = film::buildIndex(film);
    compare(
        state,
        [&] {
            film::PictureReader reader(index);
            for (int frame = 0; frame < index.frameCount(); ++frame) {
                benchmark::DoNotOptimize(reader.read(frame));
            }
        },
        [&] { bench::decodeAll(film); });
    state.counters["speed of bare"] = 1.0 / state.counters["ours/bare"];
}

void landOnAnyFrame(benchmark::State& state, const std::filesystem::path& film) {
    const film::FilmIndex index = film::buildIndex(film);
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
            bench::decodeFromKeyFrame(film, index.frames[static_cast<std::size_t>(frame)].pts);
        });
}

/// Delivers frames of a server one at a time.
class Wishes {
  public:
    Wishes(const film::FilmIndex& index, const std::shared_ptr<film::FrameCache>& cache)
        : server_(
              index,
              [this](int frame, const film::PicturePtr&, const std::exception_ptr&) {
                  const std::lock_guard lock(mutex_);
                  arrived_ = frame;
                  came_.notify_all();
              },
              cache) {}

    void get(int frame) {
        std::unique_lock lock(mutex_);
        arrived_ = -1;
        lock.unlock();
        server_.want(frame);
        lock.lock();
        came_.wait(lock, [&] { return arrived_ == frame; });
    }

  private:
    std::mutex mutex_;
    std::condition_variable came_;
    int arrived_ = -1;
    film::FrameServer server_;
};

/// From the wish to the picture, stepping back as fast as a key repeats (30 a second).
void stepBack(benchmark::State& state, const std::filesystem::path& film) {
    const film::FilmIndex index = film::buildIndex(film);
    auto cache = std::make_shared<film::FrameCache>(film::FrameServer::bytesForFrames);
    Wishes wishes(index, cache);
    int frame = index.frameCount() - 1;
    wishes.get(frame);
    std::vector<double> times;
    for (auto _ : state) {
        frame = frame == 0 ? index.frameCount() - 1 : frame - 1;
        const double time = seconds([&] { wishes.get(frame); });
        times.push_back(1000.0 * time);
        state.SetIterationTime(time);
        std::this_thread::sleep_for(std::chrono::milliseconds(33));
    }
    std::sort(times.begin(), times.end());
    state.counters["median ms"] = times[times.size() / 2];
    state.counters["95 % ms"] = times[times.size() * 95 / 100];
}

/// Memory of the process in MB, from the kernel's own count.
double residentMegabytes() {
    std::ifstream status("/proc/self/status");
    std::string word;
    while (status >> word) {
        if (word == "VmRSS:") {
            double kilobytes = 0.0;
            status >> kilobytes;
            return kilobytes / 1024.0;
        }
    }
    return 0.0;
}

/// A ten-minute 4K clip opened, jumped about in and stepped through.
void memoryOfALongClip(benchmark::State& state) {
    const film::FilmIndex index = film::buildIndex(bench::tenMinutesOf4K());
    double most = 0.0;
    std::mt19937 random(5);
    std::uniform_int_distribution<int> any(0, index.frameCount() - 1);
    auto cache = std::make_shared<film::FrameCache>(film::FrameServer::bytesForFrames);
    Wishes wishes(index, cache);
    for (auto _ : state) {
        int frame = any(random);
        for (int step = 0; step < 6; ++step) {
            wishes.get(frame);
            most = std::max(most, residentMegabytes());
            frame = std::max(0, frame + (step % 2 == 0 ? 1 : -2));
        }
    }
    state.counters["MB at most"] = most;
    state.counters["MB over the bound"] =
        most - static_cast<double>(film::FrameServer::defaultCacheBytes >> 20U);
    state.counters["frames"] = index.frameCount();
}

const int registered = [] {
    using benchmark::RegisterBenchmark;
    constexpr int landings = 8;
    for (const bench::BenchFilm& film : bench::benchFilms()) {
        const auto name = [&](const char* work) { return work + ("/" + film.name); };
        RegisterBenchmark(name("openAClip").c_str(), openAClip, film.file)
            ->UseManualTime()
            ->Iterations(20)
            ->Unit(benchmark::kMillisecond);
        RegisterBenchmark(name("playThrough").c_str(), playThrough, film.file)
            ->UseManualTime()
            ->Iterations(3)
            ->Unit(benchmark::kMillisecond);
        RegisterBenchmark(name("landOnAnyFrame").c_str(), landOnAnyFrame, film.file)
            ->UseManualTime()
            ->Iterations(landings)
            ->Unit(benchmark::kMillisecond);
        RegisterBenchmark(name("stepBack").c_str(), stepBack, film.file)
            ->UseManualTime()
            ->Iterations(film.name.ends_with("4k") ? 40 : 100)
            ->Unit(benchmark::kMillisecond);
    }
    RegisterBenchmark("memoryOfALongClip", memoryOfALongClip)
        ->Iterations(8)
        ->Unit(benchmark::kMillisecond);
    return 0;
}();

} // namespace
