#include "study/motion_study.h"
#include "support/test_films.h"
#include "synth/placed_by_hand.h"
#include "technique/kinds/measure_kind.h"
#include "technique/kinds/sequence.h"
#include "words/words.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;
using technique::LinkStep;

namespace {

/// The skilled player of a pack filmed from its open side at 1080p.
synth::FilmSpec filmed(const technique::Pack& pack, double rate) {
    synth::FilmSpec spec = support::rightHander().spec;
    spec.player.technique = pack.id;
    spec.player.dials.clear();
    spec.width = 1920;
    spec.height = 1080;
    spec.captureRate = rate;
    spec.fileRate = {static_cast<int>(rate), 1};
    return spec;
}

} // namespace

/// Which part is fastest when, against the bones of the synthetic player.
class TestSequence : public QObject {
    Q_OBJECT
  private slots:
    void orderIsRightWhereItIsTold_data() {
        QTest::addColumn<double>("rate");
        QTest::newRow("30") << 30.0;
        QTest::newRow("120") << 120.0;
        QTest::newRow("240") << 240.0;
    }
    void orderIsRightWhereItIsTold() {
        QFETCH(double, rate);
        constexpr int draws = 12;
        const study::SequenceStudy study =
            study::studySequence(support::shippedPacks(), rate, draws);
        qInfo("%g a second: %d steps, %d told, %d of them wrong, %d gaps inside their interval, "
              "%d of %d far ones told",
              rate, study.steps, study.told, study.wrong, study.gapsInside, study.farTold,
              study.far);
        QVERIFY(study.told > 0);
        QVERIFY(20 * study.wrong <= study.told); // right in 95 % of what is told
        if (rate >= 120.0) {
            QVERIFY(10 * study.gapsInside >= 9 * study.steps);
        }
    }

    /// A joint that opens before and after a hand that is 8 ms late: 30 a second cannot tell.
    void closePeaksAreNotTold() {
        const technique::Pack pack = support::pitchPack();
        const synth::FilmSpec spec = filmed(pack, 30.0);
        std::mt19937 random(5);
        model::Rep rep = synth::placedRep(spec, 1.5, random);
        rep.bodyTurns = synth::trueTurns(synth::FilmScene(spec));
        const auto read = technique::readSequence(pack, rep, support::openSide(spec));
        QVERIFY(!read.missing);
        for (const LinkStep& step : read.steps) {
            QVERIFY(std::abs(step.gapMs) > 1000.0 / 30.0 ||
                    step.order == LinkStep::Order::cannotTell);
        }
        // Links that are too short for the film say which rate would do.
        const bool rateIsSaid =
            std::any_of(read.links.begin(), read.links.end(), [](const auto& link) {
                return !link.peak && (link.refusal.id == "peak.too_short" ||
                                      link.refusal.id == "opening.too_short");
            });
        QVERIFY(rateIsSaid);
    }

    void reasonsInsteadOfCurves() {
        const technique::Pack pack = support::pitchPack();
        const synth::FilmSpec spec = filmed(pack, 120.0);
        const model::Rep rep = support::trueRep(spec);
        technique::Circumstances c = support::openSide(spec);
        c.view = model::View::front;
        QVERIFY(
            words::plain(technique::readSequence(pack, rep, c).missing->why).find("open side") !=
            std::string::npos);
        c = support::openSide(spec);
        c.captureRateKnown = false;
        QVERIFY(technique::readSequence(pack, rep, c).missing);
        technique::Pack without = pack;
        without.sequence.reset();
        QVERIFY(technique::readSequence(without, rep, support::openSide(spec)).missing);
    }

    /// At its own position's frame the course of a measure is its reading; the lead knee's flexion
    /// in the picture follows the bones in between.
    void courseOfAMeasure() {
        const technique::Pack pack = support::pitchPack();
        const synth::FilmSpec spec = filmed(pack, 120.0);
        const model::Rep rep = support::trueRep(spec);
        const technique::Circumstances c = support::openSide(spec);
        const auto readings = technique::evaluate(pack, rep, c);
        int followed = 0;
        for (const technique::Measure& measure : pack.measures) {
            const model::Reading& own = support::reading(readings, measure.id);
            const auto course =
                technique::courseOfMeasure(pack, rep, c, measure, {0, c.time.frameCount() - 1});
            if (measure.kind->as<technique::CourseKind>() != nullptr ||
                measure.kind->as<technique::TurningKind>() != nullptr ||
                measure.kind->as<technique::TimeKind>() != nullptr) {
                QVERIFY2(course.empty(), measure.id.c_str());
                continue;
            }
            const auto frame = model::frameOf(rep, measure.at);
            if (!own.value || !frame) {
                continue;
            }
            const double time = c.time.fieldTimes()[static_cast<std::size_t>(*frame)].value;
            const auto at = std::find_if(course.begin(), course.end(),
                                         [&](const auto& p) { return p.time == time; });
            if (at == course.end()) {
                continue;
            }
            ++followed;
            QVERIFY2(std::abs(at->value - *own.value) < 1e-9, measure.id.c_str());
            QVERIFY(at->sd <= own.uncertainty.combined() + 1e-9);
        }
        QVERIFY2(followed >= 8, std::to_string(followed).c_str());
    }
};

QTEST_GUILESS_MAIN(TestSequence)
#include "test_sequence.moc"
