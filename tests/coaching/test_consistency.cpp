#include "coaching/consistency.h"
#include "support/test_films.h"
#include "synth/placed_by_hand.h"

#include <QTest>

#include <cmath>
#include <map>
#include <random>

using namespace kestrel;

namespace {

model::Reading made(const std::string& id, std::optional<double> value, double placement,
                    std::optional<model::Range> range) {
    model::Reading r;
    r.measureId = id;
    r.value = value;
    r.uncertainty.placement = placement;
    r.range = range;
    return r;
}

} // namespace

/// How well a player repeats, from readings and from films whose truth is known.
class TestConsistency : public QObject {
    Q_OBJECT
  private slots:
    void scatterIsSplitIntoThePlayersAndTheReadings() {
        const technique::Pack pack = support::pitchPack();
        const model::Range knee{35.0, 60.0};
        std::vector<std::vector<model::Reading>> reps;
        for (const double value : {40.0, 46.0, 52.0}) { // mean 46, sd 6
            reps.push_back({made("plant_lead_knee", value, 3.0, knee),
                            made("release_trunk_lean", 30.0, 2.0, model::Range{25.0, 45.0}),
                            made("release_glove", value / 100.0, 0.0, model::Range{{}, 0.2}),
                            made("stride_trail_knee",
                                 value < 50.0 ? std::optional(20.0) : std::nullopt, 1.0, {})});
        }
        const auto all = coaching::consistencyOf(pack, reps);
        QCOMPARE(all.size(), std::size_t{3}); // the trail knee was read twice only
        QCOMPARE(all.front().measureId, std::string("plant_lead_knee"));
        QCOMPARE(all.front().reps, 3);
        QVERIFY(std::abs(all.front().mean - 46.0) < 1e-9);
        QVERIFY(std::abs(all.front().sd - 6.0) < 1e-9);
        QVERIFY(std::abs(all.front().ofPlayer - std::sqrt(27.0)) < 1e-9);
        QVERIFY(std::abs(*all.front().shareOfRange - std::sqrt(27.0) / 25.0) < 1e-9);
        // No scatter beyond what the readings have is the player's; an open range ranks nothing.
        QCOMPARE(all[1].measureId, std::string("release_trunk_lean"));
        QCOMPARE(all[1].ofPlayer, 0.0);
        QVERIFY(!all[2].shareOfRange);
        QVERIFY(coaching::consistencyOf(pack, {reps[0], reps[1]}).empty());
    }

    /// Twelve pitches that vary from rep to rep as the synthetic player does: the player's own
    /// scatter comes out near the bones', though every click is 1.5 pixels off.
    void theSyntheticPlayersScatterComesOut() {
        std::mt19937 random(5);
        std::vector<std::vector<model::Reading>> reps;
        std::map<std::string, std::vector<double>> truths;
        constexpr int pitches = 12;
        for (int i = 0; i < pitches; ++i) {
            synth::FilmSpec spec = support::rightHander().spec;
            spec.width = 1920;
            spec.height = 1080;
            spec.player.seed = static_cast<std::uint32_t>(60 + i);
            const synth::FilmScene scene(spec);
            const model::Rep rep = synth::placedRep(spec, 1.5, random);
            reps.push_back(technique::evaluate(support::pitchPack(), rep, support::openSide(spec)));
            for (const auto& [id, value] : synth::trueMeasures(scene)) {
                truths[id].push_back(value);
            }
        }
        const auto all = coaching::consistencyOf(support::pitchPack(), reps);
        int compared = 0;
        for (const char* id :
             {"plant_lead_knee", "plant_stride_length", "release_trunk_lean", "plant_elbow"}) {
            const auto found = std::find_if(all.begin(), all.end(),
                                            [&](const auto& r) { return r.measureId == id; });
            QVERIFY2(found != all.end(), id);
            double mean = 0.0;
            for (const double value : truths.at(id)) {
                mean += value / pitches;
            }
            double square = 0.0;
            for (const double value : truths.at(id)) {
                square += (value - mean) * (value - mean);
            }
            const double truth = std::sqrt(square / (pitches - 1));
            qInfo("%s: the player's %.3f, true %.3f, all %.3f", id, found->ofPlayer, truth,
                  found->sd);
            // A standard deviation of twelve is itself known to some 20 %; clicks add to it.
            QVERIFY2(std::abs(found->ofPlayer - truth) < 0.5 * truth + 0.7 * found->ofReading, id);
            ++compared;
        }
        QCOMPARE(compared, 4);
    }
};

QTEST_GUILESS_MAIN(TestConsistency)
#include "test_consistency.moc"
