#include "motion/instants.h"

#include <algorithm>
#include <cmath>

namespace kestrel::motion {
namespace {

/// The smoothed signal at a sample.
struct Node {
    double time = 0.0;
    double sd = 0.0; ///< of the sample
    LocalFit fit;
};

std::vector<Node> smoothed(std::span<const Sample> samples, TimeSpan within, double halfWidth) {
    std::vector<Node> nodes;
    for (const Sample& s : samples) {
        if (s.time >= within.from && s.time <= within.to) {
            if (const auto fit = fitLocally(samples, s.time, halfWidth)) {
                nodes.push_back({s.time, s.sd, *fit});
            }
        }
    }
    return nodes;
}

/// Where the fit of the nearer node has its top, kept between the two nodes.
double topBetween(const Node& a, const Node& b) {
    // The rates of two neighbours and a straight line between them say where the rate is zero.
    return a.time + (b.time - a.time) * a.fit.rate / (a.fit.rate - b.fit.rate);
}

} // namespace

std::vector<Instant> peaks(std::span<const Sample> samples, TimeSpan within, double halfWidth) {
    const std::vector<Node> nodes = smoothed(samples, within, halfWidth);
    std::vector<Instant> found;
    for (std::size_t i = 1; i < nodes.size(); ++i) {
        const Node& before = nodes[i - 1];
        const Node& after = nodes[i];
        if (!(before.fit.rate > 0.0 && after.fit.rate <= 0.0)) {
            continue;
        }
        const double time = topBetween(before, after);
        const Node& near = time - before.time < after.time - time ? before : after;
        // A flat top moves far for little noise.
        const double bend = (before.fit.rate - after.fit.rate) / (after.time - before.time);
        found.push_back({time, near.fit.rateSd / bend, near.fit.value, near.fit.valueSd, near.sd});
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Instant& a, const Instant& b) { return a.value > b.value; });
    return found;
}

std::vector<Instant> rises(std::span<const Sample> samples, TimeSpan within, double halfWidth,
                           double level) {
    const std::vector<Node> nodes = smoothed(samples, within, halfWidth);
    std::vector<Instant> found;
    for (std::size_t i = 1; i < nodes.size(); ++i) {
        const Node& before = nodes[i - 1];
        const Node& after = nodes[i];
        if (!(before.fit.value < level && after.fit.value >= level)) {
            continue;
        }
        const double rise = after.fit.value - before.fit.value;
        const double time =
            before.time + (after.time - before.time) * (level - before.fit.value) / rise;
        const Node& near = time - before.time < after.time - time ? before : after;
        const double slope = rise / (after.time - before.time);
        found.push_back({time, near.fit.valueSd / slope, level, near.fit.valueSd, near.sd});
    }
    return found;
}

std::optional<Extent> extent(std::span<const Sample> samples, TimeSpan within, double halfWidth) {
    const std::vector<Node> nodes = smoothed(samples, within, halfWidth);
    if (nodes.empty()) {
        return std::nullopt;
    }
    const auto [low, high] =
        std::minmax_element(nodes.begin(), nodes.end(),
                            [](const Node& a, const Node& b) { return a.fit.value < b.fit.value; });
    return Extent{low->fit.value, high->fit.value};
}

std::vector<Sample> upsideDown(std::span<const Sample> samples) {
    std::vector<Sample> turned(samples.begin(), samples.end());
    for (Sample& s : turned) {
        s.value = -s.value;
    }
    return turned;
}

} // namespace kestrel::motion
