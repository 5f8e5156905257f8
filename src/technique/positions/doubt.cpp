#include "technique/positions/doubt.h"

#include "technique/positions/find_positions.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace kestrel::technique {
namespace {

/// The rep with the landmarks of its key positions only: a tracked rep has thousands. What the
/// coach said of a limb's depth is followed through all of them.
model::Rep keyFramesOf(const model::Rep& rep) {
    model::Rep slim;
    slim.techniqueId = rep.techniqueId;
    slim.variant = rep.variant;
    slim.positions = rep.positions;
    slim.found = rep.found;
    slim.observations = rep.observations;
    slim.nearerEnds = rep.nearerEnds;
    slim.limbFolds = rep.limbFolds;
    if (!rep.limbFolds.empty()) {
        slim.landmarks = rep.landmarks;
    }
    for (const auto& [position, frame] : model::allPositions(rep)) {
        if (const auto found = rep.landmarks.find(frame); found != rep.landmarks.end()) {
            slim.landmarks.insert(*found);
        }
        if (const auto turn = rep.bodyTurns.find(frame); turn != rep.bodyTurns.end()) {
            slim.bodyTurns.insert(*turn);
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

/// How many readings stand on the position, open verdicts counted openVerdict times.
double readingsAt(const std::string& positionId, const std::vector<model::Reading>& readings) {
    double sum = 0.0;
    for (const model::Reading& reading : readings) {
        if (reading.value && reading.positionId == positionId) {
            sum += reading.verdict == model::Verdict::edge ? openVerdict : 1.0;
        }
    }
    return sum;
}

/// Adds the id of every position that `id` is found from, by whatever way.
void addAllStarts(const Pack& pack, const std::string& id, std::optional<model::View> view,
                  std::set<std::string>& all) {
    const Position* position = findPosition(pack, id);
    // The network finds its own all together, from none of the others.
    const bool together = position != nullptr && position->learned && pack.network;
    const Detector* detector =
        position == nullptr || together ? nullptr : detectorFor(*position, view);
    if (detector != nullptr) {
        for (const std::string& start : positionsUsedBy(*detector)) {
            if (all.insert(start).second) {
                addAllStarts(pack, start, view, all);
            }
        }
    }
}

/// Doubtful positions pass their gain on to those they are found from, which so come first.
void passOn(const Pack& pack, const std::set<std::string>& doubtful,
            std::optional<model::View> view, std::vector<Doubtful>& doubts) {
    std::map<std::string, double> passed;
    for (const Doubtful& doubt : doubts) {
        if (!doubt.landmark && doubtful.contains(doubt.positionId)) {
            std::set<std::string> starts;
            addAllStarts(pack, doubt.positionId, view, starts);
            for (const std::string& start : starts) {
                passed[start] += doubt.gain;
            }
        }
    }
    for (Doubtful& doubt : doubts) {
        if (!doubt.landmark && doubtful.contains(doubt.positionId)) {
            doubt.gain += passed[doubt.positionId];
        }
    }
}

} // namespace

bool isDoubtful(const Position& position, const model::FoundInstant& found,
                const Circumstances& circumstances) {
    constexpr double perSecond = 1000.0;
    const double allowed = std::max(model::frameInterval(circumstances.time, found.frame).value,
                                    position.lastsMs / perSecond);
    return found.confidence < sureConfidence || model::coverage95 * found.sd.value > allowed;
}

std::vector<Doubtful> doubtsOf(const Pack& pack, const model::Rep& rep,
                               const Circumstances& circumstances) {
    model::Rep slim = keyFramesOf(rep);
    const std::vector<model::Reading> now = evaluate(pack, slim, circumstances);
    std::vector<Doubtful> doubts;
    std::set<std::string> doubtful;
    for (const Position& position : pack.positions) {
        const auto frame = model::frameOf(slim, position.id);
        if (!frame) {
            continue;
        }
        double most = 0.0;
        for (const model::Landmark landmark : landmarksToPlace(pack, position, circumstances)) {
            auto& points = slim.landmarks[*frame];
            const auto point = points.find(landmark);
            if (point == points.end() || point->second.source == model::Source::placed ||
                point->second.hidden) {
                continue;
            }
            const double sd = point->second.sdPx;
            point->second.sdPx = std::min(sd, model::placedPointSd);
            const double gain = gainOf(now, evaluate(pack, slim, circumstances));
            point->second.sdPx = sd;
            doubts.push_back({position.id, *frame, landmark, gain});
            most = std::max(most, gain);
        }
        if (const model::FoundInstant* found = model::onlyFound(slim, position.id)) {
            const double doubt = 1.0 - found->confidence;
            const bool first = isDoubtful(position, *found, circumstances);
            if (first) {
                doubtful.insert(position.id);
            }
            slim.positions[position.id] = *frame;
            const double gain = gainOf(now, evaluate(pack, slim, circumstances)) +
                                doubt * readingsAt(position.id, now);
            slim.positions.erase(position.id);
            doubts.push_back(
                {position.id, *frame, std::nullopt,
                 first ? std::max(gain, std::nextafter(most, 2.0 * most + 1.0)) : gain});
        }
    }
    passOn(pack, doubtful, viewToFindBy(circumstances), doubts);
    std::stable_sort(doubts.begin(), doubts.end(),
                     [](const Doubtful& a, const Doubtful& b) { return a.gain > b.gain; });
    return doubts;
}

} // namespace kestrel::technique
