#include "film/rep_finder.h"

#include <algorithm>

namespace kestrel::film {
namespace {

// Working figures, chosen on pitches, swings and serves of the synthetic player; times on the
// field.
constexpr double smoothingSeconds = 0.1;
constexpr double burstLevel = 0.4;    ///< of the way from quiet to the strongest motion
constexpr double quietLevel = 0.08;   ///< below it the player stands still
constexpr double pauseSeconds = 0.6;  ///< a stillness so short belongs to the rep (leg lift, set)
constexpr double marginSeconds = 0.3; ///< of quiet kept at both ends
constexpr double shortestSeconds = 0.15;
constexpr double quietShare = 0.2;    ///< at least so much of a clip is taken to be quiet
constexpr float leastContrast = 1.0F; ///< steps of 255; less is noise

/// Median of `energy` over a window of smoothingSeconds round each frame: a cut or a flash, one
/// frame long, leaves no trace.
std::vector<float> smoothed(std::span<const float> energy, const model::ClipTime& time) {
    std::vector<float> result(energy.size());
    std::vector<float> window;
    std::size_t from = 0;
    std::size_t to = 0;
    const auto& field = time.fieldTimes();
    for (std::size_t i = 0; i < energy.size(); ++i) {
        const model::Seconds half(smoothingSeconds / 2);
        while (to < energy.size() && field[to] <= field[i] + half) {
            ++to;
        }
        while (field[from] < field[i] - half) {
            ++from;
        }
        window.assign(energy.begin() + static_cast<std::ptrdiff_t>(from),
                      energy.begin() + static_cast<std::ptrdiff_t>(to));
        const auto middle = window.begin() + static_cast<std::ptrdiff_t>(window.size() / 2);
        std::nth_element(window.begin(), middle, window.end());
        result[i] = *middle;
    }
    return result;
}

} // namespace

std::vector<model::FrameSpan> findReps(std::span<const float> energy, const model::ClipTime& time) {
    if (energy.size() < 2 || energy.size() != time.fieldTimes().size()) {
        return {};
    }
    const std::vector<float> curve = smoothed(energy, time);
    std::vector<float> sorted = curve;
    const auto quietPlace =
        static_cast<std::ptrdiff_t>(quietShare * static_cast<double>(sorted.size()));
    std::nth_element(sorted.begin(), sorted.begin() + quietPlace, sorted.end());
    const float quiet = sorted[static_cast<std::size_t>(quietPlace)];
    const float loud = *std::max_element(curve.begin(), curve.end());
    if (loud - quiet < leastContrast) {
        return {};
    }
    const float high = quiet + static_cast<float>(burstLevel) * (loud - quiet);
    const float low = quiet + static_cast<float>(quietLevel) * (loud - quiet);
    const int last = static_cast<int>(curve.size()) - 1;
    const auto at = [&](int frame) { return curve[static_cast<std::size_t>(frame)]; };

    // From a strong frame outwards until the player has been still for longer than a pause.
    const auto reach = [&](int frame, int step) {
        int edge = frame;
        for (int f = frame; f >= 0 && f <= last; f += step) {
            if (at(f) >= low) {
                edge = f;
            } else if (std::abs(model::elapsed(time, edge, f).value) > pauseSeconds) {
                break;
            }
        }
        return edge;
    };
    std::vector<model::FrameSpan> reps;
    for (int frame = 0; frame <= last; ++frame) {
        if (at(frame) >= high) {
            const model::FrameSpan burst{reach(frame, -1), reach(frame, 1)};
            if (model::elapsed(time, burst.first, burst.last).value >= shortestSeconds) {
                reps.push_back(burst);
            }
            frame = std::max(frame, burst.last);
        }
    }
    for (std::size_t i = 0; i < reps.size(); ++i) {
        const model::Seconds margin(marginSeconds);
        const auto field = [&](int f) { return time.fieldTimes()[static_cast<std::size_t>(f)]; };
        const int earliest = i == 0 ? 0 : reps[i - 1].last + 1;
        const int latest = i + 1 < reps.size() ? (reps[i].last + reps[i + 1].first) / 2 : last;
        reps[i].first =
            std::max(earliest, model::frameAtFieldTime(time, field(reps[i].first) - margin));
        reps[i].last =
            std::min(latest, model::frameAtFieldTime(time, field(reps[i].last) + margin));
    }
    return reps;
}

} // namespace kestrel::film
