#include "technique/positions/position_network.h"

#include "technique/pack/json_file.h"

#include <nlohmann/json.hpp>

#include <bit>
#include <cstdint>
#include <fstream>

namespace kestrel::technique {
namespace {

class WeightReader {
  public:
    explicit WeightReader(std::istream& file) : file_(file) {}

    Eigen::VectorXf vector(Eigen::Index size) {
        constexpr Eigen::Index most = 10'000'000; // no network for this is as large
        if (size < 0 || size > most) {
            file_.setstate(std::ios::failbit);
            return {};
        }
        std::vector<std::uint16_t> bits(static_cast<std::size_t>(size));
        file_.read(reinterpret_cast<char*>(bits.data()),
                   static_cast<std::streamsize>(bits.size() * sizeof(std::uint16_t)));
        Eigen::VectorXf values(size);
        for (Eigen::Index i = 0; i < size; ++i) {
            values[i] =
                static_cast<float>(std::bit_cast<Eigen::half>(bits[static_cast<std::size_t>(i)]));
        }
        return values;
    }

    PositionNetwork::Layer layer(Eigen::Index outputs, Eigen::Index inputs) {
        const Eigen::VectorXf rows = vector(outputs * inputs);
        if (!file_) {
            return {};
        }
        using RowByRow = Eigen::Matrix<float, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;
        PositionNetwork::Layer read;
        read.weights = Eigen::Map<const RowByRow>(rows.data(), outputs, inputs);
        read.bias = vector(outputs);
        return read;
    }

  private:
    std::istream& file_;
};

Eigen::MatrixXf through(const PositionNetwork::Layer& layer, const Eigen::MatrixXf& x) {
    return (layer.weights * x).colwise() + layer.bias;
}

/// The columns moved on by so many, or back where less than 0; 0 where none come.
Eigen::MatrixXf moved(const Eigen::MatrixXf& x, Eigen::Index by) {
    Eigen::MatrixXf result = Eigen::MatrixXf::Zero(x.rows(), x.cols());
    const Eigen::Index left = x.cols() - std::abs(by);
    if (left > 0) {
        result.middleCols(std::max<Eigen::Index>(by, 0), left) =
            x.middleCols(std::max<Eigen::Index>(-by, 0), left);
    }
    return result;
}

/// What the heads say at each instant.
Eigen::MatrixXf outputs(const PositionNetwork& network, const LearnedTechnique& technique,
                        const PoseSequence& sequence) {
    constexpr int rows = PoseSequence::rowCount;
    const int instants = sequence.instants();
    const int steps = (instants + 1) / 2;
    Eigen::MatrixXf x = Eigen::MatrixXf::Zero(network.begin.weights.cols(), steps);
    for (int i = 0; i < instants; ++i) {
        x.block<rows, 1>((i % 2) * rows, i / 2) = sequence.rows.col(i);
    }
    x.row(2 * rows + technique.which).setOnes();
    Eigen::MatrixXf h = through(network.begin, x).cwiseMax(0.0F);
    for (const PositionNetwork::Block& block : network.blocks) {
        Eigen::MatrixXf around(3 * h.rows(), steps);
        around << moved(h, block.dilation), h, moved(h, -block.dilation);
        h += through(block.mixed, through(block.around, around).cwiseMax(0.0F));
    }
    const Eigen::MatrixXf both = through(network.end, h);
    const auto positions = static_cast<Eigen::Index>(technique.positions.size());
    const Eigen::Index heads = network.absent.size();
    Eigen::MatrixXf result(positions, instants);
    for (int i = 0; i < instants; ++i) {
        result.col(i) = both.col(i / 2).segment((i % 2) * heads + technique.firstHead, positions);
    }
    return result;
}

} // namespace

PositionNetwork readPositionNetwork(const std::filesystem::path& path) {
    std::ifstream file(path, std::ios::binary);
    std::string line;
    std::getline(file, line);
    const auto header = nlohmann::json::parse(line, nullptr, false);
    const auto faulty = [&] { return dataError(path, "", model::message("pack.no_network")); };
    PositionNetwork network;
    try {
        if (header.at("rows") != PoseSequence::rowCount) {
            throw faulty();
        }
        int heads = 0;
        for (const auto& [id, learned] : header.at("techniques").items()) {
            LearnedTechnique technique;
            technique.which = static_cast<int>(network.techniques.size());
            technique.firstHead = heads;
            technique.positions = learned.at("positions").get<std::vector<std::string>>();
            for (const auto& gap : learned.at("gaps_s")) {
                technique.gaps.push_back({model::Seconds(gap.at(0)), model::Seconds(gap.at(1))});
            }
            heads += static_cast<int>(technique.positions.size());
            network.techniques.emplace(id, std::move(technique));
        }
        const Eigen::Index channels = header.at("channels").get<std::int64_t>();
        WeightReader weights(file);
        network.begin = weights.layer(channels, 2 * PoseSequence::rowCount +
                                                    static_cast<int>(network.techniques.size()));
        for (const int dilation : header.at("dilations").get<std::vector<int>>()) {
            PositionNetwork::Block block;
            block.dilation = dilation;
            block.around = weights.layer(channels, 3 * channels);
            block.mixed = weights.layer(channels, channels);
            network.blocks.push_back(std::move(block));
        }
        network.end = weights.layer(2 * heads, channels);
        network.absent = weights.vector(heads);
    } catch (const nlohmann::json::exception&) {
        throw faulty();
    }
    if (!file || file.peek() != std::ifstream::traits_type::eof()) {
        throw faulty();
    }
    return network;
}

Eigen::MatrixXd positionProbabilities(const PositionNetwork& network,
                                      const LearnedTechnique& technique,
                                      const PoseSequence& sequence) {
    const auto positions = static_cast<Eigen::Index>(technique.positions.size());
    const Eigen::Index instants = sequence.instants();
    Eigen::MatrixXd logits(positions, instants + 1);
    logits.leftCols(instants) = outputs(network, technique, sequence).cast<double>();
    logits.col(instants) = network.absent.segment(technique.firstHead, positions).cast<double>();
    const Eigen::VectorXd most = logits.rowwise().maxCoeff();
    Eigen::MatrixXd shares = (logits.colwise() - most).array().exp();
    const Eigen::VectorXd sums = shares.rowwise().sum();
    return shares.array().colwise() / sums.array();
}

} // namespace kestrel::technique
