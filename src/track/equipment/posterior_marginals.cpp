#include "track/equipment/path_lattice.h"

#include <cmath>
#include <limits>

namespace kestrel::track {
namespace {

constexpr double none = -std::numeric_limits<double>::infinity();

/// ln(eᵃ + eᵇ).
double sum(double a, double b) {
    const double more = std::max(a, b);
    return more == none ? none : more + std::log1p(std::exp(std::min(a, b) - more));
}

/// The forward-backward algorithm (Baum et al. 1970) over pairs of candidates. All weights are kept
/// as logarithms.
class Shares {
  public:
    explicit Shares(const PathView& view) : view_(view), slots_(view.mostCandidates()) {
        for (int at = 0; at < view.pictures(); ++at) {
            const std::size_t count = slots_.count(view.candidates(at));
            before_.emplace_back(count, none);
            after_.emplace_back(count, none);
        }
    }

    std::vector<std::vector<double>> run() {
        const int count = view_.pictures();
        ended_.assign(static_cast<std::size_t>(count) + 1, 0.0);
        for (int at = 0; at < count; ++at) {
            forward(at);
        }
        ahead_.assign(static_cast<std::size_t>(count) + 1, 0.0);
        for (int at = count - 1; at >= 0; --at) {
            backward(at);
        }
        return gathered();
    }

  private:
    /// Calls `with(now, back, earlier, other, slot)` for each pair that ends at picture `at`.
    template <class With> void forPairs(int at, With with) const {
        for (std::size_t now = 0; now < view_.candidates(at); ++now) {
            for (int back = 1; back <= std::min(farthestBack, at); ++back) {
                for (std::size_t other = 0; other < view_.candidates(at - back); ++other) {
                    with(now, back, at - back, other, slots_.slot(now, back, other));
                }
            }
        }
    }

    /// Of all ways that begin with a pair, what came before and the pair included.
    [[nodiscard]] double begun(int at, std::size_t now, int back, std::size_t other) const {
        const int earlier = at - back;
        return ended_[static_cast<std::size_t>(earlier)] - view_.rules().begun -
               view_.cost(earlier, other) - view_.stepCost(at, now, back);
    }

    void forward(int at) {
        const auto picture = static_cast<std::size_t>(at);
        double closed = ended_[picture] - view_.rules().skipped;
        forPairs(
            at, [&](std::size_t now, int back, int earlier, std::size_t other, std::size_t slot) {
                double weight = begun(at, now, back, other);
                const double step = view_.stepCost(at, now, back);
                const std::vector<double>& there = before_[static_cast<std::size_t>(earlier)];
                for (int more = 1; more <= std::min(farthestBack, earlier); ++more) {
                    for (std::size_t third = 0; third < view_.candidates(earlier - more); ++third) {
                        const double jump =
                            view_.jumpCost(earlier - more, third, earlier, other, at, now);
                        weight = sum(weight, there[slots_.slot(other, more, third)] - jump - step);
                    }
                }
                before_[picture][slot] = weight;
                closed = sum(closed, weight);
            });
        ended_[picture + 1] = closed;
    }

    void backward(int at) {
        const auto picture = static_cast<std::size_t>(at);
        forPairs(at, [&](std::size_t now, int, int earlier, std::size_t other, std::size_t slot) {
            double weight = ahead_[picture + 1];
            for (int more = 1; more <= std::min(farthestBack, view_.pictures() - 1 - at); ++more) {
                const int later = at + more;
                const std::vector<double>& there = after_[static_cast<std::size_t>(later)];
                for (std::size_t next = 0; next < view_.candidates(later); ++next) {
                    weight = sum(weight, there[slots_.slot(next, more, now)] -
                                             view_.jumpCost(earlier, other, at, now, later, next) -
                                             view_.stepCost(later, next, more));
                }
            }
            after_[picture][slot] = weight;
        });
        double open = ahead_[picture + 1] - view_.rules().skipped;
        for (int more = 1; more <= std::min(farthestBack, view_.pictures() - 1 - at); ++more) {
            const int later = at + more;
            const std::vector<double>& there = after_[static_cast<std::size_t>(later)];
            for (std::size_t first = 0; first < view_.candidates(at); ++first) {
                for (std::size_t next = 0; next < view_.candidates(later); ++next) {
                    open = sum(open, there[slots_.slot(next, more, first)] - view_.rules().begun -
                                         view_.cost(at, first) - view_.stepCost(later, next, more));
                }
            }
        }
        ahead_[picture] = open;
    }

    [[nodiscard]] std::vector<std::vector<double>> gathered() const {
        std::vector<std::vector<double>> shares;
        for (int at = 0; at < view_.pictures(); ++at) {
            shares.emplace_back(view_.candidates(at), 0.0);
        }
        const double all = ended_.back();
        for (int at = 0; at < view_.pictures(); ++at) {
            const auto picture = static_cast<std::size_t>(at);
            forPairs(at, [&](std::size_t now, int back, int earlier, std::size_t other,
                             std::size_t slot) {
                const double on = after_[picture][slot];
                shares[picture][now] += std::exp(before_[picture][slot] + on - all);
                // Of the earlier one only a way's beginning: otherwise it ends a pair itself.
                shares[static_cast<std::size_t>(earlier)][other] +=
                    std::exp(begun(at, now, back, other) + on - all);
            });
        }
        return shares;
    }

    const PathView& view_;
    PairSlots slots_;
    std::vector<std::vector<double>> before_; ///< by picture and slot: all ways to a pair
    std::vector<std::vector<double>> after_;  ///< all ways on from it
    std::vector<double> ended_; ///< all ways through the pictures before one, none of them open
    std::vector<double> ahead_; ///< the same of the pictures from one on
};

} // namespace

std::vector<std::vector<double>> posteriorMarginals(std::span<const std::vector<Candidate>> seen,
                                                    std::span<const double> times,
                                                    const PathRules& rules) {
    const PathView view(seen, times, rules);
    return Shares(view).run();
}

} // namespace kestrel::track
