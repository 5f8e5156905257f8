#include "coaching/review.h"
#include "support/test_films.h"

#include <benchmark/benchmark.h>

using namespace kestrel;

namespace {

/// A full pack on one rep, readings to plan; the bar is 5 ms.
void judgeARep(benchmark::State& state) {
    const technique::Pack pack = support::pitchPack();
    const model::Rep rep = support::trueRep(support::faulty().spec);
    const technique::Circumstances circumstances = support::openSide(support::faulty().spec);
    for (auto _ : state) {
        benchmark::DoNotOptimize(coaching::reviewOf(pack, rep, circumstances, {}));
    }
}

} // namespace

BENCHMARK(judgeARep)->Unit(benchmark::kMillisecond);
