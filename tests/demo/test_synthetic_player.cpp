#include "demo/film_render.h"
#include "demo/scenario.h"
#include "demo/truth.h"
#include "support/test_films.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <fstream>

using namespace kestrel;
using demo::Vector;
using model::Landmark;

/// The synthetic player must be a body, move like one and be where its truth says.
class TestSyntheticPlayer : public QObject {
    Q_OBJECT
  private slots:
    void bonesKeepTheirLength();
    void nothingSinksIntoTheGround();
    void plantedFootDoesNotSlide();
    void movesWithoutJumps();
    void eventsComeInOrder();
    void dialsMoveWhatTheySay();
    void mirrorExchangesSides();
    void projectionIsAPinholes();
    void truthFileFitsTheFilm();
    void figureIsWhereTheTruthSays();
    void samePitcherSamePicture();
    void repsDifferALittle();
    void scenarioTellsAStory();
    void cancelledFilmLeavesNothing();
};

void TestSyntheticPlayer::bonesKeepTheirLength() {
    const demo::PitchMotion motion(support::faulty().spec.pitcher);
    const double h = motion.spec().heightM;
    const demo::Proportions p;
    const std::vector<std::tuple<Landmark, Landmark, double>> bones{
        {Landmark::leftHip, Landmark::leftKnee, p.thigh},
        {Landmark::leftKnee, Landmark::leftAnkle, p.shank},
        {Landmark::rightHip, Landmark::rightKnee, p.thigh},
        {Landmark::rightKnee, Landmark::rightAnkle, p.shank},
        {Landmark::rightShoulder, Landmark::rightElbow, p.upperArm},
        {Landmark::rightElbow, Landmark::rightWrist, p.forearm},
        {Landmark::leftShoulder, Landmark::leftElbow, p.upperArm},
        {Landmark::leftElbow, Landmark::leftWrist, p.forearm},
        {Landmark::leftHip, Landmark::rightHip, 2 * p.halfHips},
        {Landmark::leftShoulder, Landmark::rightShoulder, 2 * p.halfShoulders}};
    for (double t = demo::PitchMotion::begin; t <= demo::PitchMotion::end; t += 0.01) {
        const demo::Pose pose = motion.pose(t);
        for (const auto& [from, to, fraction] : bones) {
            QVERIFY2(std::abs((pose.at(to) - pose.at(from)).norm() - fraction * h) < 1e-6 * h,
                     qPrintable(QString("%1 at %2").arg(name(from).data()).arg(t)));
        }
    }
}

void TestSyntheticPlayer::nothingSinksIntoTheGround() {
    const demo::PitchMotion motion(support::rightHander().spec.pitcher);
    for (double t = demo::PitchMotion::begin; t <= demo::PitchMotion::end; t += 0.02) {
        const demo::Pose pose = motion.pose(t);
        for (const Landmark landmark : model::allLandmarks()) {
            if (landmark != Landmark::ball) {
                QVERIFY2(pose.at(landmark).z() > -0.03,
                         qPrintable(QString("%1 at %2: %3")
                                        .arg(name(landmark).data())
                                        .arg(t)
                                        .arg(pose.at(landmark).z())));
            }
        }
    }
}

void TestSyntheticPlayer::plantedFootDoesNotSlide() {
    const demo::PitchMotion motion(support::rightHander().spec.pitcher);
    const Vector planted = motion.pose(motion.events().at("foot_plant")).at(Landmark::leftAnkle);
    for (double t = motion.events().at("foot_plant"); t <= 0.3; t += 0.01) {
        QVERIFY((motion.pose(t).at(Landmark::leftAnkle) - planted).norm() < 0.002);
    }
    const Vector pivot = motion.pose(-1.5).at(Landmark::rightAnkle);
    for (double t = -1.5; t <= motion.events().at("stride"); t += 0.02) {
        QVERIFY((motion.pose(t).at(Landmark::rightAnkle) - pivot).norm() < 0.002);
    }
}

void TestSyntheticPlayer::movesWithoutJumps() {
    for (const support::TestFilm& film : support::allFilms()) {
        const demo::PitchMotion motion(film.spec.pitcher);
        constexpr double step = 0.002;
        for (double t = demo::PitchMotion::begin; t + step < 0.0; t += step) {
            const demo::Pose a = motion.pose(t);
            const demo::Pose b = motion.pose(t + step);
            for (const Landmark landmark : model::allLandmarks()) {
                const double speed = (b.at(landmark) - a.at(landmark)).norm() / step;
                // A grown pitcher's hand comes near 40 m/s; a jump of the curves would be far
                // beyond.
                QVERIFY2(
                    speed < 40.0,
                    qPrintable(
                        QString("%1 at %2: %3 m/s").arg(name(landmark).data()).arg(t).arg(speed)));
            }
        }
    }
}

void TestSyntheticPlayer::eventsComeInOrder() {
    const auto events = demo::PitchMotion(support::rightHander().spec.pitcher).events();
    const std::vector<std::string> order{"set",     "lift_top",   "hands_part",
                                         "stride",  "foot_plant", "lay_back",
                                         "release", "finish",     "balance_end"};
    for (std::size_t i = 1; i < order.size(); ++i) {
        QVERIFY2(events.at(order[i - 1]) < events.at(order[i]), order[i].c_str());
    }
    QCOMPARE(events.at("release"), 0.0);
    // Published: plant to release about 0.145 s in skilled pitchers.
    QVERIFY(std::abs(events.at("foot_plant") + 0.15) < 0.01);
}

void TestSyntheticPlayer::dialsMoveWhatTheySay() {
    const auto clean = demo::trueMeasures(support::rightHander().spec);
    const auto with = [](const demo::PitchDials& dials) {
        demo::FilmSpec spec = support::rightHander().spec;
        spec.pitcher.dials = dials;
        return demo::trueMeasures(spec);
    };
    QVERIFY(with({70.0, 0.0, 0.0}).at("plant_forearm") < clean.at("plant_forearm") - 40.0);
    QVERIFY(std::abs(with({0.0, 0.06, 0.0}).at("stride_head_drop") - clean.at("stride_head_drop") -
                     0.06) < 0.005);
    QVERIFY(std::abs(with({0.0, 0.0, 20.0}).at("release_trunk_lean") -
                     clean.at("release_trunk_lean") + 20.0) < 0.5);
    // And leave the rest alone.
    QCOMPARE(with({70.0, 0.0, 0.0}).at("stride_head_drop"), clean.at("stride_head_drop"));
    QCOMPARE(with({0.0, 0.0, 20.0}).at("plant_lead_knee"), clean.at("plant_lead_knee"));
}

void TestSyntheticPlayer::mirrorExchangesSides() {
    const demo::PitchMotion right(support::rightHander().spec.pitcher);
    const demo::PitchMotion left(support::leftHander().spec.pitcher);
    for (const double t : {-1.0, -0.15, 0.0, 0.4}) {
        const demo::Pose r = right.pose(t);
        const demo::Pose l = left.pose(t);
        for (const Landmark landmark : model::allLandmarks()) {
            const Vector expected = r.at(landmark).cwiseProduct(Vector(1, -1, 1));
            QVERIFY((l.at(model::mirrored(landmark)) - expected).norm() < 1e-12);
        }
    }
}

void TestSyntheticPlayer::projectionIsAPinholes() {
    const demo::Camera camera = demo::cameraOf(support::rightHander().spec);
    const Vector ahead = camera.position + 12.0 * camera.forward;
    const auto middle = camera.project(ahead);
    QVERIFY(middle);
    QVERIFY(std::abs(middle->x - camera.principalPoint().x) < 1e-9);
    const auto right = camera.project(ahead + 0.5 * camera.right);
    QVERIFY(std::abs(right->x - middle->x - camera.focalPx * 0.5 / 12.0) < 1e-9);
    const auto up = camera.project(ahead + Vector(0, 0, 0.5));
    QVERIFY(up->y < middle->y);
    QVERIFY(!camera.project(camera.position - camera.forward));
    // A right-hander throws to the right of the picture.
    QVERIFY(camera.right.x() > 0);
    QVERIFY(demo::cameraOf(support::leftHander().spec).right.x() < 0);
}

void TestSyntheticPlayer::truthFileFitsTheFilm() {
    const support::TestFilm& film = support::rightHander();
    std::filesystem::path beside = support::filmFile(film);
    std::ifstream in(beside.replace_extension(".truth.json"));
    const nlohmann::json truth = nlohmann::json::parse(in);
    QCOMPARE(truth.at("angles_deg").size(), static_cast<std::size_t>(demo::frameCount(film.spec)));
    QCOMPARE(truth.at("positions").at("release").at("frame").get<int>(), 210);
    QCOMPARE(truth.at("hand").get<std::string>(), std::string("right"));
    // The lead knee at foot plant, from the bones by the law of cosines.
    const demo::PitchMotion motion(film.spec.pitcher);
    const int plant = demo::truePositions(film.spec).at("foot_plant");
    const demo::Pose pose = motion.pose(demo::frameTime(film.spec, plant));
    const double a = (pose.at(Landmark::leftHip) - pose.at(Landmark::leftKnee)).norm();
    const double b = (pose.at(Landmark::leftAnkle) - pose.at(Landmark::leftKnee)).norm();
    const double c = (pose.at(Landmark::leftAnkle) - pose.at(Landmark::leftHip)).norm();
    const double interior = std::acos((a * a + b * b - c * c) / (2 * a * b)) * 180.0 / M_PI;
    QVERIFY(std::abs(truth.at("measures").at("plant_lead_knee").get<double>() -
                     (180.0 - interior)) < 1e-9);
}

void TestSyntheticPlayer::figureIsWhereTheTruthSays() {
    // The cap is blue and the trousers are light: look at the pixels where the landmarks are.
    const support::TestFilm& film = support::rightHander();
    const demo::FrameRenderer renderer(film.spec);
    const int set = demo::truePositions(film.spec).at("set");
    const film::Picture picture = renderer.frame(set);
    const auto track = demo::trueLandmarks(film.spec);
    const auto at = [&](Landmark landmark) {
        const model::Point2 p = track.at(set).at(landmark).px;
        return picture.pixels[static_cast<std::size_t>(std::lround(p.y)) * picture.width +
                              static_cast<std::size_t>(std::lround(p.x))];
    };
    const auto channel = [](std::uint32_t pixel, unsigned shift) {
        return static_cast<int>(pixel >> shift & 0xFFU);
    };
    for (const Landmark knee : {Landmark::leftKnee, Landmark::rightKnee}) {
        const std::uint32_t p = at(knee); // grey-white trousers, unlike green grass
        QVERIFY(channel(p, 16) > 120);
        QVERIFY(std::abs(channel(p, 16) - channel(p, 8)) < 40);
    }
    const std::uint32_t shoulder = at(Landmark::leftShoulder); // blue shirt
    QVERIFY(channel(shoulder, 0) > channel(shoulder, 16));
}

void TestSyntheticPlayer::samePitcherSamePicture() {
    const demo::FrameRenderer first(support::rightHander().spec);
    const demo::FrameRenderer second(support::rightHander().spec);
    QCOMPARE(first.frame(200).pixels, second.frame(200).pixels);
    QVERIFY(first.frame(200).pixels != first.frame(201).pixels);
}

void TestSyntheticPlayer::repsDifferALittle() {
    demo::FilmSpec one = support::rightHander().spec;
    demo::FilmSpec other = one;
    one.pitcher.seed = 1;
    other.pitcher.seed = 2;
    const auto a = demo::trueMeasures(one);
    const auto b = demo::trueMeasures(other);
    QVERIFY(a.at("plant_stride_length") != b.at("plant_stride_length"));
    QVERIFY(std::abs(a.at("plant_stride_length") - b.at("plant_stride_length")) < 0.08);
}

void TestSyntheticPlayer::scenarioTellsAStory() {
    const auto players = demo::scenario();
    QVERIFY(players.size() >= 2);
    std::set<model::Hand> hands;
    std::set<double> heights;
    bool faults = false;
    bool unmarked = false;
    for (const demo::ScenarioPlayer& player : players) {
        hands.insert(player.player.hand);
        heights.insert(player.player.height->value);
        QVERIFY(player.films.size() >= 2);
        for (const demo::ScenarioFilm& film : player.films) {
            faults = faults || film.spec.pitcher.dials.lateArmMs > 0.0;
            unmarked = unmarked || !film.marked;
            QCOMPARE(film.spec.pitcher.heightM, player.player.height->value);
            QCOMPARE(film.spec.pitcher.hand, player.player.hand);
        }
    }
    QCOMPARE(hands.size(), std::size_t{2});
    QVERIFY(heights.size() >= 2);
    QVERIFY(faults && unmarked);
}

void TestSyntheticPlayer::cancelledFilmLeavesNothing() {
    const QTemporaryDir folder;
    const auto file = std::filesystem::path(folder.path().toStdString()) / "film.mp4";
    QVERIFY(!demo::renderFilm(support::rightHander().spec, file, [](int, int) { return false; }));
    QVERIFY(!std::filesystem::exists(file));
}

QTEST_GUILESS_MAIN(TestSyntheticPlayer)
#include "test_synthetic_player.moc"
