#pragma once

#include "track/equipment/viterbi_path.h"

#include <algorithm>
#include <cstddef>

/// What the cheapest way and the shares of all ways have in common. Only for viterbi_path.cpp and
/// posterior_marginals.cpp.
namespace kestrel::track {

inline constexpr int farthestBack = 3; ///< pictures between two candidates that follow each other

/// Numbers of the pairs of candidates that follow each other and end at one picture: the later one,
/// how many pictures the earlier one is before it, the earlier one.
class PairSlots {
  public:
    /// `width` is at least the number of candidates of any picture.
    explicit PairSlots(std::size_t width) : width_(width) {}

    [[nodiscard]] std::size_t slot(std::size_t candidate, int back, std::size_t other) const {
        return (candidate * farthestBack + static_cast<std::size_t>(back - 1)) * width_ + other;
    }
    [[nodiscard]] std::size_t candidateOf(std::size_t slot) const {
        return slot / width_ / farthestBack;
    }
    [[nodiscard]] int backOf(std::size_t slot) const {
        return static_cast<int>(slot / width_ % farthestBack) + 1;
    }
    [[nodiscard]] std::size_t otherOf(std::size_t slot) const { return slot % width_; }
    [[nodiscard]] std::size_t count(std::size_t candidates) const {
        return candidates * farthestBack * width_;
    }

  private:
    std::size_t width_;
};

/// What the pictures of a stretch show, with the costs of going from one to the other.
class PathView {
  public:
    PathView(std::span<const std::vector<Candidate>> seen, std::span<const double> times,
             const PathRules& rules)
        : seen_(seen), times_(times), rules_(rules) {}

    [[nodiscard]] int pictures() const { return static_cast<int>(seen_.size()); }
    [[nodiscard]] std::size_t candidates(int picture) const {
        return seen_[static_cast<std::size_t>(picture)].size();
    }
    [[nodiscard]] std::size_t mostCandidates() const {
        std::size_t most = 0;
        for (const auto& candidates : seen_) {
            most = std::max(most, candidates.size());
        }
        return most;
    }
    [[nodiscard]] double cost(int picture, std::size_t number) const {
        return at(picture, number).cost;
    }
    /// Of taking that candidate `back` pictures after the one before.
    [[nodiscard]] double stepCost(int picture, std::size_t number, int back) const {
        return rules_.skipped * (back - 1) + cost(picture, number);
    }
    /// Of the change of speed at the middle one of three that follow each other.
    [[nodiscard]] double jumpCost(int first, std::size_t a, int second, std::size_t b, int third,
                                  std::size_t c) const {
        const Candidate& from = at(first, a);
        const Candidate& over = at(second, b);
        const Candidate& to = at(third, c);
        const double before = timeOf(second) - timeOf(first);
        const double after = timeOf(third) - timeOf(second);
        double square = 0.0;
        for (std::size_t i = 0; i < to.points.size(); ++i) {
            const model::Point2 slow = (over.points[i] - from.points[i]) * (1.0 / before);
            const model::Point2 fast = (to.points[i] - over.points[i]) * (1.0 / after);
            const double change = length(fast - slow) / (0.5 * (before + after));
            square += change * change;
        }
        const double usual = rules_.processNoise * rules_.processNoise;
        return std::min(rules_.mostForJump,
                        0.5 * square / usual / static_cast<double>(to.points.size()));
    }
    [[nodiscard]] const PathRules& rules() const { return rules_; }

  private:
    [[nodiscard]] const Candidate& at(int picture, std::size_t number) const {
        return seen_[static_cast<std::size_t>(picture)][number];
    }
    [[nodiscard]] double timeOf(int picture) const {
        return times_[static_cast<std::size_t>(picture)];
    }

    std::span<const std::vector<Candidate>> seen_;
    std::span<const double> times_;
    PathRules rules_;
};

} // namespace kestrel::track
