#include "coaching/differences.h"
#include "support/made_readings.h"
#include "support/test_films.h"
#include "words/words.h"

#include <QTest>

#include <algorithm>
#include <cmath>
#include <random>

using namespace kestrel;
using coaching::Difference;
using coaching::InCommon;

/// Two reps side by side.
class TestDifferences : public QObject {
    Q_OBJECT
  private slots:
    void errorsOfTheirOwnAddUp() {
        const Difference d = trunkLean(30.0, 4.0, 24.0, 3.0, InCommon::nothing);
        QCOMPARE(d.by, 6.0);
        QVERIFY(std::abs(d.u95 - 5.0) < 1e-9);
        QVERIFY(d.told());
        QVERIFY(!trunkLean(30.0, 4.0, 25.5, 3.0, InCommon::nothing).told());
    }
    /// Errors of one film that are drawn as the readings say: part of them alike. The difference
    /// has to be right by that.
    void whatIsCommonCancels_data() {
        QTest::addColumn<int>("common");
        QTest::addColumn<double>("alike");
        QTest::newRow("one film") << static_cast<int>(InCommon::film) << 0.7;
        QTest::newRow("one player") << static_cast<int>(InCommon::player) << 0.35;
        QTest::newRow("nothing") << static_cast<int>(InCommon::nothing) << 0.0;
    }
    void whatIsCommonCancels() {
        QFETCH(const int, common);
        QFETCH(const double, alike);
        constexpr double sd = 6.0;
        std::mt19937 random(7);
        std::normal_distribution<double> normal;
        int inside = 0;
        constexpr int draws = 4000;
        for (int i = 0; i < draws; ++i) {
            const double both = std::sqrt(alike) * sd * normal(random);
            const auto own = [&] { return std::sqrt(1.0 - alike) * sd * normal(random); };
            const Difference d = bodyLean(30.0 + both + own(), 20.0 + both + own(), sd,
                                          static_cast<InCommon>(common));
            inside += std::abs(d.by - 10.0) <= d.u95 ? 1 : 0;
        }
        const double share = static_cast<double>(inside) / draws;
        QVERIFY2(share > 0.935 && share < 0.965, qPrintable(QString::number(share)));
    }
    void directionsGoTheShortWayRound() {
        QVERIFY(std::abs(trunkLean(175.0, 1.0, -175.0, 1.0, InCommon::nothing).by + 10.0) < 1e-9);
    }
    void whatIsReadInOneOnlyIsNotCompared() {
        const auto all = coaching::differencesOf(
            pack, {support::madeReading(pack, "release_trunk_lean", 30.0, 4.0)}, {},
            InCommon::nothing);
        QCOMPARE(all.size(), std::size_t{1});
        QVERIFY(!all.front().read() && !all.front().told() && all.front().here);
        const auto says = words::inWords(
            coaching::toldDifferences(pack, all, model::message("differ.than_model"), 4));
        QCOMPARE(says.size(), 1);
        QVERIFY(says.front().contains("could be read in both"));
    }
    void theMostIsToldFirstAndInWords() {
        const auto reading = [&](const char* id, double value) {
            return support::madeReading(pack, id, value, 3.0);
        };
        const auto all = coaching::differencesOf(
            pack, {reading("release_trunk_lean", 30.0), reading("plant_lead_knee", 150.0)},
            {reading("release_trunk_lean", 21.0), reading("plant_lead_knee", 150.5)},
            InCommon::nothing);
        QCOMPARE(all.size(), std::size_t{2});
        const auto says = words::inWords(
            coaching::toldDifferences(pack, all, model::message("differ.than_in", "Pitch 2"), 4));
        QCOMPARE(says.size(), 1); // the knee does not differ for certain
        QVERIFY2(says.front().contains(QStringLiteral("9 ± 5° more than in “Pitch 2”")),
                 qPrintable(says.front()));
        QVERIFY(says.front().startsWith("Release"));
    }
    void orderIsByPositionSizeOrPlan() {
        std::vector<model::Reading> here;
        std::vector<model::Reading> there;
        for (const technique::Measure& measure : pack.measures) {
            if (!measure.ranges.empty()) {
                here.push_back(support::madeReading(pack, measure.id, 10.0, 1.0));
                there.push_back(support::madeReading(
                    pack, measure.id, 10.0 + static_cast<double>(here.size() % 5), 1.0));
            }
        }
        const auto all = coaching::differencesOf(pack, here, there, InCommon::nothing);
        const auto bySize = coaching::ordered(pack, all, coaching::DifferenceOrder::bySize, {});
        QVERIFY(bySize.front().told() && !bySize.back().told());
        for (std::size_t i = 1; i < bySize.size(); ++i) {
            QVERIFY(bySize[i - 1].told() || !bySize[i].told());
        }
        const auto place = [&](const Difference& d) {
            return std::find_if(pack.positions.begin(), pack.positions.end(),
                                [&](const auto& p) { return p.id == d.positionId; }) -
                   pack.positions.begin();
        };
        const auto byPosition =
            coaching::ordered(pack, all, coaching::DifferenceOrder::byPosition, {});
        QVERIFY(std::is_sorted(byPosition.begin(), byPosition.end(),
                               [&](const auto& a, const auto& b) { return place(a) < place(b); }));
        const technique::FaultDefinition& fault = pack.faults.back();
        model::Plan plan;
        plan.focusFaultId = fault.id;
        const auto byPlan = coaching::ordered(pack, all, coaching::DifferenceOrder::byPlan, plan);
        const auto ofFault = [&](const Difference& d) {
            return std::any_of(fault.signs.begin(), fault.signs.end(),
                               [&](const auto& sign) { return sign.measure == d.measureId; });
        };
        const auto first = std::find_if_not(byPlan.begin(), byPlan.end(), ofFault);
        QVERIFY(std::none_of(first, byPlan.end(), ofFault));
    }
    void faultsAreSharedOut() {
        const auto findings = [](const std::vector<std::string>& ids) {
            model::Findings made;
            for (const std::string& id : ids) {
                model::Fault fault;
                fault.faultId = id;
                made.faults.push_back(fault);
            }
            return made;
        };
        const auto between =
            coaching::faultsBetween(findings({"a", "b"}), findings({"c", "b", "d"}));
        QCOMPARE(between.onlyHere, std::vector<std::string>{"a"});
        QCOMPARE(between.inBoth, std::vector<std::string>{"b"});
        QCOMPARE(between.onlyThere, (std::vector<std::string>{"c", "d"}));
    }

  private:
    const technique::Pack pack = support::pitchPack();

    [[nodiscard]] Difference of(const model::Reading& here, const model::Reading& there,
                                InCommon common) const {
        return coaching::differencesOf(pack, {here}, {there}, common).front();
    }
    [[nodiscard]] Difference trunkLean(double here, double here95, double there, double there95,
                                       InCommon common) const {
        return of(support::madeReading(pack, "release_trunk_lean", here, here95),
                  support::madeReading(pack, "release_trunk_lean", there, there95), common);
    }
    [[nodiscard]] Difference bodyLean(double here, double there, double sd, InCommon common) const {
        const auto reading = [&](double value) {
            model::Reading r =
                support::madeReading(pack, "release_trunk_lean", value, model::coverage95 * sd);
            r.uncertainty = {};
            r.uncertainty.body = sd;
            return r;
        };
        return of(reading(here), reading(there), common);
    }
};

QTEST_GUILESS_MAIN(TestDifferences)
#include "test_differences.moc"
