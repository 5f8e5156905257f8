#include "track/equipment/implement_follower.h"
#include "track/equipment/implement_shaft.h"

#include <algorithm>
#include <cmath>

/// The way of the implement through all pictures, from what may be the implement in each.
namespace kestrel::track {
namespace {

using model::Landmark;
using model::Point2;

// Costs are negative logarithms of likelihoods, learned on the synthetic films of docs/accuracy.md.
constexpr double scoreToCost = 4.0; ///< for a score of the whole length
constexpr double placedCost = -100.0;
/// Of the longest that was placed: it seldom comes so much nearer, or points so much better across
/// the picture.
constexpr double longerSd = 0.15;
constexpr double mostForLonger = 6.0;
constexpr double samePlace = 0.06; ///< of height, between far ends
/// How likely the implement must be where it is said to be; and below which it is doubtful.
constexpr double sayFrom = 0.8;
constexpr double sureFrom = 0.93;
constexpr double doubtfulWidens = 3.0; ///< its standard deviation
constexpr double edgeOn = 0.35;        ///< of a face's width: narrower, it may be turning round
constexpr double mostBroad = 1.15; ///< wider than placed it hardly is; what adds to it is no face
constexpr int mostUnseen = 3;      ///< pictures
// Standard deviations, share of height, each once from frame to frame and once for a while.
constexpr double faceEdgeSd = 0.025;
constexpr double farEndSd = 0.013;
constexpr double buttSd = 0.025;
constexpr double bladeTurns = 0.5; ///< of a blade's length, the deviation of where its tip is

} // namespace

std::optional<ImplementFollower::Choice>
ImplementFollower::likeliest(std::span<const Guess> guesses, std::span<const double> shares) const {
    std::optional<Choice> best;
    double bestShare = 0.0;
    for (std::size_t i = 0; i < guesses.size(); ++i) {
        double together = 0.0; // two guesses that differ by a little say the same
        for (std::size_t k = 0; k < guesses.size(); ++k) {
            if (length(guesses[k].far - guesses[i].far) < samePlace * bodyPx_) {
                together += shares[k];
            }
        }
        constexpr double alike = 1e-9;
        if (!best || together > best->certainty + alike ||
            (together > best->certainty - alike && shares[i] > bestShare)) {
            best = Choice{&guesses[i], together};
            bestShare = shares[i];
        }
    }
    return best;
}

std::map<int, Proposals> ImplementFollower::result(const std::map<int, std::vector<Guess>>& guesses,
                                                   const std::map<int, double>& times) const {
    const auto [frames, instants, seen] = sightingsOf(guesses, times, [this](const Guess& guess) {
        const double longer =
            std::max(0.0, length(guess.far - guess.butt) / longest_ - 1.0) / longerSd;
        return Candidate{{guess.butt, guess.far},
                         guess.score >= certain ? placedCost
                                                : std::min(mostForLonger, 0.5 * longer * longer) -
                                                      scoreToCost * std::min(1.0, guess.score)};
    });
    PathRules rules;
    rules.processNoise = 130.0 * bodyPx_; // a bat's end on its circle before contact
    rules.mostForJump = 1.5;
    rules.skipped = 0.25;
    rules.begun = 4.5;
    const auto shares = posteriorMarginals(seen, instants, rules);
    std::map<int, Proposals> result;
    std::map<int, const Guess*> sure;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        const auto here = guesses.find(frames[i]);
        const Anchor& anchor = nearest(frames[i]);
        if (here == guesses.end() || anchor.frame == frames[i]) {
            continue; // the coach has said it
        }
        const auto choice = likeliest(here->second, shares[i]);
        if (!choice || choice->certainty < sayFrom) {
            continue; // the coach had better say it
        }
        const Guess& guess = *choice->guess;
        const bool isSure = choice->certainty >= sureFrom;
        if (isSure) {
            sure[frames[i]] = &guess;
        }
        const Point2 way = guess.far - guess.butt;
        for (const auto& [landmark, at] : anchor.fixed) {
            if (landmark == Landmark::implementFaceEdge || landmark == Landmark::implementFarEdge) {
                continue;
            }
            // The far end is seen; the other is where the hand is thought to be.
            double sd = (at.x * farEndSd + (1.0 - at.x) * buttSd) *
                        (isSure ? 1.0 : doubtfulWidens) * bodyPx_;
            if (landmark == Landmark::implementTip || landmark == Landmark::implementHead) {
                // A blade turns about the shaft, which is not looked at.
                const double onBlade =
                    landmark == Landmark::implementTip ? anchor.bladePx : 0.5 * anchor.bladePx;
                sd = std::hypot(sd, bladeTurns * onBlade);
            }
            result[frames[i]][landmark] = {guess.butt + way * at.x + across(way) * at.y, sd, sd};
        }
    }
    addFaceEdges(result, sure);
    return result;
}

void ImplementFollower::addFaceEdges(std::map<int, Proposals>& found,
                                     const std::map<int, const Guess*>& taken) const {
    for (const Anchor& anchor : anchors_) {
        if (!anchor.hasFace) {
            continue;
        }
        for (const int step : {-1, 1}) {
            int last = anchor.frame;
            for (int frame = last + step; std::abs(frame - last) <= mostUnseen; frame += step) {
                const auto guess = taken.find(frame);
                if (guess == taken.end() || nearest(frame).frame != anchor.frame) {
                    continue;
                }
                const double broad = std::min(guess->second->broad, mostBroad);
                if (broad < edgeOn) {
                    break;
                }
                last = frame;
                const Point2 way = guess->second->far - guess->second->butt;
                for (const Landmark edge :
                     {Landmark::implementFaceEdge, Landmark::implementFarEdge}) {
                    const Point2 at = anchor.fixed.at(edge);
                    const double sd = faceEdgeSd * bodyPx_;
                    found[frame][edge] = {
                        guess->second->butt + way * at.x + across(way) * (broad * at.y), sd, sd};
                }
            }
        }
    }
}

} // namespace kestrel::track
