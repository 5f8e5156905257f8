#include "track/sides.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>
#include <vector>

namespace kestrel::track {
namespace {

using model::Landmark;

constexpr std::array legs{Landmark::leftHip, Landmark::leftKnee, Landmark::leftAnkle,
                          Landmark::leftHeel, Landmark::leftToe};
constexpr std::array arms{Landmark::leftShoulder, Landmark::leftElbow, Landmark::leftWrist,
                          Landmark::leftHand};

/// A point's way that is this far from what was seen, in heights, tells nothing more: it is lost
/// anyway.
constexpr double mostTelling = 0.06;
constexpr double stepSd = 0.012; ///< of a point's way from frame to frame, in heights
/// Weight of the network's own word for a frame against movement; networks are more often right
/// than not, but wrong for whole stretches.
constexpr double networkWord = 0.2;
/// The share of a stretch at its beginning in which a player still stands as at set-up, and the
/// weight of that against movement for limbs a twentieth of the height apart.
constexpr double setUpShare = 0.2;
constexpr double setUpWord = 1.0;
constexpr double apart = 0.05;
constexpr double coachsWord = 1e6;

const Proposal* find(const FrameEvidence& frame, Landmark landmark) {
    const auto found = frame.proposals.find(landmark);
    return found == frame.proposals.end() ? nullptr : &found->second;
}

Landmark named(Landmark landmark, bool swapped) {
    return swapped ? model::mirrored(landmark) : landmark;
}

/// Cost of a limb pair going from frame `a` to frame `b`, each with its names kept or swapped.
double moving(const FrameEvidence& a, const FrameEvidence& b, std::span<const Landmark> group,
              bool swapA, bool swapB, double bodyPx) {
    double cost = 0.0;
    for (const Landmark left : group) {
        for (const Landmark landmark : {left, model::mirrored(left)}) {
            const Landmark seenA = named(landmark, swapA);
            const Proposal* from = find(a, seenA);
            const Proposal* to = find(b, named(landmark, swapB));
            if (from == nullptr || to == nullptr) {
                continue;
            }
            const auto step = a.steps.find(seenA);
            const model::Point2 shift =
                step == a.steps.end() ? model::Point2{} : step->second.shift;
            const double miss =
                std::min(mostTelling, length(to->px - from->px - shift) / bodyPx) / stepSd;
            cost += 0.5 * miss * miss;
        }
    }
    return cost;
}

/// What the coach's points at a frame say against a naming: how much less likely the proposals are
/// under it, for normal errors. Where left and right lie on each other, as hips seen from the side
/// do, a point says next to nothing.
double againstCoach(const FrameEvidence& frame, const model::FrameLandmarks& placed,
                    std::span<const Landmark> group, bool swapped) {
    double forExchange = 0.0;
    for (const Landmark left : group) {
        for (const Landmark landmark : {left, model::mirrored(left)}) {
            const auto point = placed.find(landmark);
            const Proposal* same = find(frame, landmark);
            const Proposal* other = find(frame, model::mirrored(landmark));
            if (point == placed.end() || point->second.hidden ||
                point->second.source != model::Source::placed || same == nullptr ||
                other == nullptr) {
                continue;
            }
            const auto unlikely = [&](const Proposal& seen) {
                const double sd = std::hypot(seen.scatterPx, seen.lastingPx, point->second.sdPx);
                const double miss = length(seen.px - point->second.px) / sd;
                return 0.5 * miss * miss;
            };
            forExchange += unlikely(*same) - unlikely(*other);
        }
    }
    return std::clamp(swapped ? -forExchange : forExchange, 0.0, coachsWord);
}

/// What the place of the limbs in the picture says against a naming, when the left ones should lie
/// to the right (`leftSign` +1) or to the left (−1) of the right ones.
double againstView(const FrameEvidence& frame, std::span<const Landmark> group, double bodyPx,
                   bool swapped, double leftSign) {
    double wrong = 0.0;
    for (const Landmark left : group) {
        const Proposal* a = find(frame, left);
        const Proposal* b = find(frame, model::mirrored(left));
        if (a != nullptr && b != nullptr) {
            const double across = (a->px.x - b->px.x) / (bodyPx * apart);
            wrong -= std::clamp(leftSign * (swapped ? -across : across), -1.0, 1.0);
        }
    }
    return setUpWord * std::max(0.0, wrong);
}

/// What was said of each is said of the other; of one that nothing was said of, still nothing is.
template <class Said> void exchange(std::map<Landmark, Said>& said, Landmark left, Landmark right) {
    const auto ofLeft = said.extract(left);
    const auto ofRight = said.extract(right);
    if (!ofLeft.empty()) {
        said[right] = ofLeft.mapped();
    }
    if (!ofRight.empty()) {
        said[left] = ofRight.mapped();
    }
}

void settle(Evidence& evidence, const model::LandmarkTrack& placed, std::span<const Landmark> group,
            double leftSign) {
    const int first = evidence.frames.begin()->first;
    const int last = evidence.frames.rbegin()->first;
    const double setUpEnds = first + setUpShare * (last - first);
    std::vector<FrameEvidence*> frames;
    std::vector<std::array<double, 2>> costs; // cheapest way to each naming
    std::vector<std::array<bool, 2>> before;  // the naming of the frame before on that way
    for (auto& [number, frame] : evidence.frames) {
        if (frame.proposals.empty()) {
            continue; // across a gap the limbs are compared as if it were one step
        }
        std::array<double, 2> cost{0.0, networkWord};
        std::array<bool, 2> from{false, true};
        const auto coach = placed.find(number);
        for (const bool swapped : {false, true}) {
            const auto now = static_cast<std::size_t>(swapped);
            if (coach != placed.end()) {
                cost[now] += againstCoach(frame, coach->second, group, swapped);
            }
            if (leftSign != 0.0 && number <= setUpEnds) {
                cost[now] += againstView(frame, group, evidence.bodyPx, swapped, leftSign);
            }
            if (!frames.empty()) {
                const double kept = costs.back()[0] + moving(*frames.back(), frame, group, false,
                                                             swapped, evidence.bodyPx);
                const double exchanged = costs.back()[1] + moving(*frames.back(), frame, group,
                                                                  true, swapped, evidence.bodyPx);
                from[now] = exchanged < kept;
                cost[now] += std::min(kept, exchanged);
            }
        }
        frames.push_back(&frame);
        costs.push_back(cost);
        before.push_back(from);
    }
    if (frames.empty()) {
        return;
    }
    bool swapped = costs.back()[1] < costs.back()[0];
    for (std::size_t i = frames.size(); i-- > 0;) {
        const bool earlier = before[i][static_cast<std::size_t>(swapped)];
        if (swapped) {
            for (const Landmark left : group) {
                const Landmark right = model::mirrored(left);
                exchange(frames[i]->proposals, left, right);
                exchange(frames[i]->steps, left, right);
            }
        }
        swapped = earlier;
    }
}

} // namespace

void settleSides(Evidence& evidence, const model::LandmarkTrack& placed,
                 std::optional<bool> chestToCamera) {
    if (evidence.frames.empty()) {
        return;
    }
    // Of a chest seen from before, the left is on the picture's right.
    const double leftSign = !chestToCamera ? 0.0 : *chestToCamera ? 1.0 : -1.0;
    settle(evidence, placed, legs, leftSign);
    settle(evidence, placed, arms, leftSign);
}

} // namespace kestrel::track
