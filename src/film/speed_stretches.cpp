#include "film/film_index.h"

#include <algorithm>

namespace kestrel::film {
namespace {

/// Frames at a steady distance from each other.
struct Run {
    int first = 0;
    int intervals = 0;
    double length = 0.0; ///< file seconds in all

    [[nodiscard]] double interval() const { return length / intervals; }
};

constexpr double steady = 0.2;        ///< relative difference that still counts as steady
constexpr double shortestRun = 0.1;   ///< file seconds
constexpr int fewestIntervals = 5;    ///< less is a hiccup of the camera
constexpr double clearlySlower = 1.5; ///< ratio of distances that means another speed

std::vector<Run> steadyRuns(const FilmIndex& index) {
    std::vector<Run> runs;
    for (int frame = 0; frame + 1 < index.frameCount(); ++frame) {
        const double gap = (index.seconds(frame + 1) - index.seconds(frame)).value;
        if (!runs.empty() &&
            std::abs(gap - runs.back().interval()) <= steady * runs.back().interval()) {
            ++runs.back().intervals;
            runs.back().length += gap;
        } else {
            runs.push_back({frame, 1, gap});
        }
    }
    std::erase_if(runs, [](const Run& run) {
        return run.intervals < fewestIntervals || run.length < shortestRun;
    });
    return runs;
}

} // namespace

std::vector<model::SpeedStretch> speedStretches(const FilmIndex& index) {
    if (!index.variableRate || index.timesCounted) {
        return {};
    }
    const std::vector<Run> runs = steadyRuns(index);
    if (runs.empty()) {
        return {};
    }
    const double shortest =
        std::min_element(runs.begin(), runs.end(), [](const Run& a, const Run& b) {
            return a.interval() < b.interval();
        })->interval();
    std::vector<model::SpeedStretch> stretches;
    for (const Run& run : runs) {
        const double slowdown = run.interval() / shortest;
        const bool changed = stretches.empty() ||
                             slowdown > clearlySlower * stretches.back().slowdown ||
                             stretches.back().slowdown > clearlySlower * slowdown;
        if (changed) {
            stretches.push_back({stretches.empty() ? 0 : run.first, slowdown});
        }
    }
    return stretches.size() < 2 ? std::vector<model::SpeedStretch>{} : stretches;
}

} // namespace kestrel::film
