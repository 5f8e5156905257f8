#include "bench_films.h"
#include "film/picture_reader.h"
#include "pose/network.h"
#include "pose/pose_files.h"
#include "pose/pose_network.h"
#include "pose/pose_region.h"
#include "prepare/machine_marks.h"
#include "support/test_films.h"
#include "track/camera/film_study.h"
#include "track/person/evidence.h"

#include <benchmark/benchmark.h>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

#include <algorithm>
#include <chrono>
#include <thread>

using namespace kestrel;

namespace {

using Clock = std::chrono::steady_clock;

double since(Clock::time_point start) {
    return std::chrono::duration<double>(Clock::now() - start).count();
}

/// Seconds that the heavy network alone and Lucas–Kanade alone (there and back, as many points as a
/// player has landmarks) need for every frame; decoding and all that is thought about them is left
/// out.
double bareNetworkAndFlow(const film::FilmIndex& index) {
    constexpr std::array wanted{0, 1, 3};
    constexpr int side = 256;
    constexpr int window = 21;
    constexpr int levels = 4;
    constexpr int landmarks = 20;
    pose::Network network(
        pose::readNetwork(pose::poseFile(pose::poseDirectory(), pose::PoseSize::heavy), wanted),
        static_cast<int>(std::max(1U, std::thread::hardware_concurrency())));
    film::PictureReader pictures(index);
    const pose::PoseRegion middle{{0.5 * index.width, 0.5 * index.height}, 0.9 * index.height, 0.0};
    double total = 0.0;
    std::vector<cv::Mat> before;
    for (int frame = 0; frame < index.frameCount(); ++frame) {
        film::Picture picture = pictures.read(frame);
        const auto start = Clock::now();
        pose::cutOut(picture, middle, side, 0.0F, 1.0F, network.input());
        network.run();
        cv::Mat gray;
        cv::cvtColor(cv::Mat(picture.height, picture.width, CV_8UC4, picture.pixels.data()), gray,
                     cv::COLOR_BGRA2GRAY);
        std::vector<cv::Mat> now;
        cv::buildOpticalFlowPyramid(gray, now, {window, window}, levels);
        if (!before.empty()) {
            std::vector<cv::Point2f> from;
            for (int i = 0; i < landmarks; ++i) {
                from.emplace_back(static_cast<float>(middle.centre.x + 12.0 * (i - landmarks / 2)),
                                  static_cast<float>(middle.centre.y + 8.0 * (i - landmarks / 2)));
            }
            std::vector<cv::Point2f> to;
            std::vector<cv::Point2f> back;
            std::vector<std::uint8_t> found;
            std::vector<float> error;
            cv::calcOpticalFlowPyrLK(before, now, from, to, found, error, {window, window}, levels);
            cv::calcOpticalFlowPyrLK(now, before, to, back, found, error, {window, window}, levels);
            benchmark::DoNotOptimize(back.data());
        }
        total += since(start);
        before.swap(now);
    }
    return total;
}

/// All that the machine does by itself for three seconds of 1080p at 60 frames a second, decoding
/// included: first pass over the film, player, landmarks, key positions. The bar is 1.4.
void proposeForAClip(benchmark::State& state) {
    const film::FilmIndex index = film::buildIndex(bench::threeSecondsOf1080p());
    const technique::Pack pack = support::pitchPack();
    technique::Circumstances around = support::openSide(support::rightHander().spec);
    around.time = model::ClipTime(index.fileTimes(), 1.0);
    double ours = 0.0;
    double bare = 0.0;
    for (auto _ : state) {
        const auto start = Clock::now();
        const model::FilmStudy study = track::studyFilm(index).value();
        track::SubjectSeed seed;
        seed.frame = index.frameCount() / 2;
        seed.mover = study.mover;
        const model::FrameSpan whole{0, index.frameCount() - 1};
        const auto evidence =
            track::gatherEvidence(index, whole, seed, pose::poseDirectory(), pose::PoseSize::heavy);
        model::Rep rep;
        rep.span = whole;
        benchmark::DoNotOptimize(prepare::marksFrom(*evidence, pack, rep, around));
        const double mine = since(start);
        ours += mine;
        bare += bareNetworkAndFlow(index);
        state.SetIterationTime(mine);
    }
    state.counters["ours/bare"] = ours / bare;
}

} // namespace

BENCHMARK(proposeForAClip)->UseManualTime()->Iterations(2)->Unit(benchmark::kMillisecond);
