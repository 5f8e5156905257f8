#include "coaching/review.h"
#include "support/test_films.h"

#include <benchmark/benchmark.h>

using namespace kestrel;

namespace {

/// A full pack on one rep with landmarks placed in every frame, readings to plan; the bar is 5 ms.
void judgeARep(benchmark::State& state) {
    const technique::Pack pack = support::pitchPack();
    model::Rep rep = support::trueRep(support::faulty().spec);
    for (auto& [frame, points] : rep.landmarks) {
        for (auto& [landmark, point] : points) {
            point.sdPx = model::placedPointSd; // exact points are not smoothed
        }
    }
    technique::Circumstances circumstances = support::openSide(support::faulty().spec);
    circumstances.bodyHeight = model::Metres(support::faulty().spec.player.build.heightM);
    for (auto _ : state) {
        benchmark::DoNotOptimize(coaching::reviewOf(pack, rep, circumstances));
    }
}

} // namespace

BENCHMARK(judgeARep)->Unit(benchmark::kMillisecond);
