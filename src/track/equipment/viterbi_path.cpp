#include "track/equipment/viterbi_path.h"

#include "track/equipment/path_lattice.h"

#include <limits>

namespace kestrel::track {
namespace {

constexpr double never = std::numeric_limits<double>::infinity();

/// The cheapest way to a pair of candidates that follow each other.
struct Pair {
    double cost = never;
    int before = -1; ///< slot of the pair before in its own picture; −1: the way begins with these
    int begunAt = -1;
};

class Search {
  public:
    explicit Search(const PathView& view) : view_(view), slots_(view.mostCandidates()) {}

    std::vector<std::optional<int>> run() {
        for (int at = 0; at < view_.pictures(); ++at) {
            pairs_.emplace_back(slots_.count(view_.candidates(at)));
            reach(at);
            closeAt(at);
        }
        return wayBack();
    }

  private:
    /// A way that has ended: what all pictures up to one cost, and the last pair, if any.
    struct Ended {
        double cost = 0.0;
        int picture = -1; ///< where its last pair ends; −1: nothing was taken so far
        std::size_t slot = 0;
    };

    [[nodiscard]] Ended endedBefore(int picture) const {
        return picture == 0 ? Ended{} : ended_[static_cast<std::size_t>(picture - 1)];
    }

    /// The cheapest ways to every pair that ends at picture `at`.
    void reach(int at) {
        std::vector<Pair>& here = pairs_[static_cast<std::size_t>(at)];
        for (std::size_t now = 0; now < view_.candidates(at); ++now) {
            for (int back = 1; back <= std::min(farthestBack, at); ++back) {
                const int earlier = at - back;
                const double step = view_.stepCost(at, now, back);
                for (std::size_t other = 0; other < view_.candidates(earlier); ++other) {
                    Pair& pair = here[slots_.slot(now, back, other)];
                    pair = {endedBefore(earlier).cost + view_.rules().begun +
                                view_.cost(earlier, other) + step,
                            -1, earlier};
                    extend(pair, at, now, earlier, other, step);
                }
            }
        }
    }

    void extend(Pair& pair, int at, std::size_t now, int earlier, std::size_t other, double step) {
        const std::vector<Pair>& there = pairs_[static_cast<std::size_t>(earlier)];
        for (int back = 1; back <= std::min(farthestBack, earlier); ++back) {
            const int first = earlier - back;
            for (std::size_t third = 0; third < view_.candidates(first); ++third) {
                const std::size_t slot = slots_.slot(other, back, third);
                const double bare = there[slot].cost + step;
                if (bare >= pair.cost) {
                    continue;
                }
                const double cost = bare + view_.jumpCost(first, third, earlier, other, at, now);
                if (cost < pair.cost) {
                    pair = {cost, static_cast<int>(slot), -1};
                }
            }
        }
    }

    /// The cheapest of all ways that have taken what they take by picture `at`.
    void closeAt(int at) {
        Ended best = endedBefore(at);
        best.cost += view_.rules().skipped;
        const std::vector<Pair>& here = pairs_[static_cast<std::size_t>(at)];
        for (std::size_t slot = 0; slot < here.size(); ++slot) {
            if (here[slot].cost < best.cost) {
                best = {here[slot].cost, at, slot};
            }
        }
        ended_.push_back(best);
    }

    std::vector<std::optional<int>> wayBack() {
        std::vector<std::optional<int>> taken(pairs_.size());
        Ended end = endedBefore(view_.pictures());
        while (end.picture >= 0) {
            int picture = end.picture;
            std::size_t slot = end.slot;
            while (true) {
                const Pair pair = pairs_[static_cast<std::size_t>(picture)][slot];
                taken[static_cast<std::size_t>(picture)] =
                    static_cast<int>(slots_.candidateOf(slot));
                const int earlier = picture - slots_.backOf(slot);
                if (pair.before < 0) {
                    taken[static_cast<std::size_t>(earlier)] =
                        static_cast<int>(slots_.otherOf(slot));
                    end = endedBefore(pair.begunAt);
                    break;
                }
                picture = earlier;
                slot = static_cast<std::size_t>(pair.before);
            }
        }
        return taken;
    }

    const PathView& view_;
    PairSlots slots_;
    std::vector<std::vector<Pair>> pairs_; ///< by picture and slot
    std::vector<Ended> ended_;
};

} // namespace

std::vector<std::optional<int>> viterbiPath(std::span<const std::vector<Candidate>> seen,
                                            std::span<const double> times, const PathRules& rules) {
    const PathView view(seen, times, rules);
    return Search(view).run();
}

} // namespace kestrel::track
