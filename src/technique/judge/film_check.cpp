#include "technique/judge/film_check.h"

#include "model/clip_time.h"
#include "model/landmark.h"
#include "model/reading.h"
#include "technique/kinds/measure_kind.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kestrel::technique {
namespace {

/// Between two frames that are no farther apart than so many times the position's duration, both
/// still show something close to it.
constexpr double bracketing = 4.0;

/// Width of the range that a timing is judged by, in its own unit; a range with one limit counts as
/// wide as that limit lies from zero on both sides.
std::optional<double> rangeWidth(const Measure& measure) {
    std::optional<double> narrowest;
    for (const MeasureRange& range : measure.ranges) {
        const auto& [low, high] = range.good;
        const double width =
            low && high ? *high - *low : 2.0 * std::abs(low.value_or(high.value_or(0.0)));
        if (width > 0.0 && (!narrowest || width < *narrowest)) {
            narrowest = width;
        }
    }
    return narrowest;
}

TimingShown timingShown(const Measure& measure, double interval) {
    TimingShown timing;
    timing.measureId = measure.id;
    const double scale = measure.unit == model::Unit::milliseconds ? 1000.0 : 1.0;
    // Two instants, each uniform over one interval, as evaluate() counts them.
    timing.u95 = model::coverage95 * scale * interval * std::sqrt(2.0 / 12.0);
    // Inside and outside can both be told when the interval takes up less than half of the range.
    const auto width = rangeWidth(measure);
    const bool sure = !width || 2.0 * timing.u95 <= *width / 2.0;
    const bool rough = !width || 2.0 * timing.u95 <= 2.0 * *width;
    timing.shown = sure ? Shown::readable : rough ? Shown::bracketed : Shown::notSeen;
    return timing;
}

double degrees(double radians) {
    return radians * 180.0 / std::numbers::pi;
}

} // namespace

model::Message nameOf(Shown shown) {
    return model::message(shown == Shown::readable    ? "shown.readable"
                          : shown == Shown::bracketed ? "shown.bracketed"
                                                      : "shown.not_seen");
}

BlurCost blurCost(const Filming::Fastest& fastest, const FilmFacts& facts, double exposure) {
    BlurCost cost;
    const double pxPerSecond = fastest.speedBhS * facts.playerHeightPx;
    cost.pxBetweenFrames = pxPerSecond * facts.frameInterval;
    cost.px = pxPerSecond * exposure;
    cost.degrees =
        degrees(std::atan(fastest.speedBhS * exposure / std::sqrt(12.0) / fastest.segmentBh));
    return cost;
}

double exposureForBlur(const Filming::Fastest& fastest, double degrees) {
    return std::tan(degrees * std::numbers::pi / 180.0) * fastest.segmentBh * std::sqrt(12.0) /
           fastest.speedBhS;
}

FilmCheck checkFilm(const Pack& pack, const FilmFacts& facts) {
    FilmCheck check;
    const Filming::Fastest& fastest = pack.filming.fastest;
    if (facts.playerHeightPx > 0.0) {
        check.placingDegrees = degrees(std::atan(std::numbers::sqrt2 * model::placedPointSd /
                                                 (fastest.segmentBh * facts.playerHeightPx)));
    }
    if (facts.frameInterval <= 0.0) {
        return check;
    }
    for (const Position& position : pack.positions) {
        const double frames = position.lastsMs / 1000.0 / facts.frameInterval;
        check.positions.push_back({position.id, frames,
                                   frames >= 1.0                ? Shown::readable
                                   : frames * bracketing >= 1.0 ? Shown::bracketed
                                                                : Shown::notSeen});
    }
    for (const Measure& measure : pack.measures) {
        if (measure.kind->as<TimeKind>() != nullptr) {
            check.timings.push_back(timingShown(measure, facts.frameInterval));
        }
    }
    check.blurOpen = blurCost(fastest, facts, facts.frameInterval);
    return check;
}

} // namespace kestrel::technique
