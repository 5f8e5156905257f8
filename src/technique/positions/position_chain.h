#pragma once

#include "technique/positions/position_network.h"

#include <map>
#include <vector>

/// All key positions of a rep together: each where the network sees it, in an order and at
/// distances in time that reps have.
namespace kestrel::technique {

/// What is known of when a position is; instants of the sequence and their unit.
struct PositionBelief {
    double inside = 0.0; ///< probability that the film has it
    /// Given that it has: the mean and the standard deviation over the shortest stretch that holds
    /// it with 95 %.
    double instant = 0.0;
    double sd = 0.0;
    std::vector<double> shares; ///< given that it has: the probability of each instant

    /// Probability, given that the film has it, that it is no farther than so many instants from
    /// `instant`.
    [[nodiscard]] double within(double instants) const;
};

/// For each position of the technique, from `probabilities` (positionProbabilities): a chain of
/// positions as hidden states over the instants, with the distances between neighbours as in a
/// semi-Markov model (Yu 2010, doi:10.1016/j.artint.2009.11.011) and the forward and backward
/// passes that give each position's marginal (Rabiner 1989, doi:10.1109/5.18626). A distance that
/// reps have (LearnedTechnique::gaps) costs nothing, as the network has seen it; others cost the
/// more the farther off they are. Positions that the film does not have are the first ones or the
/// last. `known` are certain: instants by position.
std::vector<PositionBelief> positionBeliefs(const Eigen::MatrixXd& probabilities,
                                            const LearnedTechnique& technique,
                                            const std::map<std::string, double>& known = {});

} // namespace kestrel::technique
