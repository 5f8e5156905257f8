#include "support/coverage.h"
#include "support/test_films.h"
#include "synth/placed_by_hand.h"
#include "technique/kinds/course_kinds.h"
#include "words/words.h"

#include <Eigen/Geometry>
#include <QTest>

#include <algorithm>
#include <cmath>
#include <random>

using namespace kestrel;
using support::reading;

namespace {

constexpr double clickSd = 1.5;

technique::Pack swingPack() {
    const auto packs = support::shippedPacks();
    return *std::find_if(packs.begin(), packs.end(),
                         [](const technique::Pack& p) { return p.id == "bat_swing"; });
}

/// A batter of some size and hand filmed from above at 240 frames a second.
synth::FilmSpec fromAbove(int number) {
    synth::FilmSpec spec;
    spec.player.technique = "bat_swing";
    spec.player.seed = static_cast<std::uint32_t>(40 + number);
    spec.player.hand = number % 2 == 0 ? model::Hand::right : model::Hand::left;
    spec.player.build.heightM = 1.4 + 0.07 * (number % 6);
    spec.width = 1920;
    spec.height = 1080;
    spec.captureRate = 240.0;
    spec.fileRate = {240, 1};
    spec.camera.view = model::View::overhead;
    return spec;
}

technique::Circumstances circumstances(const technique::Pack& pack, const synth::FilmSpec& spec,
                                       std::mt19937& random) {
    technique::Circumstances c = support::openSide(spec);
    c.view = spec.camera.view;
    c.bodyHeight = model::Metres(spec.player.build.heightM);
    const synth::FilmScene scene(spec);
    const auto marks =
        synth::cones(scene, model::Metres(2.4), model::Metres(2.0), -0.8, -1.0, clickSd, random);
    c.ground = technique::groundOf(pack, marks, spec.width, spec.height, spec.camera.view).ground;
    return c;
}

} // namespace

/// Which way a swing goes over the ground, against constructed paths and the bones.
class TestPathHeading : public QObject {
    Q_OBJECT
  private slots:
    /// A point that moves level at a known height is told exactly, wherever the camera stands.
    void levelPathIsToldExactly_data() {
        QTest::addColumn<double>("heading");
        for (const double heading : {-100.0, -30.0, 0.0, 17.0, 80.0, 160.0}) {
            QTest::addRow("%g", heading) << heading;
        }
    }
    void levelPathIsToldExactly() {
        QFETCH(double, heading);
        technique::LevelPlane plane;
        plane.camera.position = {0.8, -1.5, 4.5};
        const Eigen::Vector3d look = Eigen::Vector3d(0.1, 0.3, -1.0).normalized();
        const Eigen::Vector3d right = Eigen::Vector3d::UnitX().cross(look).normalized();
        plane.camera.axes.row(0) = right;
        plane.camera.axes.row(1) = look.cross(right);
        plane.camera.axes.row(2) = look;
        plane.camera.focalPx = 1400.0;
        plane.camera.principal = {959.5, 539.5};
        plane.heightM = 0.8;
        for (const int closedSide : {1, -1}) {
            plane.closedSide = closedSide;
            technique::CoursePoint point;
            point.name = model::asItIs("bat");
            const double radians = heading * M_PI / 180.0;
            for (int frame = -20; frame <= 20; ++frame) {
                const double way = 30.0 * frame / 240.0; // 30 m/s
                const auto px = plane.camera.inPicture(
                    {0.3 + 0.05 * way * std::cos(radians), 0.05 * way * std::sin(radians), 0.8});
                point.places.push_back({frame / 240.0, *px, 0.5});
            }
            technique::CourseInput input{{point}, {-0.04, 0.04}, 240.0, 0.0};
            input.plane = plane;
            const technique::CourseValue read = technique::pathHeading(input);
            QVERIFY(read.value);
            const double off = std::remainder(*read.value - closedSide * heading, 360.0);
            QVERIFY2(std::abs(off) < 0.5, std::to_string(off).c_str());
        }
    }

    void swingFromAboveIsThatOfTheBat() {
        const technique::Pack pack = swingPack();
        std::mt19937 random(5);
        int inside = 0;
        int read = 0;
        double square = 0.0;
        constexpr int films = 24;
        for (int number = 0; number < films; ++number) {
            const synth::FilmSpec spec = fromAbove(number);
            const model::Rep rep = synth::placedRep(spec, clickSd, random);
            const auto readings = technique::evaluate(pack, rep, circumstances(pack, spec, random));
            const model::Reading& r = reading(readings, "swing_heading");
            QVERIFY2(r.value, r.missing ? words::plain(r.missing->why).c_str() : "");
            const double truth = synth::trueMeasures(synth::FilmScene(spec)).at("swing_heading");
            ++read;
            inside += std::abs(*r.value - truth) <= r.u95 ? 1 : 0;
            square += std::pow(*r.value - truth, 2);
            QVERIFY(r.u95 < 20.0);
            QVERIFY(!r.constructs.empty());
        }
        const double rms = std::sqrt(square / read);
        qInfo("%d read, rms %.1f°, %d inside", read, rms, inside);
        QVERIFY2(rms < 4.0, std::to_string(rms).c_str());
        VERIFY_COVERAGE("heading of a swing from above", inside, read);
    }

    void withoutGroundOrHeightItSaysWhatIsMissing() {
        const technique::Pack pack = swingPack();
        std::mt19937 random(9);
        const synth::FilmSpec spec = fromAbove(0);
        const model::Rep rep = synth::placedRep(spec, clickSd, random);
        technique::Circumstances c = circumstances(pack, spec, random);
        c.bodyHeight.reset();
        const auto noHeight = technique::evaluate(pack, rep, c);
        QCOMPARE(reading(noHeight, "swing_heading").missing->why.id,
                 std::string("height.for_level_plane"));
        c.ground.reset();
        const auto noGround = technique::evaluate(pack, rep, c);
        QCOMPARE(reading(noGround, "swing_heading").missing->why.id,
                 std::string("ground.not_marked"));
    }
};

QTEST_GUILESS_MAIN(TestPathHeading)
#include "test_path_heading.moc"
