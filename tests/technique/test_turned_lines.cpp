#include "support/coverage.h"
#include "support/test_films.h"
#include "synth/placed_by_hand.h"

#include <QTest>

#include <cmath>
#include <map>
#include <random>

using namespace kestrel;
using model::Landmark;
using support::reading;

namespace {

/// A pitch from a view at 1080p; faults dialled in by turns, both hands.
synth::FilmSpec filmed(model::View view, int number) {
    synth::FilmSpec spec = support::rightHander().spec;
    spec.width = 1920;
    spec.height = 1080;
    spec.camera.view = view;
    spec.player.seed = static_cast<std::uint32_t>(900 + number);
    spec.player.hand = number % 2 == 0 ? model::Hand::right : model::Hand::left;
    spec.player.build.heightM = 1.35 + 0.06 * (number % 7);
    if (number % 3 == 1) {
        spec.player.dials["early_pelvis"] = 20.0 + 5.0 * (number % 4);
    } else if (number % 3 == 2) {
        spec.player.dials["twist_not_undone"] = 20.0;
    }
    return spec;
}

struct Count {
    int read = 0;
    int within = 0;
    int all = 0;
    double square = 0.0;
};

} // namespace

/// Headings and separation read from one view, against the bones in space.
class TestTurnedLines : public QObject {
    Q_OBJECT
  private slots:
    void readingsHoldTheTruth_data() {
        QTest::addColumn<int>("view");
        QTest::newRow("open side") << static_cast<int>(model::View::openSide);
        QTest::newRow("closed side") << static_cast<int>(model::View::closedSide);
        QTest::newRow("front") << static_cast<int>(model::View::front);
        QTest::newRow("rear") << static_cast<int>(model::View::rear);
    }
    void readingsHoldTheTruth() {
        QFETCH(int, view);
        std::mt19937 random(41);
        std::map<std::string, Count> counts;
        constexpr int films = 24;
        for (int number = 0; number < films; ++number) {
            const synth::FilmSpec spec = filmed(static_cast<model::View>(view), number);
            const synth::FilmScene scene(spec);
            model::Rep rep = synth::placedRep(spec, 1.5, random);
            rep.bodyTurns = synth::trueTurns(scene);
            technique::Circumstances c = support::openSide(spec);
            c.view = static_cast<model::View>(view);
            const auto readings = technique::evaluate(support::pitchPack(), rep, c);
            const auto truth = synth::trueMeasures(scene);
            for (const char* id : {"plant_separation", "plant_pelvis_turn"}) {
                const model::Reading& r = reading(readings, id);
                Count& count = counts[id];
                ++count.all;
                if (!r.value) {
                    QCOMPARE(r.missing->kind, model::MissingReason::Kind::foreshortened);
                    continue;
                }
                ++count.read;
                const double miss = *r.value - truth.at(id);
                count.square += miss * miss;
                count.within += std::abs(miss) <= r.u95 ? 1 : 0;
            }
        }
        for (const auto& [id, count] : counts) {
            const double rms = std::sqrt(count.square / std::max(1, count.read));
            const QString said = QString("%1: %2 of %3 read, rms %4, %5 inside")
                                     .arg(id.c_str())
                                     .arg(count.read)
                                     .arg(count.all)
                                     .arg(rms)
                                     .arg(count.within);
            qInfo("%s", qPrintable(said));
            QVERIFY2(count.read >= 0.7 * count.all, qPrintable(said));
            QVERIFY2(rms <= 8.0, qPrintable(said));
            VERIFY_COVERAGE(QString("%1, %2").arg(id.c_str()).arg(QTest::currentDataTag()),
                            count.within, count.read);
        }
    }

    /// Without a word on which end is nearer nothing is said of a line that could be turned either
    /// way, and the reason says what helps.
    void eitherWayIsNotSaid() {
        const synth::FilmSpec spec = filmed(model::View::openSide, 0);
        model::Rep rep = support::trueRep(spec);
        for (auto& [frame, points] : rep.landmarks) {
            for (auto& [landmark, point] : points) {
                point.sdPx = 1.5;
            }
        }
        const auto readings =
            technique::evaluate(support::pitchPack(), rep, support::openSide(spec));
        const model::Reading& turn = reading(readings, "plant_pelvis_turn");
        QVERIFY(!turn.value);
        QCOMPARE(turn.missing->why.id, std::string("turn.either_way"));
        // The coach's word is enough, and the other word is the mirror image.
        const auto said = [&](model::Side nearer) {
            rep.nearerEnds["foot_plant"][model::BodyLine::hips] = nearer;
            return *reading(technique::evaluate(support::pitchPack(), rep, support::openSide(spec)),
                            "plant_pelvis_turn")
                        .value;
        };
        const double truth = synth::trueMeasures(synth::FilmScene(spec)).at("plant_pelvis_turn");
        QVERIFY(std::abs(said(model::Side::right) - truth) < 8.0);
        QVERIFY(std::abs(said(model::Side::left) + truth) < 8.0);
    }
};

QTEST_GUILESS_MAIN(TestTurnedLines)
#include "test_turned_lines.moc"
