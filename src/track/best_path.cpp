#include "track/best_path.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kestrel::track {
namespace {

constexpr int farthestBack = 3; ///< pictures between two candidates that follow each other
constexpr double never = std::numeric_limits<double>::infinity();

/// Two candidates that follow each other: the later one's picture and number are those of the slot
/// it is kept in, the earlier one's are `back` pictures before.
struct Pair {
    double cost = never;
    int before = -1; ///< slot of the pair before in its own picture; −1: the way begins with these
    int begunAt = -1;
};

/// All pairs that end at one picture: slot = (candidate · farthestBack + back − 1) · width + other.
class Pairs {
  public:
    Pairs(std::size_t candidates, std::size_t width)
        : width_(width), pairs_(candidates * farthestBack * width) {}

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
    Pair& operator[](std::size_t slot) { return pairs_[slot]; }
    [[nodiscard]] std::size_t size() const { return pairs_.size(); }

  private:
    std::size_t width_;
    std::vector<Pair> pairs_;
};

class Search {
  public:
    Search(std::span<const std::vector<Candidate>> seen, std::span<const double> times,
           const PathRules& rules)
        : seen_(seen), times_(times), rules_(rules) {
        for (const auto& candidates : seen) {
            width_ = std::max(width_, candidates.size());
        }
    }

    std::vector<std::optional<int>> run() {
        const int count = static_cast<int>(seen_.size());
        for (int at = 0; at < count; ++at) {
            pairs_.emplace_back(seen_[static_cast<std::size_t>(at)].size(), width_);
            reach(at);
            closeAt(at);
        }
        return wayBack(count - 1);
    }

  private:
    /// A way that has ended: what all pictures up to one cost, and the last pair, if any.
    struct Ended {
        double cost = 0.0;
        int picture = -1; ///< where its last pair ends; −1: nothing was taken so far
        std::size_t slot = 0;
    };

    [[nodiscard]] const Candidate& candidate(int picture, std::size_t number) const {
        return seen_[static_cast<std::size_t>(picture)][number];
    }
    [[nodiscard]] double timeOf(int picture) const {
        return times_[static_cast<std::size_t>(picture)];
    }
    [[nodiscard]] Ended endedBefore(int picture) const {
        return picture == 0 ? Ended{} : ended_[static_cast<std::size_t>(picture - 1)];
    }

    [[nodiscard]] double jump(const Candidate& a, double ta, const Candidate& b, double tb,
                              const Candidate& c, double tc) const {
        double square = 0.0;
        for (std::size_t i = 0; i < c.points.size(); ++i) {
            const model::Point2 before = (b.points[i] - a.points[i]) * (1.0 / (tb - ta));
            const model::Point2 after = (c.points[i] - b.points[i]) * (1.0 / (tc - tb));
            const double change = length(after - before) / (0.5 * (tc - ta));
            square += change * change;
        }
        const double usual = rules_.suddenness * rules_.suddenness;
        return std::min(rules_.mostForJump,
                        0.5 * square / usual / static_cast<double>(c.points.size()));
    }

    /// The cheapest ways to every pair that ends at picture `at`.
    void reach(int at) {
        Pairs& here = pairs_[static_cast<std::size_t>(at)];
        for (std::size_t now = 0; now < seen_[static_cast<std::size_t>(at)].size(); ++now) {
            for (int back = 1; back <= std::min(farthestBack, at); ++back) {
                const int earlier = at - back;
                const double gap = rules_.skipped * (back - 1) + candidate(at, now).cost;
                for (std::size_t other = 0; other < seen_[static_cast<std::size_t>(earlier)].size();
                     ++other) {
                    Pair& pair = here[here.slot(now, back, other)];
                    const Ended start = endedBefore(earlier);
                    pair = {start.cost + rules_.begun + candidate(earlier, other).cost + gap, -1,
                            earlier};
                    extend(pair, at, now, earlier, other, gap);
                }
            }
        }
    }

    void extend(Pair& pair, int at, std::size_t now, int earlier, std::size_t other, double gap) {
        Pairs& there = pairs_[static_cast<std::size_t>(earlier)];
        for (int back = 1; back <= std::min(farthestBack, earlier); ++back) {
            const int first = earlier - back;
            for (std::size_t third = 0; third < seen_[static_cast<std::size_t>(first)].size();
                 ++third) {
                const std::size_t slot = there.slot(other, back, third);
                const double bare = there[slot].cost + gap;
                if (bare >= pair.cost) {
                    continue;
                }
                const double cost =
                    bare + jump(candidate(first, third), timeOf(first), candidate(earlier, other),
                                timeOf(earlier), candidate(at, now), timeOf(at));
                if (cost < pair.cost) {
                    pair = {cost, static_cast<int>(slot), -1};
                }
            }
        }
    }

    /// The cheapest of all ways that have taken what they take by picture `at`.
    void closeAt(int at) {
        Ended best = endedBefore(at);
        best.cost += rules_.skipped;
        Pairs& here = pairs_[static_cast<std::size_t>(at)];
        for (std::size_t slot = 0; slot < here.size(); ++slot) {
            if (here[slot].cost < best.cost) {
                best = {here[slot].cost, at, slot};
            }
        }
        ended_.push_back(best);
    }

    std::vector<std::optional<int>> wayBack(int last) {
        std::vector<std::optional<int>> taken(seen_.size());
        Ended end = last >= 0 ? ended_[static_cast<std::size_t>(last)] : Ended{};
        while (end.picture >= 0) {
            int picture = end.picture;
            std::size_t slot = end.slot;
            while (true) {
                Pairs& here = pairs_[static_cast<std::size_t>(picture)];
                const Pair pair = here[slot];
                taken[static_cast<std::size_t>(picture)] = static_cast<int>(here.candidateOf(slot));
                const int earlier = picture - here.backOf(slot);
                if (pair.before < 0) {
                    taken[static_cast<std::size_t>(earlier)] = static_cast<int>(here.otherOf(slot));
                    end = endedBefore(pair.begunAt);
                    break;
                }
                picture = earlier;
                slot = static_cast<std::size_t>(pair.before);
            }
        }
        return taken;
    }

    std::span<const std::vector<Candidate>> seen_;
    std::span<const double> times_;
    PathRules rules_;
    std::size_t width_ = 0;
    std::vector<Pairs> pairs_;
    std::vector<Ended> ended_;
};

} // namespace

std::vector<std::optional<int>> bestPath(std::span<const std::vector<Candidate>> seen,
                                         std::span<const double> times, const PathRules& rules) {
    return Search(seen, times, rules).run();
}

} // namespace kestrel::track
