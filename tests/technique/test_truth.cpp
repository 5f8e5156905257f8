#include "support/coverage.h"
#include "support/test_films.h"

#include <QTest>

#include <cmath>
#include <map>
#include <random>

using namespace kestrel;
using support::reading;

/// Readings against what is known for certain of the synthetic player.
class TestTruth : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void flatAnglesAreExact();
    void positionTimesAreWithinHalfAFrame();
    void durationsAreWithinTheirInterval();
    void trueBodyLiesInTheStatedInterval_data();
    void trueBodyLiesInTheStatedInterval();
    void placingErrorIsCoveredByMonteCarlo_data();
    void placingErrorIsCoveredByMonteCarlo();
    void leftHanderReadsLikeARightHander();
    void slowMotionReadsLikeOrdinaryFilm();

  private:
    technique::Pack pack_;
};

void TestTruth::initTestCase() {
    pack_ = support::pitchPack();
}

void TestTruth::flatAnglesAreExact() {
    // Project every true 3-D pose straight onto the x–z plane: then 2-D geometry done by hand with
    // directions (not with the program's formulas) must agree to a tenth of a degree.
    const synth::FilmSpec spec = support::rightHander().spec;
    const synth::FilmScene scene(spec);
    const auto positions = synth::truePositions(scene);
    constexpr double pixelsPerMetre = 200.0;
    model::Rep rep;
    rep.positions = positions;
    std::map<std::string, synth::Pose> poses;
    for (const auto& [id, frame] : positions) {
        synth::Pose pose = scene.motion().pose(scene.frameTime(frame));
        for (const model::Landmark landmark : model::allLandmarks()) {
            if (!pose.has(landmark)) {
                continue;
            }
            const synth::Vector& p = pose.at(landmark);
            rep.landmarks[frame][landmark] = {
                {300.0 + pixelsPerMetre * p.x(), 500.0 - pixelsPerMetre * p.z()}, 0.0};
        }
        poses[id] = pose;
    }
    const auto readings = technique::evaluate(pack_, rep, support::openSide(spec));
    using model::Landmark;
    /// Direction of a segment in the picture plane as a complex argument, degrees, up positive.
    const auto heading = [](const synth::Vector& from, const synth::Vector& to) {
        return std::atan2(to.z() - from.z(), to.x() - from.x()) * 180.0 / M_PI;
    };
    const auto apart = [](double a, double b) { return std::abs(std::remainder(a - b, 360.0)); };
    const auto check = [&](const std::string& id, double want) {
        const model::Reading& r = reading(readings, id);
        QVERIFY2(r.value, id.c_str());
        QVERIFY2(std::abs(*r.value - want) < 0.1, qPrintable(QString("%1: %2, true %3")
                                                                 .arg(QString::fromStdString(id))
                                                                 .arg(*r.value)
                                                                 .arg(want)));
    };
    const auto knee = [&](const std::string& at) {
        const synth::Pose& p = poses.at(at);
        return 180.0 - apart(heading(p.at(Landmark::leftKnee), p.at(Landmark::leftHip)),
                             heading(p.at(Landmark::leftKnee), p.at(Landmark::leftAnkle)));
    };
    check("plant_lead_knee", knee("foot_plant"));
    check("release_lead_knee", knee("release"));
    check("release_knee_change", knee("foot_plant") - knee("release"));
    const auto trunk = [&](const std::string& at) {
        const synth::Pose& p = poses.at(at);
        return heading(0.5 * (p.at(Landmark::leftHip) + p.at(Landmark::rightHip)),
                       0.5 * (p.at(Landmark::leftShoulder) + p.at(Landmark::rightShoulder)));
    };
    check("release_trunk_lean", 90.0 - trunk("release"));
    check("lift_posture_change", std::abs(trunk("lift_top") - trunk("set")));
    const synth::Pose& plant = poses.at("foot_plant");
    check("plant_abduction",
          apart(heading(plant.at(Landmark::rightShoulder), plant.at(Landmark::rightElbow)),
                trunk("foot_plant") + 180.0));
    check("plant_elbow",
          apart(heading(plant.at(Landmark::rightElbow), plant.at(Landmark::rightShoulder)),
                heading(plant.at(Landmark::rightElbow), plant.at(Landmark::rightWrist))));
    const synth::Pose& laid = poses.at("lay_back");
    const double forearm = heading(laid.at(Landmark::rightElbow), laid.at(Landmark::rightWrist));
    check("lay_back_angle", 90.0 + std::remainder(forearm - trunk("lay_back"), 360.0));
    const synth::Vector stride = plant.at(Landmark::leftAnkle) - plant.at(Landmark::rightAnkle);
    const model::Reading& length = reading(readings, "plant_stride_length");
    QVERIFY(std::abs(*length.value -
                     std::hypot(stride.x(), stride.z()) / spec.player.build.heightM) < 0.02);
}

void TestTruth::positionTimesAreWithinHalfAFrame() {
    for (const support::TestFilm& film : support::allFilms()) {
        const synth::FilmScene scene(film.spec);
        const auto frames = synth::truePositions(scene);
        const technique::Circumstances c = support::openSide(film.spec);
        const int release = frames.at("release");
        for (const auto& [id, frame] : frames) {
            const double time = scene.motion().events().at(id);
            const double read = model::elapsed(c.time, release, frame).value;
            QVERIFY2(std::abs(read - time) <= 0.5 / film.spec.captureRate + 1e-9, id.c_str());
        }
    }
}

void TestTruth::durationsAreWithinTheirInterval() {
    for (const support::TestFilm& film : support::allFilms()) {
        const auto truth = synth::trueMeasures(synth::FilmScene(film.spec));
        const auto readings =
            technique::evaluate(pack_, support::trueRep(film.spec), support::openSide(film.spec));
        for (const char* id : {"tempo", "plant_to_release", "finish_balance", "hands_after_hips",
                               "leg_after_hips"}) {
            const model::Reading& r = reading(readings, id);
            QVERIFY2(std::abs(*r.value - truth.at(id)) <= r.u95, id);
        }
    }
}

void TestTruth::trueBodyLiesInTheStatedInterval_data() {
    QTest::addColumn<int>("film");
    QTest::newRow("right-hander") << 0;
    QTest::newRow("left-hander") << 1;
    QTest::newRow("faulty") << 2;
}

void TestTruth::trueBodyLiesInTheStatedInterval() {
    QFETCH(int, film);
    const synth::FilmSpec spec = support::allFilms()[static_cast<std::size_t>(film)].spec;
    const auto truth = synth::trueMeasures(synth::FilmScene(spec));
    const auto readings =
        technique::evaluate(pack_, support::trueRep(spec), support::openSide(spec));
    int read = 0;
    for (const model::Reading& r : readings) {
        const auto want = truth.find(r.measureId);
        if (r.value && want != truth.end()) {
            ++read;
            QVERIFY2(std::abs(*r.value - want->second) <= r.u95,
                     qPrintable(QString("%1: %2 ± %3, true %4")
                                    .arg(QString::fromStdString(r.measureId))
                                    .arg(*r.value)
                                    .arg(r.u95)
                                    .arg(want->second)));
        }
    }
    QVERIFY(read >= 24);
}

void TestTruth::placingErrorIsCoveredByMonteCarlo_data() {
    QTest::addColumn<bool>("againstBody");
    QTest::newRow("against the error-free picture") << false;
    QTest::newRow("against the body in space") << true;
}

void TestTruth::placingErrorIsCoveredByMonteCarlo() {
    QFETCH(bool, againstBody);
    // 1.5 px of placing error on a film of ordinary size: at least 95 % of all readings hold the
    // truth in their 95 % interval.
    synth::FilmSpec spec = support::rightHander().spec;
    spec.width = 1280;
    spec.height = 720;
    const synth::FilmScene scene(spec);
    const auto positions = synth::truePositions(scene);
    const technique::Circumstances c = support::openSide(spec);
    const auto exact = technique::evaluate(pack_, support::trueRep(spec), c);
    const auto body = synth::trueMeasures(scene);
    int all = 0;
    int held = 0;
    constexpr int draws = 200;
    for (std::uint32_t draw = 1; draw <= draws; ++draw) {
        model::Rep rep;
        rep.positions = positions;
        rep.landmarks = synth::placedLandmarks(scene, positions, 1.5, draw);
        const auto readings = technique::evaluate(pack_, rep, c);
        for (std::size_t i = 0; i < readings.size(); ++i) {
            const model::Reading& r = readings[i];
            const bool time = r.unit == model::Unit::seconds || r.unit == model::Unit::milliseconds;
            if (!r.value || time || !exact[i].value) {
                continue;
            }
            const double want = againstBody ? body.at(r.measureId) : *exact[i].value;
            ++all;
            held += std::abs(*r.value - want) <= r.u95 ? 1 : 0;
        }
    }
    QVERIFY(all > 3000);
    VERIFY_COVERAGE(QString("a pitch's readings, ") + QTest::currentDataTag(), held, all);
}

void TestTruth::leftHanderReadsLikeARightHander() {
    const auto right = technique::evaluate(pack_, support::trueRep(support::rightHander().spec),
                                           support::openSide(support::rightHander().spec));
    const auto left = technique::evaluate(pack_, support::trueRep(support::leftHander().spec),
                                          support::openSide(support::leftHander().spec));
    for (std::size_t i = 0; i < right.size(); ++i) {
        QCOMPARE(left[i].verdict, right[i].verdict);
        QCOMPARE(left[i].value.has_value(), right[i].value.has_value());
        if (right[i].value) {
            QVERIFY2(std::abs(*left[i].value - *right[i].value) < 1e-6, right[i].measureId.c_str());
            QVERIFY2(std::abs(left[i].u95 - right[i].u95) < 1e-6, right[i].measureId.c_str());
        }
    }
}

void TestTruth::slowMotionReadsLikeOrdinaryFilm() {
    synth::FilmSpec slow = support::rightHander().spec;
    slow.fileRate = {30, 1}; // the same 120 a second, stored to play at 30
    const auto ordinary = technique::evaluate(pack_, support::trueRep(support::rightHander().spec),
                                              support::openSide(support::rightHander().spec));
    const auto readings =
        technique::evaluate(pack_, support::trueRep(slow), support::openSide(slow));
    for (const char* id : {"tempo", "plant_to_release", "finish_balance"}) {
        QVERIFY(std::abs(*reading(readings, id).value - *reading(ordinary, id).value) < 1e-9);
    }
}

QTEST_GUILESS_MAIN(TestTruth)
#include "test_truth.moc"
