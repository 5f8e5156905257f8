#pragma once

#include "model/units.h"

#include <map>
#include <optional>
#include <span>
#include <vector>

/// Which of the things seen in each picture are one and the same thing on its way.
namespace kestrel::track {

/// Something seen in one picture that may be what is followed.
struct Candidate {
    std::vector<model::Point2> points; ///< pixels; as many for every candidate of one search
    double cost = 0.0;                 ///< what it costs to take it; below 0 it speaks for itself
};

/// What a way through the pictures costs besides its candidates.
struct PathRules {
    double processNoise = 1.0; ///< usual change of speed, pixels per second squared
    double mostForJump = 8.0;  ///< a change of speed, however large, costs no more than this
    double skipped = 1.0;      ///< a picture in which nothing is taken
    double begun = 9.0;        ///< taking the thing up anew, after pictures without it or elsewhere
};

/// The cheapest way: for each picture the number of the candidate taken, or nothing. Changes of
/// speed count by their square in units of `process noise`, over up to two pictures without the
/// thing; after more it is taken up anew. `seen` holds the candidates of each picture and `times`
/// its instant, seconds. A second-order Viterbi search; time grows with the cube of the candidates.
std::vector<std::optional<int>> viterbiPath(std::span<const std::vector<Candidate>> seen,
                                            std::span<const double> times, const PathRules& rules);

/// How likely each candidate is the thing, given all that is seen before and after: for each
/// picture the share of its candidates, 0 to 1, in all ways through the pictures, a way weighing e
/// to the minus its cost. What a picture's shares leave of 1 is for nothing being taken there.
/// Costs count as the negative logarithm of a likelihood here, and not only against each other as
/// in viterbiPath().
std::vector<std::vector<double>> posteriorMarginals(std::span<const std::vector<Candidate>> seen,
                                                    std::span<const double> times,
                                                    const PathRules& rules);

/// What was seen in each of the pictures of a stretch, as viterbiPath() takes it.
struct Sightings {
    std::vector<int> frames;
    std::vector<double> times;
    std::vector<std::vector<Candidate>> candidates;
};

/// `guesses` by frame, each made a candidate by `asCandidate`; `times` gives the frames of the
/// stretch with their instants, seconds. Candidates keep the order of the guesses.
template <class Guess, class AsCandidate>
Sightings sightingsOf(const std::map<int, std::vector<Guess>>& guesses,
                      const std::map<int, double>& times, AsCandidate asCandidate) {
    Sightings result;
    for (const auto& [frame, time] : times) {
        result.frames.push_back(frame);
        result.times.push_back(time);
        auto& candidates = result.candidates.emplace_back();
        if (const auto found = guesses.find(frame); found != guesses.end()) {
            for (const Guess& guess : found->second) {
                candidates.push_back(asCandidate(guess));
            }
        }
    }
    return result;
}

} // namespace kestrel::track
