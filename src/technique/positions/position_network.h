#pragma once

#include "technique/positions/pose_sequence.h"

#include <Eigen/Core>

#include <filesystem>
#include <map>
#include <string>
#include <vector>

/// The network that finds key positions in a pose sequence, learned from the synthetic player
/// (tools/train-positions, study/position_lessons.h).
namespace kestrel::technique {

/// What the network knows of a technique.
struct LearnedTechnique {
    struct Gap {
        model::Seconds least;
        model::Seconds most;
    };
    std::vector<std::string> positions; ///< ids, as they usually follow each other
    std::vector<Gap> gaps;              ///< between neighbours; less than 0 where they change order
    int which = 0;                      ///< its place among the techniques
    int firstHead = 0;                  ///< its first output
};

/// Two instants make a step. Convolutions over time with growing dilations see two seconds to each
/// side of each step (Bai, Kolter, Koltun 2018, arXiv:1803.01271, there looking back only).
struct PositionNetwork {
    struct Layer {
        Eigen::MatrixXf weights; ///< outputs × inputs
        Eigen::VectorXf bias;
    };
    struct Block {
        int dilation = 1; ///< steps
        Layer around;     ///< of the steps before, here and after
        Layer mixed;
    };
    std::map<std::string, LearnedTechnique> techniques; ///< by id
    Layer begin;
    std::vector<Block> blocks;
    Layer end;              ///< for each head, at the first and then at the second instant
    Eigen::VectorXf absent; ///< for each head, that the film does not have it
};

/// A file of a line of JSON ("rows", "channels", "dilations", "techniques" with "positions" and
/// "gaps_s") and then weights and bias of each layer, row by row, as half-precision numbers,
/// little-endian: begin, around and mixed of each block, end, absent. Throws model::InputError for
/// anything else.
PositionNetwork readPositionNetwork(const std::filesystem::path& file);

/// A row for each position of the technique, in its order: the probability of each instant, and in
/// the last column that the film does not have the position. Rows add up to 1.
Eigen::MatrixXd positionProbabilities(const PositionNetwork& network,
                                      const LearnedTechnique& technique,
                                      const PoseSequence& sequence);

} // namespace kestrel::technique
