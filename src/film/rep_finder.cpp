#include "film/rep_finder.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace kestrel::film {
namespace {

// Working figures, chosen on pitches, swings and serves of the synthetic player; times on the
// field.
constexpr double smoothingSeconds = 0.1;
constexpr double loudSeconds = 0.25;  ///< what lasts less, a ball past the lens, is not the player
constexpr double burstLevel = 0.4;    ///< of the way from quiet to the strongest motion
constexpr double quietLevel = 0.08;   ///< below it the player stands still
constexpr double pauseSeconds = 0.6;  ///< a stillness so short belongs to the rep (leg lift, set)
constexpr double marginSeconds = 0.3; ///< of quiet kept at both ends
constexpr double shortestSeconds = 0.15;
constexpr double quietShare = 0.2;    ///< at least so much of a clip is taken to be quiet
constexpr float leastContrast = 1.0F; ///< steps of 255; less is noise

/// Median of `energy` over a window of so many seconds round each frame: what lasts less than half
/// of them leaves no trace.
std::vector<float> smoothed(std::span<const float> energy, const model::ClipTime& time,
                            double seconds) {
    std::vector<float> result(energy.size());
    std::vector<float> window;
    std::size_t from = 0;
    std::size_t to = 0;
    const auto& field = time.fieldTimes();
    for (std::size_t i = 0; i < energy.size(); ++i) {
        const model::Seconds half(seconds / 2);
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

/// The takes of a film: the frames between its cuts and dark stretches.
std::vector<model::FrameSpan> takesOf(const model::FilmStudy& study) {
    std::vector<model::FrameSpan> takes;
    int first = 0;
    const auto until = [&](int last) {
        if (last >= first) {
            takes.push_back({first, last});
        }
    };
    for (const model::FilmBreak& b : study.breaks) {
        if (b.kind == model::FilmBreak::Kind::cut) {
            until(b.span.first);
            first = b.span.last;
        } else if (b.kind == model::FilmBreak::Kind::dark) {
            until(b.span.first - 1);
            first = b.span.last + 1;
        }
    }
    until(static_cast<int>(study.energy.size()) - 1);
    return takes;
}

bool isHeld(const model::FilmStudy& study, int frame) {
    return std::any_of(study.breaks.begin(), study.breaks.end(), [&](const model::FilmBreak& b) {
        return b.kind == model::FilmBreak::Kind::still && b.span.contains(frame);
    });
}

} // namespace

std::vector<model::FrameSpan> findReps(const model::FilmStudy& study, const model::ClipTime& time) {
    const std::vector<float>& energy = study.energy;
    if (energy.size() < 2 || energy.size() != time.fieldTimes().size()) {
        return {};
    }
    const std::vector<float> curve = smoothed(energy, time, smoothingSeconds);
    std::vector<float> sorted = curve;
    const auto quietPlace =
        static_cast<std::ptrdiff_t>(quietShare * static_cast<double>(sorted.size()));
    std::nth_element(sorted.begin(), sorted.begin() + quietPlace, sorted.end());
    const float quiet = sorted[static_cast<std::size_t>(quietPlace)];
    const std::vector<float> lasting = smoothed(energy, time, loudSeconds);
    const float loud = *std::max_element(lasting.begin(), lasting.end());
    if (loud - quiet < leastContrast) {
        return {};
    }
    const float high = quiet + static_cast<float>(burstLevel) * (loud - quiet);
    const float low = quiet + static_cast<float>(quietLevel) * (loud - quiet);
    const auto at = [&](int frame) { return curve[static_cast<std::size_t>(frame)]; };

    // From a strong frame outwards until the player has been still for longer than a pause.
    const auto reach = [&](const model::FrameSpan& take, int frame, int step) {
        int edge = frame;
        double still = 0.0;
        for (int f = frame; take.contains(f) && still <= pauseSeconds; f += step) {
            if (at(f) >= low) {
                edge = f;
                still = 0.0;
            } else if (take.contains(f - step) && !isHeld(study, f)) {
                still += std::abs(model::elapsed(time, f - step, f).value);
            }
        }
        return edge;
    };
    const auto field = [&](int f) { return time.fieldTimes()[static_cast<std::size_t>(f)]; };
    std::vector<model::FrameSpan> reps;
    for (const model::FrameSpan& take : takesOf(study)) {
        std::vector<model::FrameSpan> bursts;
        for (int frame = take.first; frame <= take.last; ++frame) {
            if (at(frame) >= high) {
                const model::FrameSpan burst{reach(take, frame, -1), reach(take, frame, 1)};
                if (model::elapsed(time, burst.first, burst.last).value >= shortestSeconds) {
                    bursts.push_back(burst);
                }
                frame = std::max(frame, burst.last);
            }
        }
        for (std::size_t i = 0; i < bursts.size(); ++i) {
            const model::Seconds margin(marginSeconds);
            const int earliest = i == 0 ? take.first : bursts[i - 1].last + 1;
            const int latest =
                i + 1 < bursts.size() ? (bursts[i].last + bursts[i + 1].first) / 2 : take.last;
            bursts[i].first =
                std::max(earliest, model::frameAtFieldTime(time, field(bursts[i].first) - margin));
            bursts[i].last =
                std::min(latest, model::frameAtFieldTime(time, field(bursts[i].last) + margin));
        }
        reps.insert(reps.end(), bursts.begin(), bursts.end());
    }
    return reps;
}

} // namespace kestrel::film
