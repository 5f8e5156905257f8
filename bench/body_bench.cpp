#include "body/fit.h"
#include "body/fit_again.h"
#include "study/body_population.h"

#include <benchmark/benchmark.h>

using namespace kestrel;

namespace {

/// A pitch of some three seconds, followed by a machine, at 60 instants a second.
body::SeenRep trackedPitch() {
    synth::FilmSpec spec;
    spec.player.technique = "overhand_pitch";
    spec.width = 1920;
    spec.height = 1080;
    spec.captureRate = 60;
    spec.fileRate = {60, 1};
    spec.camera.view = model::View::openSide;
    spec.camera.distanceM = 8.0;
    spec.camera.heightM = 1.4;
    return study::seenRep(synth::FilmScene(spec), study::Landmarks::tracked, 9);
}

void searchForABody(benchmark::State& state) {
    const body::SeenRep rep = trackedPitch();
    for (auto _ : state) {
        benchmark::DoNotOptimize(body::fitBody(rep));
    }
}

/// After the coach has moved one landmark.
void goOnFromABody(benchmark::State& state) {
    body::SeenRep rep = trackedPitch();
    const auto before = body::fitBody(rep);
    body::SeenInstant& instant = rep.instants[rep.instants.size() / 2];
    body::Seen& wrist = instant.points.at(model::Landmark::rightWrist);
    constexpr double aside = 10.0; // pixels
    wrist = {wrist.px + model::Point2{aside, 0.0}, 1.5, 0.0, 0.0, true, wrist.nearer};
    instant.wanted = true;
    for (auto _ : state) {
        benchmark::DoNotOptimize(body::fitAgain(rep, *before));
    }
}

} // namespace

BENCHMARK(searchForABody)->Unit(benchmark::kMillisecond)->Iterations(1)->UseRealTime();
BENCHMARK(goOnFromABody)->Unit(benchmark::kMillisecond)->Iterations(5)->UseRealTime();
