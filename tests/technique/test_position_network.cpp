#include "model/input_error.h"
#include "support/test_films.h"
#include "technique/positions/position_network.h"

#include <QTemporaryDir>
#include <QTest>

#include <bit>
#include <cmath>
#include <fstream>
#include <random>

using namespace kestrel;
using technique::PoseSequence;

namespace {

constexpr int channels = 3;
constexpr int dilations[] = {1, 2};

/// A small network with drawn weights, all of which half precision has exactly; they are written in
/// the order in which they are drawn.
class SmallNetwork {
  public:
    explicit SmallNetwork(const std::filesystem::path& file) {
        std::ofstream out(file, std::ios::binary);
        out << R"({"rows": 65, "channels": 3, "dilations": [1, 2], "techniques": {)"
            << R"("a": {"positions": ["one", "two"], "gaps_s": [[0.1, 0.4]]}, )"
            << R"("b": {"positions": ["only"], "gaps_s": []}}})" << '\n';
        begin = layer(out, channels, 2 * PoseSequence::rowCount + 2);
        for (int i = 0; i < 2; ++i) {
            around.push_back(layer(out, channels, 3 * channels));
            mixed.push_back(layer(out, channels, channels));
        }
        end = layer(out, 6, channels);
        absent = numbers(out, 3);
    }

    struct Layer {
        std::vector<std::vector<double>> weights;
        std::vector<double> bias;
    };
    Layer begin;
    std::vector<Layer> around;
    std::vector<Layer> mixed;
    Layer end;
    std::vector<double> absent;

    static std::vector<double> through(const Layer& layer, const std::vector<double>& x) {
        std::vector<double> y = layer.bias;
        for (std::size_t o = 0; o < y.size(); ++o) {
            for (std::size_t i = 0; i < x.size(); ++i) {
                y[o] += layer.weights[o][i] * x[i];
            }
        }
        return y;
    }

  private:
    std::vector<double> numbers(std::ostream& out, int count) {
        std::vector<double> values;
        for (int i = 0; i < count; ++i) {
            const double value = std::round(std::normal_distribution<>(0.0, 24.0)(random_)) / 64.0;
            const auto bits = std::bit_cast<std::uint16_t>(Eigen::half(static_cast<float>(value)));
            out.put(static_cast<char>(bits & 0xFFU)).put(static_cast<char>(bits >> 8U));
            values.push_back(value);
        }
        return values;
    }
    Layer layer(std::ostream& out, int outputs, int inputs) {
        Layer drawn;
        for (int o = 0; o < outputs; ++o) {
            drawn.weights.push_back(numbers(out, inputs));
        }
        drawn.bias = numbers(out, outputs);
        return drawn;
    }

    std::mt19937 random_{5};
};

double positive(double x) {
    return std::max(0.0, x);
}

/// What the network says by its definition, one number after the other.
std::vector<std::vector<double>> byHand(const SmallNetwork& net, const PoseSequence& sequence,
                                        int which) {
    const int steps = (sequence.instants() + 1) / 2;
    std::vector<std::vector<double>> h;
    for (int s = 0; s < steps; ++s) {
        std::vector<double> x(2 * PoseSequence::rowCount + 2, 0.0);
        for (int i = 0; i < 2 && 2 * s + i < sequence.instants(); ++i) {
            for (int r = 0; r < PoseSequence::rowCount; ++r) {
                x[static_cast<std::size_t>(i * PoseSequence::rowCount + r)] =
                    static_cast<double>(sequence.rows(r, 2 * s + i));
            }
        }
        x[static_cast<std::size_t>(2 * PoseSequence::rowCount + which)] = 1.0;
        h.push_back(SmallNetwork::through(net.begin, x));
        std::transform(h.back().begin(), h.back().end(), h.back().begin(), positive);
    }
    for (std::size_t b = 0; b < 2; ++b) {
        auto next = h;
        for (int s = 0; s < steps; ++s) {
            std::vector<double> x;
            for (const int at : {s - dilations[b], s, s + dilations[b]}) {
                const std::vector<double> there = at >= 0 && at < steps
                                                      ? h[static_cast<std::size_t>(at)]
                                                      : std::vector<double>(channels, 0.0);
                x.insert(x.end(), there.begin(), there.end());
            }
            auto y = SmallNetwork::through(net.around[b], x);
            std::transform(y.begin(), y.end(), y.begin(), positive);
            y = SmallNetwork::through(net.mixed[b], y);
            for (std::size_t c = 0; c < y.size(); ++c) {
                next[static_cast<std::size_t>(s)][c] += y[c];
            }
        }
        h = next;
    }
    std::vector<std::vector<double>> out;
    for (int i = 0; i < sequence.instants(); ++i) {
        const auto both = SmallNetwork::through(net.end, h[static_cast<std::size_t>(i / 2)]);
        out.emplace_back(both.begin() + 3 * (i % 2), both.begin() + 3 * (i % 2) + 3);
    }
    out.push_back(net.absent);
    return out;
}

PoseSequence drawnSequence(int instants) {
    std::mt19937 random(3);
    std::normal_distribution<float> normal(0.0F, 0.3F);
    PoseSequence sequence;
    sequence.rows = Eigen::MatrixXf::NullaryExpr(PoseSequence::rowCount, instants,
                                                 [&] { return normal(random); });
    return sequence;
}

} // namespace

/// The network that finds key positions: its file, and that it is computed as it is defined.
class TestPositionNetwork : public QObject {
    Q_OBJECT
  private slots:
    void isComputedAsDefined_data();
    void isComputedAsDefined();
    void theOneThatShipsKnowsThePacks();
    void damagedFilesAreRefused();
    void aPositionItDoesNotKnowIsRefused();

  private:
    QTemporaryDir folder_;
};

void TestPositionNetwork::isComputedAsDefined_data() {
    QTest::addColumn<QString>("technique");
    QTest::addColumn<int>("instants");
    QTest::newRow("first technique") << "a" << 12;
    QTest::newRow("second technique, odd number of instants") << "b" << 9;
    QTest::newRow("shorter than what it looks around") << "a" << 1;
}

void TestPositionNetwork::isComputedAsDefined() {
    QFETCH(QString, technique);
    QFETCH(int, instants);
    const auto file = std::filesystem::path(folder_.filePath("small.net").toStdString());
    const SmallNetwork drawn(file);
    const auto network = technique::readPositionNetwork(file);
    const auto& learned = network.techniques.at(technique.toStdString());
    QCOMPARE(learned.which, technique == "a" ? 0 : 1);
    const PoseSequence sequence = drawnSequence(instants);
    const Eigen::MatrixXd shares = technique::positionProbabilities(network, learned, sequence);
    const auto wanted = byHand(drawn, sequence, learned.which);
    QCOMPARE(shares.rows(), static_cast<Eigen::Index>(learned.positions.size()));
    QCOMPARE(shares.cols(), static_cast<Eigen::Index>(instants + 1));
    for (Eigen::Index p = 0; p < shares.rows(); ++p) {
        const auto head = static_cast<std::size_t>(learned.firstHead + p);
        double sum = 0.0;
        for (const auto& instant : wanted) {
            sum += std::exp(instant[head]);
        }
        for (std::size_t i = 0; i < wanted.size(); ++i) {
            const double share = std::exp(wanted[i][head]) / sum;
            QVERIFY2(std::abs(shares(p, static_cast<Eigen::Index>(i)) - share) < 1e-4,
                     qPrintable(QString("%1 instead of %2")
                                    .arg(shares(p, static_cast<Eigen::Index>(i)))
                                    .arg(share)));
        }
    }
}

void TestPositionNetwork::theOneThatShipsKnowsThePacks() {
    for (const technique::Pack& pack : support::shippedPacks()) {
        QVERIFY2(pack.network != nullptr, pack.id.c_str());
        const auto& learned = pack.network->techniques.at(pack.id);
        QCOMPARE(learned.gaps.size() + 1, learned.positions.size());
        QCOMPARE(learned.positions.size(), pack.positions.size());
        for (const auto& gap : learned.gaps) {
            QVERIFY(gap.least < gap.most);
        }
    }
}

void TestPositionNetwork::damagedFilesAreRefused() {
    const auto file = std::filesystem::path(folder_.filePath("small.net").toStdString());
    const SmallNetwork drawn(file);
    std::ifstream in(file, std::ios::binary);
    const std::string whole{std::istreambuf_iterator<char>(in), {}};
    const auto refused = [&](const std::string& content) {
        const auto bad = std::filesystem::path(folder_.filePath("bad.net").toStdString());
        std::ofstream(bad, std::ios::binary) << content;
        try {
            technique::readPositionNetwork(bad);
        } catch (const model::InputError&) {
            return true;
        }
        return false;
    };
    QVERIFY(!refused(whole));
    QVERIFY(refused(""));
    QVERIFY(refused("{}\n"));
    QVERIFY(refused(whole.substr(0, whole.size() - 2)));
    std::string rows = whole;
    rows.replace(rows.find("65"), 2, "64");
    QVERIFY(refused(rows));
    std::string many = whole;
    many.replace(many.find("\"channels\": 3"), 13, "\"channels\": 9e9");
    QVERIFY(refused(many));
    QVERIFY_THROWS_EXCEPTION(model::InputError,
                             technique::readPositionNetwork("/nowhere/positions.net"));
}

void TestPositionNetwork::aPositionItDoesNotKnowIsRefused() {
    const technique::Pack pitch = support::pitchPack();
    std::string text = pitch.text;
    const std::string id = "{\"id\": \"balance_end\"";
    QVERIFY(text.find(id) != std::string::npos);
    for (std::size_t at = text.find("balance_end"); at != std::string::npos;
         at = text.find("balance_end", at)) {
        text.replace(at, 11, "balance_lost");
    }
    try {
        technique::packFromText(text, "own.json", technique::packSchema(KESTREL_PACKS));
        QFAIL("taken");
    } catch (const model::InputError&) {
    }
    const std::string flag = "\"lasts_ms\": 60, \"learned\": true";
    const std::size_t at = text.find(flag, text.find("balance_lost"));
    QVERIFY(at != std::string::npos);
    text.replace(at, flag.size(), "\"lasts_ms\": 60");
    const auto own =
        technique::packFromText(text, "own.json", technique::packSchema(KESTREL_PACKS));
    QVERIFY(!technique::findPosition(own, "balance_lost")->learned);
}

QTEST_APPLESS_MAIN(TestPositionNetwork)
#include "test_position_network.moc"
