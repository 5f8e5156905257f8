#include "support/coverage.h"
#include "support/test_films.h"
#include "synth/placed_by_hand.h"
#include "technique/kinds/measure_kind.h"
#include "words/words.h"

#include <QTest>

#include <cmath>
#include <functional>
#include <random>

using namespace kestrel;
using model::Landmark;
using model::Point2;
using support::reading;

namespace {

/// A right-handed pitcher filmed from the open side at 1080p.
synth::FilmSpec filmed(double rate) {
    synth::FilmSpec spec = support::rightHander().spec;
    spec.width = 1920;
    spec.height = 1080;
    spec.captureRate = rate;
    spec.fileRate = {static_cast<int>(rate), 1};
    return spec;
}

/// Hand after shoulders after hips, and what else reads a stretch of time, as measures of a pack.
technique::Pack packOf(const std::vector<technique::Measure>& measures) {
    technique::Pack pack = support::pitchPack();
    pack.measures = measures;
    return pack;
}

technique::PointExpression middle(const char* of) {
    return {{{std::string("lead_") + of, 0.5}, {std::string("trail_") + of, 0.5}}, ""};
}
technique::PointExpression wrist() {
    return {{{"throwing_wrist", 1.0}}, ""};
}

technique::Measure over(const char* kind, std::vector<technique::PointExpression> points) {
    technique::Measure m;
    m.id = kind;
    m.kind = technique::findKind(kind);
    m.unit = m.kind->unit;
    m.from = "foot_plant";
    m.at = "release";
    m.fromAfter = model::Seconds(-0.15);
    m.atAfter = model::Seconds(0.05);
    m.points = std::move(points);
    m.views = {model::View::openSide};
    return m;
}

using Where = std::function<Point2(double time)>;

/// Where a true landmark is in the picture at any time.
Where trueWhere(const synth::FilmScene& scene, std::vector<Landmark> landmarks) {
    return [&scene, landmarks = std::move(landmarks)](double time) {
        const synth::Pose pose = scene.motion().pose(time);
        Point2 sum;
        for (const Landmark landmark : landmarks) {
            sum = sum + *scene.camera(time).project(pose.at(landmark)) *
                            (1.0 / static_cast<double>(landmarks.size()));
        }
        return sum;
    };
}

struct TruePeak {
    double time = 0.0;
    double speed = 0.0; ///< pixels per second
};

/// By going through the stretch in steps of a quarter millisecond.
TruePeak truePeak(const Where& where, double from, double to) {
    constexpr double step = 0.00025;
    TruePeak peak;
    for (double t = from; t <= to; t += step) {
        const double speed = length(where(t + step) - where(t - step)) / (2.0 * step);
        if (speed > peak.speed) {
            peak = {t, speed};
        }
    }
    return peak;
}

const std::vector<Landmark> hips{Landmark::leftHip, Landmark::rightHip};
const std::vector<Landmark> shoulders{Landmark::leftShoulder, Landmark::rightShoulder};
const std::vector<Landmark> hand{Landmark::rightWrist};

} // namespace

/// Kinds that read a stretch of time, against what is known of the synthetic player's motion.
class TestCourse : public QObject {
    Q_OBJECT
  private slots:
    void peaksAgreeWithTheTruth_data() {
        QTest::addColumn<double>("rate");
        QTest::addColumn<double>("sd");
        QTest::newRow("120, careful") << 120.0 << 1.5;
        QTest::newRow("240, careful") << 240.0 << 1.5;
        QTest::newRow("120, rough") << 120.0 << 2.5;
    }
    void peaksAgreeWithTheTruth() {
        QFETCH(double, rate);
        QFETCH(double, sd);
        const synth::FilmSpec spec = filmed(rate);
        const synth::FilmScene scene(spec);
        const auto& events = scene.motion().events();
        const double from = events.at("foot_plant") - 0.15;
        const double to = events.at("release") + 0.05;
        const TruePeak body = truePeak(trueWhere(scene, shoulders), from, to);
        const TruePeak throwing = truePeak(trueWhere(scene, hand), from, to);
        const technique::Pack pack = packOf({over("peak_after", {middle("shoulder"), wrist()})});
        std::mt19937 random(23);
        const double wanted = 1000.0 * (throwing.time - body.time);
        int within = 0;
        int read = 0;
        int claimedWrong = 0;
        constexpr int draws = 40;
        for (int draw = 0; draw < draws; ++draw) {
            const auto readings = technique::evaluate(pack, synth::placedRep(spec, sd, random),
                                                      support::openSide(spec));
            const model::Reading& after = readings.front();
            if (!after.value) {
                continue;
            }
            ++read;
            within += std::abs(*after.value - wanted) <= after.u95 ? 1 : 0;
            // An order is claimed where the interval does not hold zero.
            claimedWrong +=
                std::abs(*after.value) > after.u95 && *after.value * wanted < 0.0 ? 1 : 0;
        }
        QVERIFY2(read >= 0.9 * draws, qPrintable(QString::number(read)));
        VERIFY_COVERAGE(QString("time between peaks, ") + QTest::currentDataTag(), within, read);
        QCOMPARE(claimedWrong, 0);
    }

    void slowFilmIsRefusedAndSaysWhichRateWouldDo() {
        const synth::FilmSpec spec = filmed(30.0);
        std::mt19937 random(1);
        const auto readings =
            technique::evaluate(packOf({over("peak_speed", {wrist()})}),
                                synth::placedRep(spec, 1.5, random), support::openSide(spec));
        const model::Reading& speed = reading(readings, "peak_speed");
        QVERIFY(!speed.value);
        QCOMPARE(speed.missing->kind, model::MissingReason::Kind::tooFewFrames);
        QVERIFY2(words::plain(speed.missing->why).find("30 frames a second") != std::string::npos,
                 words::plain(speed.missing->why).c_str());
        QCOMPARE(speed.missing->why.id, std::string("peak.too_short"));
    }

    void withoutLandmarksInEveryFrameItSaysSo() {
        const synth::FilmSpec spec = filmed(120.0);
        model::Rep rep = support::trueRep(spec);
        model::LandmarkTrack keyFrames;
        for (const auto& [id, frame] : rep.positions) {
            keyFrames[frame] = rep.landmarks[frame];
        }
        rep.landmarks = keyFrames;
        const auto readings = technique::evaluate(packOf({over("peak_speed", {wrist()})}), rep,
                                                  support::openSide(spec));
        const model::Reading& speed = reading(readings, "peak_speed");
        QCOMPARE(speed.missing->kind, model::MissingReason::Kind::landmarkNotPlaced);
        QVERIFY(words::plain(speed.missing->why).find("throwing wrist") != std::string::npos);
        QCOMPARE(speed.missing->why.id, std::string("course.too_few_frames"));
    }

    void speedsStraightnessAndDriftAgreeWithTheTruth() {
        const synth::FilmSpec spec = filmed(240.0);
        const synth::FilmScene scene(spec);
        const auto& events = scene.motion().events();
        const double from = events.at("foot_plant") - 0.15;
        const double to = events.at("release") + 0.05;
        const technique::Pack pack =
            packOf({over("peak_speed", {wrist()}), over("path_straightness", {wrist()}),
                    over("drift", {{{{"head", 1.0}}, ""}})});
        constexpr double step = 0.0005;
        const Where handAt = trueWhere(scene, hand);
        const Where headAt = trueWhere(scene, {Landmark::head});
        double way = 0.0;
        double farthest = 0.0;
        for (double t = from; t < to; t += step) {
            way += length(handAt(t + step) - handAt(t));
            farthest = std::max(farthest, length(headAt(t) - headAt(from)));
        }
        // Pixels of a body height at the player's distance.
        const synth::Vector ground = scene.motion().pose(0.0).at(Landmark::leftHip);
        const synth::Vector above = ground + synth::Vector(0.0, 0.0, scene.motion().heightM());
        const double heightPx =
            length(*scene.camera(0.0).project(above) - *scene.camera(0.0).project(ground));
        std::mt19937 random(7);
        const auto readings =
            technique::evaluate(pack, synth::placedRep(spec, 1.5, random), support::openSide(spec));
        const auto check = [&](const char* id, double wanted, double most) {
            const model::Reading& r = reading(readings, id);
            QVERIFY2(r.value, r.missing ? words::plain(r.missing->why).c_str() : id);
            QVERIFY2(
                std::abs(*r.value - wanted) <= most,
                qPrintable(
                    QString("%1: %2 ± %3, true %4").arg(id).arg(*r.value).arg(r.u95).arg(wanted)));
            QVERIFY(!r.constructs.empty() && r.constructs.front().shapes.size() > 10);
        };
        const double fastest = truePeak(handAt, from, to).speed / heightPx;
        check("peak_speed", fastest, 0.06 * fastest);
        check("path_straightness", 100.0 * length(handAt(to) - handAt(from)) / way, 4.0);
        check("drift", farthest / (0.130 * heightPx), 0.15);
    }

    /// Stated deviations against how readings scatter when the landmarks are placed anew.
    void deviationsAgreeWithMonteCarlo() {
        const synth::FilmSpec spec = filmed(240.0);
        const technique::Pack pack = packOf({over("peak_speed", {wrist()}),
                                             over("peak_after", {middle("shoulder"), wrist()}),
                                             over("drift", {{{{"head", 1.0}}, ""}})});
        std::mt19937 random(31);
        std::map<std::string, std::vector<double>> values;
        std::map<std::string, double> stated;
        constexpr int draws = 60;
        for (int draw = 0; draw < draws; ++draw) {
            for (const model::Reading& r : technique::evaluate(
                     pack, synth::placedRep(spec, 1.5, random), support::openSide(spec))) {
                if (r.value) {
                    values[r.measureId].push_back(*r.value);
                    stated[r.measureId] += r.uncertainty.placement / draws;
                }
            }
        }
        for (const auto& [id, drawn] : values) {
            double mean = 0.0;
            for (const double v : drawn) {
                mean += v / static_cast<double>(drawn.size());
            }
            double square = 0.0;
            for (const double v : drawn) {
                square += (v - mean) * (v - mean) / static_cast<double>(drawn.size() - 1);
            }
            const double ratio = stated.at(id) / std::sqrt(square);
            // On the careful side, for the reason that docs/uncertainty.md gives; never below.
            QVERIFY2(ratio > 0.85 && ratio < 3.0,
                     qPrintable(QString("%1: %2").arg(QString::fromStdString(id)).arg(ratio)));
        }
    }
};

QTEST_GUILESS_MAIN(TestCourse)
#include "test_course.moc"
