#include "track/equipment/ball_flight.h"
#include "track/equipment/ball_follower.h"

#include <algorithm>
#include <cmath>

/// The way of the ball through all pictures, from what may be the ball in each.
namespace kestrel::track {
namespace {

using model::Point2;

constexpr double longestHeld = 1.0; ///< seconds for which a hand is trusted to hold it
constexpr double heldTurnsIn = 0.3; ///< seconds in which a hand may turn it to its other side
constexpr double leftHand = 0.12;   ///< of height: so far off its place in the hand it has left
/// Of height: a thing like it on the body and farther from there is the glove, or a sleeve.
constexpr double stillInHand = 0.05;
constexpr double throwsAt = 6.0; ///< heights a second: a hand so fast lets go when it is fastest
constexpr double never = 1e6;
constexpr int mostRounds = 6; ///< of finding the way and leaving out what is no ball
constexpr double mostSurprise =
    0.1; ///< of height: so far off where it was to be expected it is another
constexpr double fastestFlight = 45.0; ///< heights a second, about 70 m/s across the picture
constexpr double plain = -3.0;         ///< cost of what looks like nothing else, beside the body
/// How suddenly a ball's way changes, heights a second squared: in a hand that throws, and at most
/// before it counts as hit, or as another thing; a flight is far smoother, gravity being 6 for a
/// grown player and drag at most as much again.
constexpr double throwing = 120.0;
constexpr double mostSudden = 3.0 * throwing;

} // namespace

std::vector<std::size_t>
BallFollower::otherEquipment(std::span<const int> frames, std::span<const std::optional<int>> taken,
                             std::span<const std::vector<Candidate>> seen,
                             std::span<const double> times,
                             std::span<const std::optional<Point2>> inHand) const {
    std::vector<std::size_t> result;
    std::vector<std::size_t> numbers;
    std::vector<BallSighting> piece;
    bool isCoachs = false;
    const auto close = [&] {
        if (!isCoachs && !isFlight(piece, diameter(), bodyPx_)) {
            result.insert(result.end(), numbers.begin(), numbers.end());
        }
        numbers.clear();
        piece.clear();
        isCoachs = false;
    };
    const auto heldByCoach = [&](std::size_t i) {
        return std::any_of(held_.begin(), held_.end(),
                           [&](const Held& held) { return held.frame == frames[i]; });
    };
    // Whether a place follows from the ones before without a hit, or a step to another thing.
    const auto goesOn = [&](const BallSighting& next) {
        const BallSighting& last = piece.back();
        const double dt = next.time - last.time;
        const double most = mostSurprise * bodyPx_ + diameter();
        if (piece.size() < 2) {
            const double reach = heldByCoach(numbers.back()) ? most : fastestFlight * bodyPx_ * dt;
            return length(next.at - last.at) <= reach;
        }
        const BallSighting& before = piece[piece.size() - 2];
        const Point2 velocity = (last.at - before.at) * (1.0 / (last.time - before.time));
        const double sudden = mostSudden * bodyPx_ * dt * (dt + last.time - before.time) * 0.5;
        return length(next.at - last.at - velocity * dt) <= std::min(sudden + diameter(), most);
    };
    const auto atHand = [&](std::size_t i, Point2 place) {
        return heldByCoach(i) || (inHand[i] && length(*inHand[i] - place) < leftHand * bodyPx_);
    };
    constexpr std::size_t mostBetween = 3; // pictures, as far as the best path reaches
    for (std::size_t i = 0; i < taken.size(); ++i) {
        if (!taken[i]) {
            continue;
        }
        const Candidate& candidate = seen[i][static_cast<std::size_t>(*taken[i])];
        const BallSighting sighting{times[i], candidate.points.front(), candidate.cost < plain};
        const bool changesHands =
            !piece.empty() && atHand(i, sighting.at) != atHand(numbers.back(), piece.back().at);
        if (!piece.empty() &&
            (i - numbers.back() > mostBetween || changesHands || !goesOn(sighting))) {
            close();
        }
        numbers.push_back(i);
        piece.push_back(sighting);
        isCoachs = isCoachs || candidate.cost <= certain;
    }
    close();
    return result;
}

const BallFollower::Guess* BallFollower::heldGuess(const std::map<int, std::vector<Guess>>& guesses,
                                                   int frame) {
    const auto here = guesses.find(frame);
    if (here == guesses.end()) {
        return nullptr;
    }
    const auto guess = std::find_if(here->second.begin(), here->second.end(),
                                    [](const Guess& g) { return g.held; });
    return guess == here->second.end() ? nullptr : &*guess;
}

std::map<int, Proposal> BallFollower::result(const std::map<int, std::vector<Guess>>& guesses,
                                             const std::map<int, double>& times) const {
    auto [frames, instants, seen] = sightingsOf(guesses, times, [](const Guess& guess) {
        return Candidate{{guess.at}, guess.held ? never : guess.cost};
    });
    std::vector<std::optional<Point2>> inHand;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        const Guess* held = heldGuess(guesses, frames[i]);
        inHand.push_back(held != nullptr ? std::optional(held->at) : std::nullopt);
        for (Candidate& candidate : seen[i]) {
            // Beside the place in the hand, on the body: no ball has to be there for that.
            const double off =
                inHand[i] ? length(candidate.points.front() - *inHand[i]) / bodyPx_ : 0.0;
            if (candidate.cost > plain && off > stillInHand && off < leftHand) {
                candidate.cost = never;
            }
        }
    }
    PathRules rules;
    rules.processNoise = throwing * bodyPx_;
    rules.mostForJump = 20.0; // a hit, or another thing: it must be seen well afterwards
    rules.begun = 20.0;
    rules.skipped = 1.0;
    auto taken = viterbiPath(seen, instants, rules);
    for (int round = 1; round < mostRounds; ++round) {
        const auto others = otherEquipment(frames, taken, seen, instants, inHand);
        if (others.empty()) {
            break;
        }
        for (const std::size_t i : others) {
            seen[i][static_cast<std::size_t>(*taken[i])].cost = never;
        }
        taken = viterbiPath(seen, instants, rules);
    }
    for (const std::size_t i : otherEquipment(frames, taken, seen, instants, inHand)) {
        taken[i].reset();
    }
    std::map<int, Proposal> result;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        if (!taken[i]) {
            continue;
        }
        const Guess& guess = guesses.at(frames[i])[static_cast<std::size_t>(*taken[i])];
        if (guess.sd > 0.0) {
            result[frames[i]] = {guess.at, guess.sd, 0.0};
        }
    }
    fillHeld(result, guesses, times);
    return result;
}

void BallFollower::fillHeld(std::map<int, Proposal>& found,
                            const std::map<int, std::vector<Guess>>& guesses,
                            const std::map<int, double>& times) const {
    std::map<int, Proposal> filled;
    const auto handSpeed = [&](int frame) { // heights a second
        const Guess* now = heldGuess(guesses, frame);
        const Guess* before = heldGuess(guesses, frame - 1);
        const auto time = times.find(frame);
        const auto earlier = times.find(frame - 1);
        return now && before && time != times.end() && earlier != times.end()
                   ? length(now->at - before->at) / bodyPx_ / (time->second - earlier->second)
                   : 0.0;
    };
    const auto hasThrown = [&](int frame) {
        const double before = handSpeed(frame - 1);
        return before > throwsAt && handSpeed(frame) < before;
    };
    const auto fill = [&](int frame, const Held& held) {
        const auto time = times.find(frame);
        const auto from = times.find(held.frame);
        if (time == times.end() || from == times.end() ||
            std::abs(time->second - from->second) > longestHeld) {
            return false;
        }
        const Guess* guess = heldGuess(guesses, frame);
        if (guess == nullptr) {
            return true; // the hand is not known, or the coach placed the ball
        }
        if (frame > held.frame && hasThrown(frame)) {
            return false;
        }
        const auto seen = found.find(frame);
        if (seen == found.end()) {
            // The longer ago, the more the hand has turned with it.
            const double since = std::abs(time->second - from->second) / heldTurnsIn;
            const double sd = guess->sd * std::sqrt(1.0 + since * since);
            filled[frame] = {guess->at, sd, sd};
            return true;
        }
        return length(seen->second.px - guess->at) < leftHand * bodyPx_;
    };
    for (const Held& held : held_) {
        for (const int step : {-1, 1}) {
            for (int frame = held.frame + step; fill(frame, held);) {
                frame += step;
            }
        }
    }
    found.insert(filled.begin(), filled.end());
}

} // namespace kestrel::track
