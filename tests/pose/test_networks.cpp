#include "model/input_error.h"
#include "pose/network.h"
#include "pose/network_shapes.h"
#include "pose/pose_files.h"
#include "pose/pose_region.h"
#include "pose/sparse_weights.h"
#include "words/words.h"

#include <QTest>

#include <cmath>
#include <fstream>
#include <iterator>
#include <limits>
#include <random>

using namespace kestrel;
using pose::Convolution;
using pose::NetworkGraph;
using pose::Tensor;

namespace {

constexpr float none = std::numeric_limits<float>::infinity();

std::vector<float> randomNumbers(std::size_t count, std::mt19937& random) {
    std::normal_distribution<float> normal;
    std::vector<float> numbers(count);
    std::generate(numbers.begin(), numbers.end(), [&] { return normal(random); });
    return numbers;
}

/// One convolution: input 0, weights 1, bias 2, output 3.
NetworkGraph convolution(const Convolution& op, std::vector<std::size_t> input,
                         std::vector<std::size_t> weights, std::vector<std::size_t> output,
                         std::mt19937& random) {
    NetworkGraph graph;
    graph.tensors = {{std::move(input), {}},
                     {std::move(weights), {}},
                     {{output[3]}, {}},
                     {std::move(output), {}}};
    for (const int constant : {1, 2}) {
        Tensor& tensor = graph.tensors[static_cast<std::size_t>(constant)];
        tensor.values = randomNumbers(tensor.size(), random);
    }
    graph.steps = {{op, {0, 1, 2}, 3}};
    graph.outputs = {3};
    return graph;
}

/// The same by the definition, in plain loops.
std::vector<float> byDefinition(const NetworkGraph& graph, const std::vector<float>& input) {
    const auto& op = std::get<Convolution>(graph.steps[0].operation);
    const auto& in = graph.tensors[0].shape;
    const auto& w = graph.tensors[1].shape;
    const auto& out = graph.tensors[3].shape;
    std::vector<float> result;
    for (int y = 0; y < static_cast<int>(out[1]); ++y) {
        for (int x = 0; x < static_cast<int>(out[2]); ++x) {
            for (std::size_t k = 0; k < out[3]; ++k) {
                double sum = graph.tensors[2].values[k];
                for (int v = 0; v < static_cast<int>(w[1]); ++v) {
                    for (int u = 0; u < static_cast<int>(w[2]); ++u) {
                        const int row = y * op.strideY + v * op.dilationY - op.padding.top;
                        const int column = x * op.strideX + u * op.dilationX - op.padding.left;
                        if (row < 0 || column < 0 || row >= static_cast<int>(in[1]) ||
                            column >= static_cast<int>(in[2])) {
                            continue;
                        }
                        const auto at = (static_cast<std::size_t>(row) * in[2] +
                                         static_cast<std::size_t>(column)) *
                                        in[3];
                        const auto cell =
                            static_cast<std::size_t>(v) * w[2] + static_cast<std::size_t>(u);
                        if (op.depthwise) {
                            sum += input[at + k] * graph.tensors[1].values[cell * w[3] + k];
                        } else {
                            for (std::size_t c = 0; c < in[3]; ++c) {
                                sum += input[at + c] *
                                       graph.tensors[1].values[(k * w[1] * w[2] + cell) * w[3] + c];
                            }
                        }
                    }
                }
                result.push_back(std::clamp(static_cast<float>(sum), op.clip.low, op.clip.high));
            }
        }
    }
    return result;
}

std::vector<char> bytesOf(const std::filesystem::path& file) {
    std::ifstream stream(file, std::ios::binary);
    return std::vector<char>((std::istreambuf_iterator<char>(stream)), {});
}

} // namespace

class TestNetworks : public QObject {
    Q_OBJECT
  private slots:
    void convolutionsAreThoseOfTheDefinition_data() {
        QTest::addColumn<bool>("depthwise");
        QTest::addColumn<int>("stride");
        QTest::addColumn<int>("window");
        QTest::newRow("point") << false << 1 << 1;
        QTest::newRow("window") << false << 1 << 3;
        QTest::newRow("window, every second") << false << 2 << 3;
        QTest::newRow("channel by channel") << true << 1 << 3;
        QTest::newRow("channel by channel, every second, wide") << true << 2 << 5;
    }
    void convolutionsAreThoseOfTheDefinition() {
        QFETCH(bool, depthwise);
        QFETCH(int, stride);
        QFETCH(int, window);
        std::mt19937 random(7);
        Convolution op;
        op.depthwise = depthwise;
        op.strideX = op.strideY = stride;
        const int edge = window / 2;
        op.padding = {edge, edge, edge, edge};
        op.clip = {0.0F, 6.0F};
        const auto side = static_cast<std::size_t>(window);
        const std::size_t size =
            (10 + 2 * static_cast<std::size_t>(edge) - side) / static_cast<std::size_t>(stride) + 1;
        const NetworkGraph graph =
            depthwise
                ? convolution(op, {1, 10, 10, 6}, {1, side, side, 6}, {1, size, size, 6}, random)
                : convolution(op, {1, 10, 10, 3}, {5, side, side, 3}, {1, size, size, 5}, random);
        pose::Network network(graph, 1);
        const std::vector<float> input = randomNumbers(network.input().size(), random);
        std::copy(input.begin(), input.end(), network.input().begin());
        network.run();
        const std::vector<float> expected = byDefinition(graph, input);
        QCOMPARE(network.output(0).size(), expected.size());
        for (std::size_t i = 0; i < expected.size(); ++i) {
            QVERIFY2(std::abs(network.output(0)[i] - expected[i]) < 1e-4F,
                     qPrintable(QString("at %1: %2, not %3")
                                    .arg(i)
                                    .arg(network.output(0)[i])
                                    .arg(expected[i])));
        }
    }

    void graphsThatWouldReachOutsideTheirMemoryAreNotRun() {
        std::mt19937 random(7);
        Convolution op;
        op.clip = {-none, none};
        const NetworkGraph good = convolution(op, {1, 8, 8, 3}, {4, 3, 3, 3}, {1, 6, 6, 4}, random);
        QVERIFY(pose::misfit(good).empty());
        for (const std::size_t wrong : {1U, 2U, 3U}) {
            NetworkGraph bad = good;
            bad.tensors[3].shape[wrong] += 1;
            QVERIFY(!pose::misfit(bad).empty());
            QVERIFY_EXCEPTION_THROWN(pose::Network(bad, 1), model::InputError);
        }
    }

    void sparseWeightsComeToTheirPlaces() {
        // 4 × 4 with two 2 × 2 blocks in use: top right and bottom left.
        pose::SparsePlan plan;
        plan.order = {0, 1, 2, 3};
        plan.blockOf = {0, 1};
        plan.levels = {
            {true, 2, {}, {}}, {false, 0, {0, 1, 2}, {1, 0}}, {true, 2, {}, {}}, {true, 2, {}, {}}};
        const std::vector<float> stored{1, 2, 3, 4, 5, 6, 7, 8};
        const std::vector<float> expected{0, 0, 1, 2, 0, 0, 3, 4, 5, 6, 0, 0, 7, 8, 0, 0};
        QCOMPARE(pose::dense(plan, {4, 4}, stored), expected);

        // A plan that does not fit is refused, whatever it claims.
        pose::SparsePlan outside = plan;
        outside.levels[1].positions = {1, 9};
        QVERIFY(pose::dense(outside, {4, 4}, stored).empty());
        pose::SparsePlan endless = plan;
        endless.levels[0].size = std::size_t{1} << 60;
        QVERIFY(pose::dense(endless, {4, 4}, stored).empty());
        QVERIFY(pose::dense(plan, {4, 4}, {1, 2, 3}).empty());
    }

    void aRegionIsCutOutWhereItLies() {
        // A bright dot in a dark picture comes out where the region says it is.
        film::Picture picture{640, 480, {}};
        picture.pixels.assign(std::size_t{640} * 480, 0xFF000000U);
        const model::Point2 dot{400.0, 150.0};
        constexpr int reach = 3;
        for (int y = -reach; y <= reach; ++y) {
            for (int x = -reach; x <= reach; ++x) {
                picture.pixels[static_cast<std::size_t>((150 + y) * 640 + 400 + x)] = 0xFFFFFFFFU;
            }
        }
        for (const double turn : {0.0, 0.4, -1.2}) {
            for (const double side : {200.0, 900.0}) {
                const pose::PoseRegion region{{380.0, 200.0}, side, turn};
                constexpr int size = 256;
                std::vector<float> cut(std::size_t{3} * size * size);
                pose::cutOut(picture, region, size, 0.0F, 1.0F, cut);
                double weight = 0.0;
                model::Point2 sum;
                for (int y = 0; y < size; ++y) {
                    for (int x = 0; x < size; ++x) {
                        const double light = cut[static_cast<std::size_t>(3 * (y * size + x))];
                        weight += light;
                        sum = sum + model::Point2{(x + 0.5) / size, (y + 0.5) / size} * light;
                    }
                }
                const model::Point2 found = pose::inPicture(region, sum.x / weight, sum.y / weight);
                QVERIFY2(length(found - dot) < 0.1 * side / size + 0.05,
                         qPrintable(QString("%1 pixels off").arg(length(found - dot))));
            }
        }
    }

    void damagedNetworkFilesAreRefusedInWords() {
        const auto file = pose::poseFile(pose::poseDirectory(), pose::PoseSize::lite);
        QVERIFY2(std::filesystem::exists(file),
                 "the pose networks were not fetched: run tools/fetch-pose-networks");
        const std::vector<char> whole = bytesOf(file);
        std::mt19937 random(11);
        int refused = 0;
        constexpr int tries = 150;
        for (int i = 0; i < tries; ++i) {
            std::vector<char> damaged = whole;
            if (i % 5 == 0) {
                damaged.resize(random() % whole.size());
            }
            // The structure lies at the beginning and the end; weights may be anything.
            for (int hit = 0; hit < 12; ++hit) {
                const std::size_t at =
                    random() % 2 == 0 ? random() % 4096 : whole.size() - 1 - random() % 60000;
                if (at < damaged.size()) {
                    damaged[at] = static_cast<char>(random());
                }
            }
            try {
                pose::Network network(
                    pose::readNetwork(std::as_bytes(std::span(damaged)), "damaged"), 1);
            } catch (const model::InputError& error) {
                QVERIFY(!error.happened().empty());
                ++refused;
            } catch (const std::runtime_error&) {
                ++refused; // XNNPACK's own refusal of a combination it does not have
            }
        }
        QVERIFY2(refused > tries / 3, qPrintable(QString::number(refused)));
    }

    void aMissingNetworkIsNamed() {
        const std::string missing =
            words::plain(pose::missingNetworks("/nowhere", pose::PoseSize::heavy));
        QVERIFY(missing.find("/nowhere/person_detector.tflite") != std::string::npos);
        QVERIFY(missing.find("./kestrel build") != std::string::npos);
        QVERIFY(pose::missingNetworks(pose::poseDirectory(), pose::PoseSize::heavy).empty());
    }
};

QTEST_GUILESS_MAIN(TestNetworks)
#include "test_networks.moc"
