#include "technique/doubt.h"

#include <algorithm>

namespace kestrel::technique {
namespace {

/// The rep with the landmarks of its key positions only: a tracked rep has thousands.
model::Rep keyFramesOf(const model::Rep& rep) {
    model::Rep slim;
    slim.techniqueId = rep.techniqueId;
    slim.variant = rep.variant;
    slim.positions = rep.positions;
    slim.observations = rep.observations;
    for (const auto& [position, frame] : rep.positions) {
        if (const auto found = rep.landmarks.find(frame); found != rep.landmarks.end()) {
            slim.landmarks.insert(*found);
        }
    }
    return slim;
}

double gainOf(const std::vector<model::Reading>& before, const std::vector<model::Reading>& after) {
    double gain = 0.0;
    for (std::size_t i = 0; i < before.size(); ++i) {
        if (before[i].u95 > 0.0 && after[i].value) {
            const double share = std::max(0.0, 1.0 - after[i].u95 / before[i].u95);
            gain += share * (before[i].verdict == model::Verdict::edge ? openVerdict : 1.0);
        }
    }
    return gain;
}

} // namespace

std::vector<DoubtfulPoint> doubtfulPoints(const Pack& pack, const model::Rep& rep,
                                          const Circumstances& circumstances) {
    model::Rep slim = keyFramesOf(rep);
    const std::vector<model::Reading> now = evaluate(pack, slim, circumstances);
    std::vector<DoubtfulPoint> doubtful;
    for (const Position& position : pack.positions) {
        const auto frame = slim.positions.find(position.id);
        if (frame == slim.positions.end()) {
            continue;
        }
        for (const model::Landmark landmark : landmarksToPlace(pack, position, circumstances)) {
            auto& points = slim.landmarks[frame->second];
            const auto point = points.find(landmark);
            if (point == points.end() || point->second.source == model::Source::placed ||
                point->second.hidden) {
                continue;
            }
            const double sd = point->second.sdPx;
            point->second.sdPx = std::min(sd, model::placedPointSd);
            const double gain = gainOf(now, evaluate(pack, slim, circumstances));
            point->second.sdPx = sd;
            doubtful.push_back({position.id, frame->second, landmark, sd, gain});
        }
    }
    std::stable_sort(
        doubtful.begin(), doubtful.end(),
        [](const DoubtfulPoint& a, const DoubtfulPoint& b) { return a.gain > b.gain; });
    return doubtful;
}

} // namespace kestrel::technique
