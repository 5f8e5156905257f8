#include "motion/geometry.h"
#include "support/placed_by_hand.h"
#include "support/test_films.h"
#include "technique/measure_kind.h"
#include "technique/roles.h"
#include "technique/sequence.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;
using model::Point2;
using technique::LinkStep;

namespace {

/// The skilled player of a pack filmed from its open side at 1080p.
demo::FilmSpec filmed(const technique::Pack& pack, double rate) {
    demo::FilmSpec spec = support::rightHander().spec;
    spec.player.technique = pack.id;
    spec.player.dials.clear();
    spec.width = 1920;
    spec.height = 1080;
    spec.captureRate = rate;
    spec.fileRate = {static_cast<int>(rate), 1};
    return spec;
}

/// A link's speed at a time from the bones: pixels or degrees a second, by central differences.
class TrueLink {
  public:
    TrueLink(const demo::FilmScene& scene, const technique::Pack& pack,
             const technique::SequenceLink& link)
        : scene_(scene), pack_(pack), link_(link) {}

    [[nodiscard]] double speed(double time) const {
        constexpr double step = 0.0005;
        if (link_.of == technique::SequenceLink::Of::speed) {
            return length(where(0, time + step) - where(0, time - step)) / (2.0 * step);
        }
        return (angle(time + step) - angle(time - step)) / (2.0 * step);
    }

    [[nodiscard]] double peakTime(double from, double to) const {
        constexpr double step = 0.0005;
        double best = from;
        for (double t = from; t <= to; t += step) {
            best = speed(t) > speed(best) ? t : best;
        }
        return best;
    }

  private:
    [[nodiscard]] Point2 where(std::size_t point, double time) const {
        const demo::Pose pose = scene_.motion().pose(time);
        Point2 sum;
        for (const auto& [role, weight] : link_.points[point].terms) {
            const auto landmark = technique::landmarkForRole(pack_, role, model::Hand::right);
            sum = sum + *scene_.camera(time).project(pose.at(*landmark)) * weight;
        }
        return sum;
    }
    [[nodiscard]] double angle(double time) const {
        return motion::interiorAngle(where(0, time), where(1, time), where(2, time)).value;
    }

    const demo::FilmScene& scene_;
    const technique::Pack& pack_;
    const technique::SequenceLink& link_;
};

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
        int told = 0;
        int wrong = 0;
        int gapsHeld = 0;
        int steps = 0;
        for (const technique::Pack& pack : support::shippedPacks()) {
            QVERIFY2(pack.sequence, pack.id.c_str());
            const technique::Sequence& sequence = *pack.sequence;
            const demo::FilmSpec spec = filmed(pack, rate);
            const demo::FilmScene scene(spec);
            const auto& events = scene.motion().events();
            const double from = events.at(sequence.from) + sequence.fromAfter.value;
            const double to = events.at(sequence.at) + sequence.atAfter.value;
            std::map<std::string, double> peaks;
            for (const technique::SequenceLink& link : sequence.links) {
                peaks[link.id] = TrueLink(scene, pack, link).peakTime(from, to);
            }
            technique::Circumstances circumstances = support::openSide(spec);
            std::mt19937 random(41);
            constexpr int draws = 12;
            for (int draw = 0; draw < draws; ++draw) {
                const model::Rep rep = support::placedRep(spec, 1.5, random);
                const auto read = technique::readSequence(pack, rep, circumstances);
                QVERIFY2(!read.missing, read.missing ? read.missing->text.c_str() : "");
                for (const LinkStep& step : read.steps) {
                    const double truth = 1000.0 * (peaks.at(step.later) - peaks.at(step.earlier));
                    ++steps;
                    gapsHeld += std::abs(step.gapMs - truth) <= step.u95Ms ? 1 : 0;
                    if (step.order == LinkStep::Order::cannotTell) {
                        continue;
                    }
                    ++told;
                    const bool right = (step.order == LinkStep::Order::follows) == (truth > 0.0);
                    if (!right) {
                        ++wrong;
                        qInfo("%s %s→%s: said %.0f ± %.0f, true %.0f ms", pack.id.c_str(),
                              step.earlier.c_str(), step.later.c_str(), step.gapMs, step.u95Ms,
                              truth);
                    }
                }
            }
        }
        qInfo("%g a second: %d steps, %d told, %d of them wrong, %d gaps inside their interval",
              rate, steps, told, wrong, gapsHeld);
        QVERIFY(wrong <= told / 20);
        if (rate >= 120.0) {
            QVERIFY(told > 0);
            QVERIFY(10 * gapsHeld >= 9 * steps);
        }
    }

    /// A joint that opens before and after a hand that is 8 ms late: 30 a second cannot tell.
    void closePeaksAreNotTold() {
        const technique::Pack pack = support::pitchPack();
        const demo::FilmSpec spec = filmed(pack, 30.0);
        std::mt19937 random(5);
        const model::Rep rep = support::placedRep(spec, 1.5, random);
        const auto read = technique::readSequence(pack, rep, support::openSide(spec));
        QVERIFY(!read.missing);
        for (const LinkStep& step : read.steps) {
            QVERIFY(std::abs(step.gapMs) > 1000.0 / 30.0 ||
                    step.order == LinkStep::Order::cannotTell);
        }
        // Links that are too short for the film say which rate would do.
        const auto refused = std::find_if(read.links.begin(), read.links.end(),
                                          [](const auto& l) { return !l.peak; });
        QVERIFY(refused != read.links.end());
        QVERIFY(refused->refusal.find("Film with at least") != std::string::npos ||
                refused->refusal.find("no ") != std::string::npos);
    }

    void reasonsInsteadOfCurves() {
        const technique::Pack pack = support::pitchPack();
        const demo::FilmSpec spec = filmed(pack, 120.0);
        const model::Rep rep = support::trueRep(spec);
        technique::Circumstances c = support::openSide(spec);
        c.view = model::View::front;
        QVERIFY(technique::readSequence(pack, rep, c).missing->text.find("open side") !=
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
        const demo::FilmSpec spec = filmed(pack, 120.0);
        const model::Rep rep = support::trueRep(spec);
        const technique::Circumstances c = support::openSide(spec);
        const auto readings = technique::evaluate(pack, rep, c);
        int followed = 0;
        for (const technique::Measure& measure : pack.measures) {
            const model::Reading& own = support::reading(readings, measure.id);
            const auto course =
                technique::courseOfMeasure(pack, rep, c, measure, {0, c.time.frameCount() - 1});
            if (measure.kind->course != nullptr || measure.kind == &technique::timeKind()) {
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
