#include "motion/two_views.h"
#include "support/coverage.h"
#include "support/test_films.h"
#include "synth/placed_by_hand.h"
#include "technique/kinds/measure_kind.h"
#include "technique/kinds/space_path.h"
#include "technique/kinds/two_views.h"
#include "words/words.h"

#include <QTest>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>
#include <span>
#include <vector>

using namespace kestrel;
using Eigen::Vector3d;
using support::reading;

namespace {

constexpr double clickSd = 1.5;

/// A pitch of some player filmed from a view at a rate, 1080p, camera chest high or higher.
synth::FilmSpec filmed(model::View view, double rate, int number) {
    synth::FilmSpec spec = support::rightHander().spec;
    spec.width = 1920;
    spec.height = 1080;
    spec.captureRate = rate;
    spec.fileRate = {static_cast<int>(rate), 1};
    spec.camera.view = view;
    spec.camera.heightM = view == model::View::openSide ? 1.4 : 1.9;
    spec.camera.distanceM = 9.0;
    spec.player.dials.clear();
    spec.player.seed = static_cast<std::uint32_t>(500 + number);
    spec.player.hand = number % 2 == 0 ? model::Hand::right : model::Hand::left;
    spec.player.build.heightM = 1.4 + 0.05 * (number % 7);
    return spec;
}

technique::Ground groundOf(const synth::FilmSpec& spec, std::mt19937& random) {
    const synth::FilmScene scene(spec);
    const auto marks =
        synth::cones(scene, model::Metres(2.4), model::Metres(2.0), -0.8, -1.0, clickSd, random);
    return *technique::groundOf(support::pitchPack(), marks, spec.width, spec.height,
                                spec.camera.view)
                .ground;
}

technique::Circumstances circumstances(const synth::FilmSpec& first, const synth::FilmSpec& second,
                                       std::mt19937& random) {
    technique::Circumstances c = support::openSide(first);
    c.bodyHeight = model::Metres(first.player.build.heightM);
    c.ground = groundOf(first, random);
    technique::SecondView other;
    other.rep = synth::placedRep(second, clickSd, random);
    other.ground = groundOf(second, random);
    other.frameSd = 1.0 / (second.captureRate * std::sqrt(12.0));
    other.time = support::openSide(second).time;
    c.second = std::make_shared<const technique::SecondView>(std::move(other));
    return c;
}

} // namespace

/// Places and readings in space from two films, against the bones.
class TestTwoViews : public QObject {
    Q_OBJECT
  private slots:
    /// Against the place itself: exact where the sights are, off by what they are off else.
    void placeIsWhereBothLook() {
        motion::GroundCamera one;
        one.position = {0.0, -10.0, 1.5};
        one.axes << 1, 0, 0, 0, 0, -1, 0, 1, 0;
        one.focalPx = 1500.0;
        one.principal = {959.5, 539.5};
        motion::GroundCamera other = one;
        other.position = {12.0, 0.0, 2.0};
        other.axes << 0, 1, 0, 0, 0, -1, -1, 0, 0;
        const Vector3d place{0.4, -0.3, 1.1};
        const auto seen = motion::placeSeenTwice({one, *one.inPicture(place), 1.0},
                                                 {other, *other.inPicture(place), 1.0});
        QVERIFY(seen && (*seen - place).norm() < 1e-9);
        std::mt19937 random(7);
        std::normal_distribution<double> off(0.0, clickSd);
        double square = 0.0;
        constexpr int draws = 400;
        for (int i = 0; i < draws; ++i) {
            const auto a = *one.inPicture(place) + model::Point2{off(random), off(random)};
            const auto b = *other.inPicture(place) + model::Point2{off(random), off(random)};
            square += (*motion::placeSeenTwice({one, a, clickSd}, {other, b, clickSd}) - place)
                          .squaredNorm();
        }
        // A pixel is 6.7 mm for the one, 7.7 mm for the other; height is seen by both.
        const double rms = std::sqrt(square / draws);
        QVERIFY2(rms > 0.008 && rms < 0.02, std::to_string(rms).c_str());
        // Side by side, depth is not told.
        motion::GroundCamera beside = one;
        beside.position.x() += 0.3;
        QVERIFY(!motion::placeSeenTwice({one, *one.inPicture(place), 1.0},
                                        {beside, *beside.inPicture(place), 1.0}));
    }

    void anglesAreThoseOfTheBody_data() {
        QTest::addColumn<int>("view");
        QTest::addColumn<double>("rate");
        QTest::newRow("side and front") << static_cast<int>(model::View::front) << 120.0;
        QTest::newRow("side and rear, slower") << static_cast<int>(model::View::rear) << 60.0;
    }
    void anglesAreThoseOfTheBody() {
        QFETCH(int, view);
        QFETCH(double, rate);
        struct Count {
            int read = 0;
            int inside = 0;
            double square = 0.0;
            double ratio = 0.0;
        };
        std::map<std::string, Count> counts;
        const technique::Pack pack = support::pitchPack();
        std::mt19937 random(29);
        constexpr int films = 12;
        for (int number = 0; number < films; ++number) {
            const synth::FilmSpec first = filmed(model::View::openSide, 120.0, number);
            const synth::FilmSpec second = filmed(static_cast<model::View>(view), rate, number);
            const model::Rep rep = synth::placedRep(first, clickSd, random);
            const auto readings =
                technique::evaluate(pack, rep, circumstances(first, second, random));
            const auto truth = synth::trueMeasures(synth::FilmScene(first));
            for (const model::Reading& r : readings) {
                const auto want = truth.find(r.measureId);
                if (r.from != model::ReadFrom::twoFilms || want == truth.end()) {
                    continue;
                }
                Count& count = counts[r.measureId];
                ++count.read;
                const double miss = *r.value - want->second;
                count.square += miss * miss;
                count.inside += std::abs(miss) <= r.u95 ? 1 : 0;
            }
        }
        QVERIFY(counts.contains("plant_separation") && counts.contains("plant_pelvis_turn") &&
                counts.contains("plant_elbow") && counts.contains("plant_pelvis_tilt"));
        int inside = 0;
        int read = 0;
        for (const auto& [id, count] : counts) {
            qInfo("%s: %d read, rms %.2f, %d inside", id.c_str(), count.read,
                  std::sqrt(count.square / count.read), count.inside);
            inside += count.inside;
            read += count.read;
        }
        const auto rms = [&](const char* id) {
            return std::sqrt(counts[id].square / counts[id].read);
        };
        QVERIFY(rms("plant_separation") <= 4.0);
        QVERIFY(rms("plant_pelvis_turn") <= 4.0);
        VERIFY_COVERAGE(QString("angles of two films, ") + QTest::currentDataTag(), inside, read);
    }

    /// The plane of a bat's path, which one film does not tell, against that of the bones.
    void planeOfASwingIsThatOfTheBat() {
        const auto packs = support::shippedPacks();
        const technique::Pack& pack =
            *std::find_if(packs.begin(), packs.end(),
                          [](const technique::Pack& p) { return p.id == "bat_swing"; });
        std::mt19937 random(31);
        double square = 0.0;
        int inside = 0;
        constexpr int films = 10;
        for (int number = 0; number < films; ++number) {
            synth::FilmSpec first = filmed(model::View::openSide, 240.0, number);
            first.player.technique = pack.id;
            synth::FilmSpec second = filmed(model::View::rear, 120.0, number);
            second.player.technique = pack.id;
            const model::Rep rep = synth::placedRep(first, clickSd, random);
            technique::Circumstances c = circumstances(first, second, random);
            const auto both = technique::evaluate(pack, rep, c);
            const model::Reading& r = reading(both, "swing_plane");
            QVERIFY2(r.value, r.missing ? words::plain(r.missing->why).c_str() : "");
            QVERIFY(r.from == model::ReadFrom::twoFilms && !r.constructs.empty());
            const synth::FilmScene scene(first);
            std::vector<Vector3d> path;
            for (int frame = rep.positions.at("tight_turn"); frame <= rep.positions.at("contact");
                 ++frame) {
                path.push_back(
                    scene.motion().pose(scene.frameTime(frame)).at(model::Landmark::implementHead));
            }
            const double miss = *r.value - *technique::planeTilt(path);
            square += miss * miss / films;
            inside += std::abs(miss) <= r.u95 ? 1 : 0;
            c.second.reset();
            const auto one = technique::evaluate(pack, rep, c);
            QCOMPARE(reading(one, "swing_plane").missing->kind,
                     model::MissingReason::Kind::oneFilm);
            QVERIFY(words::plain(reading(one, "swing_plane").missing->why)
                        .find("twice at the same time") != std::string::npos);
        }
        qInfo("rms %.2f°, %d inside", std::sqrt(square), inside);
        QVERIFY2(std::sqrt(square) < 3.0, std::to_string(std::sqrt(square)).c_str());
        VERIFY_COVERAGE("plane of a swing", inside, films);
    }

    /// A circle laid on a plane of known tilt, with what has no plane refused.
    void planeOfACircleIsItsTilt() {
        for (const double tilt : {0.0, 25.0, 60.0, 90.0}) {
            const double t = tilt * M_PI / 180.0;
            std::vector<Vector3d> path;
            for (double a = 0.0; a < 2.0; a += 0.1) {
                const double across = std::sin(a);
                path.emplace_back(std::cos(a), across * std::cos(t), 1.0 + across * std::sin(t));
            }
            QVERIFY(std::abs(*technique::planeTilt(path) - tilt) < 1e-6);
        }
        std::vector<Vector3d> straight;
        for (int i = 0; i < 20; ++i) {
            straight.emplace_back(0.1 * i, 0.001 * (i % 3), 0.001 * (i % 2));
        }
        QVERIFY(!technique::planeTilt(straight));
        QVERIFY(!technique::planeTilt(std::span(straight).first(3)));
    }

    /// What both microphones heard stands in for key positions, and is as sure as it says: the
    /// other film was begun seven of its frames later and shows no position of its own.
    void heardInsteadOfPositions() {
        const technique::Pack pack = support::pitchPack();
        std::mt19937 random(11);
        constexpr int begunLater = 7; // frames
        constexpr double rate = 60.0;
        int read = 0;
        int inside = 0;
        double square = 0.0;
        for (int number = 0; number < 6; ++number) {
            const synth::FilmSpec first = filmed(model::View::openSide, 120.0, number);
            const synth::FilmSpec second = filmed(model::View::front, rate, number);
            const model::Rep rep = synth::placedRep(first, clickSd, random);
            technique::Circumstances c = circumstances(first, second, random);
            technique::SecondView other = *c.second;
            other.rep.positions.clear();
            model::LandmarkTrack shown;
            std::vector<model::Seconds> times;
            for (int frame = begunLater; frame < other.time.frameCount(); ++frame) {
                shown[frame - begunLater] = other.rep.landmarks.at(frame);
                times.emplace_back((frame - begunLater) / rate);
            }
            other.rep.landmarks = shown;
            other.time = model::ClipTime(std::move(times));
            other.heard = model::SyncOffset{-begunLater / rate, 0.001};
            c.second = std::make_shared<const technique::SecondView>(other);
            QVERIFY(technique::secondViewHindrance(pack, rep, c).empty());
            const auto truth = synth::trueMeasures(synth::FilmScene(first));
            for (const model::Reading& r : technique::evaluate(pack, rep, c)) {
                const auto want = truth.find(r.measureId);
                if (r.from != model::ReadFrom::twoFilms || want == truth.end() ||
                    r.unit != model::Unit::degrees) {
                    continue;
                }
                ++read;
                square += std::pow(*r.value - want->second, 2);
                inside += std::abs(*r.value - want->second) <= r.u95 ? 1 : 0;
            }
        }
        qInfo("%d read, rms %.2f°, %d inside", read, std::sqrt(square / read), inside);
        QVERIFY(read >= 40);
        QVERIFY(std::sqrt(square / read) < 2.5);
        VERIFY_COVERAGE("angles of two films, heard", inside, read);
    }

    /// Sound needs 29 ms for ten metres.
    void soundIsSlowerThanLight() {
        motion::GroundCamera near;
        near.position = {0.0, -5.0, 0.0};
        motion::GroundCamera far;
        far.position = {15.0, 0.0, 0.0};
        const model::SyncOffset step = technique::lightFromSound({0.5, 0.001}, near, far);
        QVERIFY(std::abs(step.seconds - (0.5 - 10.0 / 343.0)) < 1e-9);
        QVERIFY(step.sd > 0.001 && step.sd < 0.005);
    }

    /// Without the other film's landmark, ground or position the one film speaks for itself.
    void missingPartsFallBackToOneView() {
        const technique::Pack pack = support::pitchPack();
        std::mt19937 random(3);
        const synth::FilmSpec first = filmed(model::View::openSide, 120.0, 0);
        const synth::FilmSpec second = filmed(model::View::front, 120.0, 0);
        const model::Rep rep = synth::placedRep(first, clickSd, random);
        technique::Circumstances c = circumstances(first, second, random);
        const auto twoViews = [&] {
            return reading(technique::evaluate(pack, rep, c), "plant_lead_knee").from ==
                   model::ReadFrom::twoFilms;
        };
        QVERIFY(twoViews());
        QVERIFY(technique::secondViewHindrance(pack, rep, c).empty());
        technique::SecondView other = *c.second;
        other.rep.landmarks[other.rep.positions.at("foot_plant")].clear();
        c.second = std::make_shared<const technique::SecondView>(other);
        QVERIFY(!twoViews());
        QVERIFY(reading(technique::evaluate(pack, rep, c), "plant_lead_knee").value);
        other.rep.positions.clear();
        c.second = std::make_shared<const technique::SecondView>(other);
        QCOMPARE(technique::secondViewHindrance(pack, rep, c).id,
                 std::string("second.no_shared_instant"));
        c.ground.reset();
        QCOMPARE(technique::secondViewHindrance(pack, rep, c).id,
                 std::string("second.mark_ground"));
        c.second.reset();
        c.secondReason = model::asItIs("why");
        QVERIFY(technique::secondViewHindrance(pack, rep, c) == c.secondReason);
    }
};

QTEST_GUILESS_MAIN(TestTwoViews)
#include "test_two_views.moc"
