#include "track/person/sides.h"

#include "track/equipment/viterbi_path.h"

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

/// How a pair of limbs goes through the frames. The change of way that is usual from one frame to
/// the next, in heights, is mostly the network's scatter. Where the network takes one limb for the
/// other for a frame, or sees both in one place, leaving the frame out is cheaper than a jump there
/// and back.
constexpr double usualChange = 0.025;
constexpr PathRules wayOfLimbs{
    .processNoise = 0.0, .mostForJump = 100.0, .skipped = 5.0, .begun = 200.0};
/// Weight of the network's own word for a frame against movement; networks are more often right
/// than not, but wrong for whole stretches.
constexpr double networkWord = 0.15;
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

/// The limbs of a frame as they are named (candidate 0) and with their names exchanged (1).
std::vector<Candidate> namings(const FrameEvidence& frame, std::span<const Landmark> group) {
    std::vector<Candidate> both(2);
    for (const Landmark left : group) {
        const Landmark right = model::mirrored(left);
        const model::Point2 ofLeft = frame.proposals.at(left).px;
        const model::Point2 ofRight = frame.proposals.at(right).px;
        both[0].points.insert(both[0].points.end(), {ofLeft, ofRight});
        both[1].points.insert(both[1].points.end(), {ofRight, ofLeft});
    }
    both[1].cost = networkWord;
    return both;
}

/// The naming that brings the limbs of a frame nearest to where they are in another.
int nearestNaming(const std::vector<Candidate>& namings, const Candidate& there) {
    const auto far = [&](const Candidate& naming) {
        double sum = 0.0;
        for (std::size_t i = 0; i < naming.points.size(); ++i) {
            sum += length(naming.points[i] - there.points[i]);
        }
        return sum;
    };
    return far(namings[1]) < far(namings[0]) ? 1 : 0;
}

/// Whether the names are exchanged in each frame.
std::vector<int> settledNames(const std::vector<std::vector<Candidate>>& seen,
                              const std::vector<double>& frameNumbers, double bodyPx) {
    PathRules rules = wayOfLimbs;
    rules.processNoise = usualChange * bodyPx;
    const auto taken = viterbiPath(seen, frameNumbers, rules);
    std::vector<int> names(seen.size());
    // Frames that were left out are named like the last one before them that was not, those at the
    // beginning like the first after.
    const auto first = std::find_if(taken.begin(), taken.end(), [](const auto& t) { return !!t; });
    auto like = static_cast<std::size_t>(first - taken.begin());
    for (std::size_t i = 0; i < seen.size(); ++i) {
        if (first == taken.end()) { // a still has no way
            names[i] = seen[i][1].cost < seen[i][0].cost ? 1 : 0;
        } else if (taken[i]) {
            names[i] = *taken[i];
            like = i;
        } else {
            names[i] = nearestNaming(seen[i], seen[like][static_cast<std::size_t>(*taken[like])]);
        }
    }
    return names;
}

void settle(Evidence& evidence, const model::LandmarkTrack& placed, std::span<const Landmark> limbs,
            double leftSign) {
    const int first = evidence.frames.begin()->first;
    const int last = evidence.frames.rbegin()->first;
    const double setUpEnds = first + setUpShare * (last - first);
    std::vector<FrameEvidence*> frames;
    std::vector<double> numbers; // of the frames; across a gap they are compared as they are apart
    std::vector<Landmark> group(limbs.begin(), limbs.end()); // what every frame has both of
    for (auto& [number, frame] : evidence.frames) {
        if (frame.proposals.empty()) {
            continue;
        }
        frames.push_back(&frame);
        numbers.push_back(number);
        std::erase_if(group, [&frame = frame](Landmark left) {
            return find(frame, left) == nullptr || find(frame, model::mirrored(left)) == nullptr;
        });
    }
    if (group.empty()) {
        return;
    }
    std::vector<std::vector<Candidate>> seen;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        std::vector<Candidate> both = namings(*frames[i], group);
        const int number = static_cast<int>(numbers[i]);
        const auto coach = placed.find(number);
        for (const bool swapped : {false, true}) {
            double& cost = both[static_cast<std::size_t>(swapped)].cost;
            if (coach != placed.end()) {
                // Earned by the right naming, not paid by the wrong: nobody leaves this frame out.
                cost -= againstCoach(*frames[i], coach->second, group, !swapped);
            }
            if (leftSign != 0.0 && number <= setUpEnds) {
                cost += againstView(*frames[i], group, evidence.bodyPx, swapped, leftSign);
            }
        }
        seen.push_back(std::move(both));
    }
    const std::vector<int> names = settledNames(seen, numbers, evidence.bodyPx);
    for (std::size_t i = 0; i < frames.size(); ++i) {
        if (names[i] == 1) {
            for (const Landmark left : limbs) {
                const Landmark right = model::mirrored(left);
                exchange(frames[i]->proposals, left, right);
                exchange(frames[i]->steps, left, right);
            }
        }
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
