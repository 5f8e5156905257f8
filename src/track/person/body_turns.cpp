#include "track/person/body_turns.h"

namespace kestrel::track {
namespace {

using model::Landmark;

constexpr int frames = 2; ///< to each side; a body turns little in so many

std::optional<double> farther(const FrameEvidence& frame, Landmark left) {
    const auto a = frame.proposals.find(left);
    const auto b = frame.proposals.find(model::mirrored(left));
    if (a == frame.proposals.end() || b == frame.proposals.end()) {
        return std::nullopt;
    }
    return a->second.depthPx - b->second.depthPx;
}

std::optional<double> meanFarther(const Evidence& evidence, int frame, Landmark left) {
    double sum = 0.0;
    int count = 0;
    for (int f = frame - frames; f <= frame + frames; ++f) {
        if (const auto here = evidence.frames.find(f); here != evidence.frames.end()) {
            if (const auto depth = farther(here->second, left)) {
                sum += *depth;
                ++count;
            }
        }
    }
    return count == 0 ? std::nullopt : std::optional(sum / count);
}

} // namespace

model::BodyTurns bodyTurns(const Evidence& evidence) {
    model::BodyTurns turns;
    for (const auto& [number, frame] : evidence.frames) {
        const model::BodyTurn turn{meanFarther(evidence, number, Landmark::leftHip),
                                   meanFarther(evidence, number, Landmark::leftShoulder)};
        if (turn != model::BodyTurn{}) {
            turns[number] = turn;
        }
    }
    return turns;
}

} // namespace kestrel::track
