#include "technique/positions/position_chain.h"

#include <algorithm>
#include <cmath>

namespace kestrel::technique {
namespace {

/// Where a position may be: each instant, then before the film and after it.
class Places {
  public:
    explicit Places(Eigen::Index instants) : instants_(instants) {}
    [[nodiscard]] Eigen::Index before() const { return instants_; }
    [[nodiscard]] Eigen::Index after() const { return instants_ + 1; }
    [[nodiscard]] Eigen::Index count() const { return instants_ + 2; }
    [[nodiscard]] Eigen::Index instants() const { return instants_; }

  private:
    Eigen::Index instants_;
};

/// How likely distances between neighbours are, against those that reps have.
class Distance {
  public:
    explicit Distance(const LearnedTechnique::Gap& gap)
        : least_(gap.least.value / PoseSequence::step),
          most_(gap.most.value / PoseSequence::step),
          scale_(std::max(0.25, 0.05 * (most_ - least_))) {}

    /// Of so many instants.
    [[nodiscard]] double operator()(double instants) const {
        const bool inOrder = least_ < 0.0 || instants >= 0.0;
        return inOrder ? decayed(std::max({0.0, least_ - instants, instants - most_})) : never;
    }
    /// Of so many or more.
    [[nodiscard]] double orMore(double instants) const {
        return decayed(std::max(0.0, instants - most_));
    }

  private:
    [[nodiscard]] double decayed(double beyond) const {
        return std::max(never, std::exp(-beyond / scale_));
    }
    static constexpr double never = 1e-30; // players are not all alike
    double least_;
    double most_;
    double scale_;
};

/// From the places of one position to those of the next: a row for each place of the first.
class Step {
  public:
    Step(const LearnedTechnique::Gap& gap, const Places& places) : places_(places) {
        const Distance distance(gap);
        const Eigen::Index instants = places.instants();
        apart_.resize(2 * instants - 1);
        for (Eigen::Index i = 0; i < apart_.size(); ++i) {
            apart_[i] = distance(static_cast<double>(i - (instants - 1)));
        }
        edge_.resize(instants);
        for (Eigen::Index i = 0; i < instants; ++i) {
            edge_[i] = distance.orMore(static_cast<double>(i + 1));
        }
    }

    [[nodiscard]] Eigen::VectorXd forward(const Eigen::VectorXd& from) const {
        const Eigen::Index n = places_.instants();
        Eigen::VectorXd to = Eigen::VectorXd::Zero(places_.count());
        for (Eigen::Index t = 0; t < n; ++t) {
            if (from[t] > negligible) {
                to.head(n) += from[t] * apart_.segment(n - 1 - t, n);
            }
        }
        to.head(n) += from[places_.before()] * edge_;
        to[places_.before()] = from[places_.before()];
        to[places_.after()] = from[places_.after()] + from.head(n).dot(edge_.reverse());
        return to;
    }

    [[nodiscard]] Eigen::VectorXd backward(const Eigen::VectorXd& to) const {
        const Eigen::Index n = places_.instants();
        Eigen::VectorXd from(places_.count());
        for (Eigen::Index t = 0; t < n; ++t) {
            from[t] = to.head(n).dot(apart_.segment(n - 1 - t, n)) +
                      to[places_.after()] * edge_[n - 1 - t];
        }
        from[places_.before()] = to[places_.before()] + to.head(n).dot(edge_);
        from[places_.after()] = to[places_.after()];
        return from;
    }

  private:
    static constexpr double negligible = 1e-14;
    Places places_;
    Eigen::VectorXd apart_; ///< by distance, from the most negative
    Eigen::VectorXd edge_;  ///< by distance from the end of the film, that the other is beyond
};

Eigen::VectorXd normalized(const Eigen::VectorXd& v) {
    const double sum = v.sum();
    return sum > 0.0 ? Eigen::VectorXd(v / sum) : v;
}

/// The fewest neighbouring instants that hold so much.
std::pair<std::size_t, std::size_t> shortestHolding(const std::vector<double>& shares,
                                                    double wanted) {
    std::pair<std::size_t, std::size_t> best{0, shares.size() - 1};
    double held = 0.0;
    std::size_t first = 0;
    for (std::size_t last = 0; last < shares.size(); ++last) {
        held += shares[last];
        while (held - shares[first] >= wanted) {
            held -= shares[first++];
        }
        if (held >= wanted && last - first < best.second - best.first) {
            best = {first, last};
        }
    }
    return best;
}

PositionBelief beliefOf(const Eigen::VectorXd& marginal, const Places& places) {
    PositionBelief belief;
    const Eigen::VectorXd there = marginal.head(places.instants());
    belief.inside = there.sum();
    if (!(belief.inside > 0.0)) {
        belief.inside = 0.0;
        return belief;
    }
    for (Eigen::Index i = 0; i < there.size(); ++i) {
        belief.shares.push_back(there[i] / belief.inside);
    }
    constexpr double most = 0.95;
    const auto [first, last] = shortestHolding(belief.shares, most);
    double held = 0.0;
    double mean = 0.0;
    double square = 0.0;
    for (std::size_t i = first; i <= last; ++i) {
        const auto at = static_cast<double>(i);
        held += belief.shares[i];
        mean += belief.shares[i] * at;
        square += belief.shares[i] * at * at;
    }
    belief.instant = mean / held;
    // The network is taught an instant between two as partly either, which spreads it.
    constexpr double taught = 1.0 / 6.0;
    constexpr double finest = 0.2 * 0.2;
    // Of a normal distribution, the middle 95 % have that much of its deviation.
    constexpr double cut = 0.8707;
    belief.sd =
        std::sqrt(std::max(finest, square / held - belief.instant * belief.instant - taught)) / cut;
    return belief;
}

} // namespace

double PositionBelief::within(double instants) const {
    double sum = 0.0;
    for (std::size_t i = 0; i < shares.size(); ++i) {
        // An instant stands for the time half-way to its neighbours.
        const double near = static_cast<double>(i) - 0.5;
        const double overlap =
            std::min(near + 1.0, instant + instants) - std::max(near, instant - instants);
        sum += shares[i] * std::clamp(overlap, 0.0, 1.0);
    }
    return sum;
}

std::vector<PositionBelief> positionBeliefs(const Eigen::MatrixXd& probabilities,
                                            const LearnedTechnique& technique,
                                            const std::map<std::string, double>& known) {
    const Eigen::Index positions = probabilities.rows();
    const Places places(probabilities.cols() - 1);
    if (positions == 0 || places.instants() < 1) {
        return {};
    }
    std::vector<Eigen::VectorXd> seen;
    for (Eigen::Index k = 0; k < positions; ++k) {
        Eigen::VectorXd at = Eigen::VectorXd::Zero(places.count());
        const auto certain = known.find(technique.positions[static_cast<std::size_t>(k)]);
        const auto instant = certain == known.end()
                                 ? Eigen::Index(-1)
                                 : static_cast<Eigen::Index>(std::lround(certain->second));
        if (instant >= 0 && instant < places.instants()) {
            at[instant] = 1.0;
        } else {
            at.head(places.instants()) = probabilities.row(k).head(places.instants()).transpose();
            at[places.before()] = at[places.after()] = 0.5 * probabilities(k, places.instants());
        }
        seen.push_back(std::move(at));
    }
    std::vector<Step> steps;
    for (const LearnedTechnique::Gap& gap : technique.gaps) {
        steps.emplace_back(gap, places);
    }
    std::vector<Eigen::VectorXd> forward{normalized(seen.front())};
    for (std::size_t k = 1; k < seen.size(); ++k) {
        forward.push_back(normalized(steps[k - 1].forward(forward.back()).cwiseProduct(seen[k])));
    }
    std::vector<PositionBelief> beliefs(seen.size());
    Eigen::VectorXd backward = Eigen::VectorXd::Ones(places.count());
    for (std::size_t k = seen.size(); k-- > 0;) {
        beliefs[k] = beliefOf(normalized(forward[k].cwiseProduct(backward)), places);
        if (k > 0) {
            backward = normalized(steps[k - 1].backward(backward.cwiseProduct(seen[k])));
        }
    }
    return beliefs;
}

} // namespace kestrel::technique
