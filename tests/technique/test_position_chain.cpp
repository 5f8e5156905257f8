#include "support/coverage.h"
#include "technique/positions/position_chain.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;
using technique::PositionBelief;

namespace {

constexpr double second = 1.0 / technique::PoseSequence::step;

technique::LearnedTechnique threePositions() {
    technique::LearnedTechnique learned;
    learned.positions = {"first", "second", "third"};
    learned.gaps = {{model::Seconds(0.2), model::Seconds(0.5)},
                    {model::Seconds(0.1), model::Seconds(0.3)}};
    return learned;
}

/// A row with bumps of that weight at those instants, a little spread, and that share absent.
Eigen::RowVectorXd row(int instants, const std::vector<std::pair<double, double>>& bumps,
                       double absent, double sd = 1.0) {
    Eigen::RowVectorXd shares = Eigen::RowVectorXd::Constant(instants + 1, 1e-9);
    for (const auto& [at, weight] : bumps) {
        Eigen::RowVectorXd bump(instants);
        for (int i = 0; i < instants; ++i) {
            bump[i] = std::exp(-0.5 * (i - at) * (i - at) / sd / sd);
        }
        shares.head(instants) += weight * bump / bump.sum();
    }
    shares[instants] += absent;
    return shares / shares.sum();
}

Eigen::MatrixXd rows(const std::vector<Eigen::RowVectorXd>& all) {
    Eigen::MatrixXd matrix(static_cast<Eigen::Index>(all.size()), all.front().size());
    for (std::size_t i = 0; i < all.size(); ++i) {
        matrix.row(static_cast<Eigen::Index>(i)) = all[i];
    }
    return matrix;
}

bool near(double a, double b) {
    return std::abs(a - b) < 0.5;
}

} // namespace

/// All key positions of a rep together.
class TestPositionChain : public QObject {
    Q_OBJECT
  private slots:
    void plausibleOnesStayAsSeen();
    void theOthersSayWhichOfTwoMovements();
    void whatTheCoachSetLeadsTheOthers();
    void onlyTheEndsAreOutside();
    void farFromTheEndNothingIsOutside();
    void statedErrorsHold();
    void confidenceIsTheShareNearby();
    void nothingComesOfNothing();
};

void TestPositionChain::plausibleOnesStayAsSeen() {
    const auto beliefs = technique::positionBeliefs(
        rows({row(200, {{60.3, 1.0}}, 0.0), row(200, {{80.0, 1.0}}, 0.0, 3.0),
              row(200, {{92.0, 1.0}}, 0.0)}),
        threePositions());
    QVERIFY(std::abs(beliefs[0].instant - 60.3) < 0.15); // of a sixtieth of a second
    QVERIFY(std::abs(beliefs[1].instant - 80.0) < 0.15);
    QVERIFY(std::abs(beliefs[1].sd - 3.0) < 0.3);
    QVERIFY(beliefs[2].inside > 0.999);
}

void TestPositionChain::theOthersSayWhichOfTwoMovements() {
    // Seen alone the second position is rather at the other movement.
    const auto beliefs = technique::positionBeliefs(
        rows({row(300, {{60.0, 1.0}}, 0.0), row(300, {{80.0, 0.3}, {220.0, 0.7}}, 0.0),
              row(300, {{92.0, 0.9}, {230.0, 0.1}}, 0.0)}),
        threePositions());
    QVERIFY(near(beliefs[1].instant, 80.0));
    QVERIFY(beliefs[1].within(3.0) > 0.99);
}

void TestPositionChain::whatTheCoachSetLeadsTheOthers() {
    const Eigen::MatrixXd twice = rows({row(300, {{60.0, 0.9}, {200.0, 0.1}}, 0.0),
                                        row(300, {{80.0, 0.9}, {220.0, 0.1}}, 0.0),
                                        row(300, {{92.0, 0.9}, {232.0, 0.1}}, 0.0)});
    const auto first = technique::positionBeliefs(twice, threePositions());
    const auto other = technique::positionBeliefs(twice, threePositions(), {{"third", 231.0}});
    QVERIFY(near(first[0].instant, 60.0) && near(first[1].instant, 80.0));
    QVERIFY(near(other[0].instant, 200.0) && near(other[1].instant, 220.0));
    QCOMPARE(other[2].instant, 231.0);
}

void TestPositionChain::onlyTheEndsAreOutside() {
    // The film begins between the first and the second.
    const auto late =
        technique::positionBeliefs(rows({row(200, {{30.0, 0.1}}, 0.9), row(200, {{5.0, 1.0}}, 0.0),
                                         row(200, {{17.0, 1.0}}, 0.0)}),
                                   threePositions());
    QVERIFY(late[0].inside < 0.01);
    QVERIFY(late[1].inside > 0.99);
    // One between two that are there is there.
    const auto between =
        technique::positionBeliefs(rows({row(200, {{60.0, 1.0}}, 0.0), row(200, {{80.0, 0.2}}, 0.8),
                                         row(200, {{92.0, 1.0}}, 0.0)}),
                                   threePositions());
    QVERIFY(between[1].inside > 0.99 && near(between[1].instant, 80.0));
}

void TestPositionChain::farFromTheEndNothingIsOutside() {
    // The film goes on for seconds after the second: the third is in it, though hardly seen.
    const auto beliefs =
        technique::positionBeliefs(rows({row(300, {{60.0, 1.0}}, 0.0), row(300, {{80.0, 1.0}}, 0.0),
                                         row(300, {{92.0, 0.3}}, 0.7)}),
                                   threePositions());
    QVERIFY2(beliefs[2].inside > 0.99, qPrintable(QString::number(beliefs[2].inside)));
}

void TestPositionChain::statedErrorsHold() {
    // Instants drawn as the rows say.
    std::mt19937 random(9);
    int inside = 0;
    int all = 0;
    for (int rep = 0; rep < 300; ++rep) {
        std::vector<Eigen::RowVectorXd> seen;
        std::vector<double> truth;
        double at = 60.0;
        for (const double sd : {1.5, 2.5, 4.0}) {
            const double wanted = at;
            const double said = wanted + std::normal_distribution<>(0.0, sd)(random);
            truth.push_back(wanted);
            seen.push_back(row(250, {{said, 1.0}}, 0.0, sd));
            at += 0.25 * second * std::uniform_real_distribution<>(0.9, 1.15)(random);
        }
        technique::LearnedTechnique learned = threePositions();
        learned.gaps = {{model::Seconds(0.0), model::Seconds(0.6)},
                        {model::Seconds(0.0), model::Seconds(0.6)}};
        const auto beliefs = technique::positionBeliefs(rows(seen), learned);
        for (std::size_t i = 0; i < truth.size(); ++i) {
            inside += std::abs(beliefs[i].instant - truth[i]) <= model::coverage95 * beliefs[i].sd
                          ? 1
                          : 0;
            ++all;
        }
    }
    VERIFY_COVERAGE("instants drawn as the network says", inside, all);
}

void TestPositionChain::confidenceIsTheShareNearby() {
    PositionBelief belief;
    belief.instant = 5.0;
    belief.shares = {0.0, 0.0, 0.0, 0.0, 0.1, 0.6, 0.2, 0.0, 0.0, 0.1};
    QVERIFY(std::abs(belief.within(0.5) - 0.6) < 1e-9);
    QVERIFY(std::abs(belief.within(1.0) - 0.75) < 1e-9); // half of the neighbours' time
    QVERIFY(std::abs(belief.within(2.0) - 0.9) < 1e-9);
    QVERIFY(std::abs(belief.within(9.0) - 1.0) < 1e-9);
}

void TestPositionChain::nothingComesOfNothing() {
    QVERIFY(technique::positionBeliefs(Eigen::MatrixXd(0, 5), threePositions()).empty());
    QVERIFY(technique::positionBeliefs(Eigen::MatrixXd(3, 1), threePositions()).empty());
}

QTEST_APPLESS_MAIN(TestPositionChain)
#include "test_position_chain.moc"
