#include "support/coverage.h"
#include "support/test_films.h"
#include "synth/placed_by_hand.h"
#include "words/words.h"

#include <QTest>

#include <cmath>
#include <map>
#include <random>

using namespace kestrel;
using model::Landmark;
using support::reading;

namespace {

constexpr double clickSd = 1.5;

/// A pitch at 1080p, both hands, children of several sizes; some land open, some across.
synth::FilmSpec filmed(model::View view, double cameraHeightM, int number) {
    synth::FilmSpec spec = support::rightHander().spec;
    spec.width = 1920;
    spec.height = 1080;
    spec.camera.view = view;
    spec.camera.heightM = cameraHeightM;
    spec.player.seed = static_cast<std::uint32_t>(700 + number);
    spec.player.hand = number % 2 == 0 ? model::Hand::right : model::Hand::left;
    spec.player.build.heightM = 1.35 + 0.06 * (number % 7);
    if (number % 3 == 1) {
        spec.player.dials["lands_open"] = 0.10;
    } else if (number % 3 == 2) {
        spec.player.dials["lands_across"] = 0.10;
    }
    return spec;
}

/// Four cones laid around the player, marked in the picture by hand.
model::GroundMarks cones(const synth::FilmScene& scene, std::mt19937& random) {
    return synth::cones(scene, model::Metres(2.4), model::Metres(2.0), -0.6, -1.0, clickSd, random);
}

struct Spot {
    double x = 0.0;
    double y = 0.0;
};

Spot middle(const synth::Pose& pose, Landmark a, Landmark b) {
    return {0.5 * (pose.at(a).x() + pose.at(b).x()), 0.5 * (pose.at(a).y() + pose.at(b).y())};
}

/// What the ground readings ought to be, from the bones in space.
std::map<std::string, double> truthOf(const synth::FilmScene& scene,
                                      const std::map<std::string, int>& frames) {
    const bool right = scene.spec().player.hand == model::Hand::right;
    const auto at = [&](const char* id) {
        return scene.motion().pose(scene.frameTime(frames.at(id)));
    };
    const synth::Pose set = at("set");
    const synth::Pose plant = at("foot_plant");
    const Spot pivot = right ? middle(set, Landmark::rightHeel, Landmark::rightToe)
                             : middle(set, Landmark::leftHeel, Landmark::leftToe);
    const Landmark heel = right ? Landmark::leftHeel : Landmark::rightHeel;
    const Landmark toe = right ? Landmark::leftToe : Landmark::rightToe;
    const Spot lead = middle(plant, heel, toe);
    const double closed = right ? -1.0 : 1.0;
    const double along = lead.x - pivot.x;
    const double aside = closed * (lead.y - pivot.y);
    const double degrees = 180.0 / M_PI;
    return {{"plant_landing", aside / (0.152 * scene.spec().player.build.heightM)},
            {"plant_stride_metres", std::hypot(along, aside)},
            {"plant_stride_direction", degrees * std::atan2(aside, along)},
            {"plant_foot_direction",
             degrees * std::atan2(closed * (plant.at(toe).y() - plant.at(heel).y()),
                                  plant.at(toe).x() - plant.at(heel).x())}};
}

technique::Circumstances circumstances(const synth::FilmSpec& spec) {
    technique::Circumstances c = support::openSide(spec);
    c.view = spec.camera.view;
    c.bodyHeight = model::Metres(spec.player.build.heightM);
    return c;
}

struct Count {
    int all = 0;
    int read = 0;
    int within = 0;
    double square = 0.0;
    double relativeSquare = 0.0;
};

} // namespace

/// Places on the ground read off the picture, against the bones in space.
class TestOnGround : public QObject {
    Q_OBJECT
  private slots:
    void readingsHoldTheTruth_data() {
        QTest::addColumn<int>("view");
        QTest::addColumn<double>("cameraHeight");
        QTest::addColumn<double>("strideCm"); // or 2 %
        QTest::newRow("open side") << static_cast<int>(model::View::openSide) << 1.8 << 3.0;
        QTest::newRow("front") << static_cast<int>(model::View::front) << 2.5 << 3.0;
        // From so low a click's pixel and a half is 2 cm of ground along the view.
        QTest::newRow("front, lower") << static_cast<int>(model::View::front) << 1.8 << 4.0;
        QTest::newRow("rear") << static_cast<int>(model::View::rear) << 2.5 << 3.0;
        QTest::newRow("overhead") << static_cast<int>(model::View::overhead) << 0.0 << 3.0;
    }

    void readingsHoldTheTruth() {
        QFETCH(int, view);
        QFETCH(double, cameraHeight);
        QFETCH(double, strideCm);
        std::mt19937 random(17);
        std::map<std::string, Count> counts;
        // Above, where the soles' height adds nothing, intervals are as narrow as they may be: more
        // films, so that chance does not decide whether nine in ten hold.
        const int films = static_cast<model::View>(view) == model::View::overhead ? 72 : 36;
        for (int number = 0; number < films; ++number) {
            const synth::FilmSpec spec =
                filmed(static_cast<model::View>(view), cameraHeight, number);
            const synth::FilmScene scene(spec);
            const model::Rep rep = synth::placedRep(spec, clickSd, random);
            technique::Circumstances c = circumstances(spec);
            const auto ground = technique::groundOf(support::pitchPack(), cones(scene, random),
                                                    spec.width, spec.height, spec.camera.view);
            QVERIFY2(ground.ground.has_value(), words::plain(ground.reason).c_str());
            c.ground = ground.ground;
            const auto readings = technique::evaluate(support::pitchPack(), rep, c);
            for (const auto& [id, truth] : truthOf(scene, rep.positions)) {
                const model::Reading& r = reading(readings, id);
                Count& count = counts[id];
                ++count.all;
                if (!r.value) {
                    QCOMPARE(r.missing->kind, model::MissingReason::Kind::groundUnknown);
                    continue;
                }
                ++count.read;
                const double miss = *r.value - truth;
                count.square += miss * miss;
                count.relativeSquare += miss * miss / (truth * truth);
                count.within += std::abs(miss) <= r.u95 ? 1 : 0;
                QVERIFY(!r.constructs.empty());
            }
        }
        for (const auto& [id, count] : counts) {
            const double rms = std::sqrt(count.square / std::max(1, count.read));
            const double relative = std::sqrt(count.relativeSquare / std::max(1, count.read));
            const QString said = QString("%1: %2 of %3 read, rms %4 (%5 %), %6 inside")
                                     .arg(id.c_str())
                                     .arg(count.read)
                                     .arg(count.all)
                                     .arg(rms)
                                     .arg(100.0 * relative)
                                     .arg(count.within);
            qInfo("%s", qPrintable(said));
            // From beside the player a foot that points along the ground to the camera is too short
            // in the picture for a direction.
            if (id == "plant_foot_direction" &&
                static_cast<model::View>(view) == model::View::openSide) {
                QCOMPARE(count.read, 0);
                continue;
            }
            VERIFY_COVERAGE(
                QString("%1 on the ground, %2").arg(id.c_str()).arg(QTest::currentDataTag()),
                count.within, count.read);
            if (id == "plant_stride_metres") {
                QVERIFY2(count.read == count.all, qPrintable(said));
                QVERIFY2(100.0 * rms <= strideCm || relative <= 0.02, qPrintable(said));
            }
        }
    }

    /// Without marks nothing is told in metres, and the reason says where to mark; marks that do
    /// not fit say so.
    void refusesWithoutGround() {
        const synth::FilmSpec spec = filmed(model::View::front, 1.8, 0);
        const synth::FilmScene scene(spec);
        std::mt19937 random(3);
        const model::Rep rep = synth::placedRep(spec, clickSd, random);
        technique::Circumstances c = circumstances(spec);
        const auto read = [&] {
            return reading(technique::evaluate(support::pitchPack(), rep, c), "plant_landing");
        };
        QCOMPARE(read().missing->kind, model::MissingReason::Kind::groundUnknown);
        QCOMPARE(read().missing->why.id, std::string("ground.not_marked"));
        model::GroundMarks marks = cones(scene, random);
        std::swap(marks.points.at("rear_left"), marks.points.at("front_left"));
        std::swap(marks.points.at("rear_left"), marks.points.at("front_right"));
        const auto ground = technique::groundOf(support::pitchPack(), marks, spec.width,
                                                spec.height, spec.camera.view);
        QVERIFY(!ground.ground);
        c.groundReason = ground.reason;
        QVERIFY(read().missing->why == ground.reason);
        c.ground = technique::groundOf(support::pitchPack(), cones(scene, random), spec.width,
                                       spec.height, spec.camera.view)
                       .ground;
        c.bodyHeight.reset(); // the player's foot is then not known
        QCOMPARE(read().missing->kind, model::MissingReason::Kind::noBodyHeight);
    }

    /// The kind of pitch chooses the range.
    void theShotChoosesTheRange() {
        const synth::FilmSpec spec = filmed(model::View::front, 1.8, 0);
        const synth::FilmScene scene(spec);
        std::mt19937 random(5);
        technique::Circumstances c = circumstances(spec);
        c.ground = technique::groundOf(support::pitchPack(), cones(scene, random), spec.width,
                                       spec.height, spec.camera.view)
                       .ground;
        const model::Rep rep = synth::placedRep(spec, clickSd, random);
        const auto low = [&] {
            return *reading(technique::evaluate(support::pitchPack(), rep, c), "plant_landing")
                        .range->low;
        };
        QCOMPARE(low(), -0.3);
        c.shotType = "breaking";
        QCOMPARE(low(), 0.0);
    }

    /// The grid's lines run through places where the camera sees them.
    void theGridLiesOnTheGround() {
        const synth::FilmSpec spec = filmed(model::View::rear, 2.5, 0);
        const synth::FilmScene scene(spec);
        std::mt19937 random(9);
        const auto ground = technique::groundOf(support::pitchPack(), cones(scene, random),
                                                spec.width, spec.height, spec.camera.view)
                                .ground;
        const auto lines =
            technique::groundGrid(*ground, model::Metres(1.0), spec.width, spec.height);
        QVERIFY(lines.size() > 10);
        // The rectangle's own frame is shifted against the scene's.
        const auto crossing = scene.steadyCamera().project({2.0 - 0.6, 1.0 - 1.0, 0.0});
        double nearest = 1e9;
        for (const auto& line : lines) {
            for (std::size_t i = 1; i < line.size(); ++i) {
                const model::Point2 way = line[i] - line[i - 1];
                const model::Point2 to = *crossing - line[i - 1];
                const double share = std::clamp(
                    (way.x * to.x + way.y * to.y) / (way.x * way.x + way.y * way.y), 0.0, 1.0);
                nearest = std::min(nearest, model::length(to - way * share));
            }
        }
        QVERIFY2(nearest < 3.0, qPrintable(QString::number(nearest)));
    }

    /// Far things at the height of the lens are seen on the horizon, with a tilted camera, too.
    void theHorizonIsAsHighAsTheLens() {
        constexpr double lensHeight = 1.6;
        synth::FilmSpec spec = filmed(model::View::rear, lensHeight, 0);
        spec.camera.rollDeg = 3.0;
        const synth::FilmScene scene(spec);
        std::mt19937 random(9);
        constexpr double exact = 1e-3; // pixels
        const auto ground =
            technique::groundOf(support::pitchPack(),
                                synth::cones(scene, model::Metres(2.4), model::Metres(2.0), -0.6,
                                             -1.0, exact, random),
                                spec.width, spec.height, spec.camera.view)
                .ground;
        QVERIFY(ground);
        const auto line = technique::groundHorizon(*ground, spec.width, spec.height);
        QVERIFY(line.size() > 20);
        for (const double across : {-200.0, 0.0, 200.0}) {
            const auto far = scene.steadyCamera().project({2000.0, across, lensHeight});
            QVERIFY(far);
            double nearest = 1e9;
            for (std::size_t i = 1; i < line.size(); ++i) {
                const model::Point2 way = line[i] - line[i - 1];
                const model::Point2 to = *far - line[i - 1];
                const double share = std::clamp(
                    (way.x * to.x + way.y * to.y) / (way.x * way.x + way.y * way.y), 0.0, 1.0);
                nearest = std::min(nearest, model::length(to - way * share));
            }
            QVERIFY2(nearest < 3.0, qPrintable(QString::number(nearest)));
        }
        const model::Point2 way = line.back() - line.front();
        QVERIFY(std::abs(std::atan2(std::abs(way.y), std::abs(way.x)) * 180.0 / M_PI - 3.0) < 0.7);
    }
};

QTEST_GUILESS_MAIN(TestOnGround)
#include "test_on_ground.moc"
