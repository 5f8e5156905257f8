#include "scenario/scenario.h"
#include "support/motions.h"
#include "support/test_films.h"
#include "synth/film_edit.h"
#include "synth/truth.h"
#include "technique/pack/json_file.h"

#include <Eigen/Dense>

#include <QTemporaryDir>

#include <cmath>
#include <fstream>
#include <set>

using namespace kestrel;
using model::Landmark;
using nlohmann::json;
using synth::Vector;

/// A synthetic film must show the player where its truth says.
class TestFilmTruth : public QObject {
    Q_OBJECT
  private slots:
    void truthFollowsItsSchema();
    void spaceAndPictureAgree();
    void movingCamerasAreTold();
    void projectionIsAPinholes();
    void positionsAndAnglesAreTheBones();
    void figureIsWhereTheTruthSays();
    void whatIsCoveredIsHidden();
    void samePlayerSamePicture();
    void slowMotionKeepsTheMotion();
    void interlacedFieldsAreHalfAFrameApart();
    void netAndPasserByAreSeen();
    void scenarioTellsAStory();
    void cancelledFilmLeavesNothing();

  private:
    static json truthOf(const synth::FilmSpec& spec) {
        return synth::truthJson(synth::FrameRenderer(spec));
    }
};

namespace {

/// A short film, for tests that look at single frames.
synth::FilmSpec shortFilm() {
    synth::FilmSpec spec = support::rightHander().spec;
    spec.fromS = -0.2;
    spec.toS = 0.1;
    spec.captureRate = 30.0;
    spec.fileRate = {30, 1};
    return spec;
}

Vector vectorFrom(const json& list) {
    return {list.at(0).get<double>(), list.at(1).get<double>(), list.at(2).get<double>()};
}

/// A pinhole with the truth file's matrices, written from the file's documentation.
Eigen::Vector2d projected(const json& camera, const Vector& world) {
    const Vector away = world - vectorFrom(camera.at("position_m"));
    const double x = vectorFrom(camera.at("right")).dot(away);
    const double y = vectorFrom(camera.at("down")).dot(away);
    const double z = vectorFrom(camera.at("forward")).dot(away);
    const double u = x / z;
    const double v = y / z;
    const double bent = 1.0 + camera.at("radial_distortion").get<double>() * (u * u + v * v);
    const double f = camera.at("focal_px").get<double>();
    return {camera.at("principal_px").at(0).get<double>() + f * bent * u,
            camera.at("principal_px").at(1).get<double>() + f * bent * v};
}

void compareAll(const json& truth) {
    int compared = 0;
    for (const json& frame : truth.at("frames")) {
        const json& camera = frame.contains("camera") ? frame.at("camera") : truth.at("camera");
        for (const auto& [id, point] : frame.at("points").items()) {
            if (!point.contains("px")) {
                continue;
            }
            const Eigen::Vector2d px(point.at("px").at(0).get<double>(),
                                     point.at("px").at(1).get<double>());
            const double apart = (px - projected(camera, vectorFrom(point.at("m")))).norm();
            ++compared;
            QVERIFY2(apart < 0.01,
                     qPrintable(QString("%1: %2 px").arg(QString::fromStdString(id)).arg(apart)));
        }
    }
    QVERIFY(compared > 100);
}

} // namespace

void TestFilmTruth::truthFollowsItsSchema() {
    for (const std::string& technique : support::techniquesToStudy()) {
        synth::FilmSpec spec = shortFilm();
        spec.player.technique = technique;
        spec.width = 160;
        spec.height = 120;
        const QTemporaryDir folder;
        const auto film = std::filesystem::path(folder.path().toStdString()) / "film.mp4";
        synth::writeTruth(synth::FrameRenderer(spec), film);
        auto beside = film;
        // Throws with the place that is wrong.
        const json truth = technique::readChecked(beside.replace_extension(".truth.json"),
                                                  std::filesystem::path(KESTREL_PACKS) / "schema" /
                                                      "truth.schema.json");
        QCOMPARE(truth.at("technique").get<std::string>(), technique);
        QVERIFY(!truth.at("quantities").empty());
    }
}

void TestFilmTruth::spaceAndPictureAgree() {
    for (const model::View view : {model::View::openSide, model::View::closedSide,
                                   model::View::front, model::View::rear, model::View::overhead}) {
        synth::FilmSpec spec = shortFilm();
        spec.camera.view = view;
        spec.camera.rollDeg = 4.0;
        spec.camera.distortion = -0.08;
        spec.camera.aroundDeg = 12.0;
        compareAll(truthOf(spec));
    }
}

void TestFilmTruth::movingCamerasAreTold() {
    synth::FilmSpec spec = shortFilm();
    spec.camera.shakePx = 6.0;
    spec.camera.pans = true;
    const json truth = truthOf(spec);
    QVERIFY(truth.at("frames").at(0).contains("camera"));
    QVERIFY(truth.at("frames").at(0).at("camera") != truth.at("frames").at(5).at("camera"));
    compareAll(truth);
}

void TestFilmTruth::projectionIsAPinholes() {
    const synth::Camera camera = synth::FilmScene(support::rightHander().spec).steadyCamera();
    const Vector ahead = camera.position + 12.0 * camera.forward;
    const auto middle = camera.project(ahead);
    QVERIFY(middle);
    QVERIFY(std::abs(middle->x - camera.principalPoint().x) < 1e-9);
    const auto right = camera.project(ahead + 0.5 * camera.right);
    QVERIFY(std::abs(right->x - middle->x - camera.focalPx * 0.5 / 12.0) < 1e-9);
    QVERIFY(camera.project(ahead + Vector(0, 0, 0.5))->y < middle->y);
    QVERIFY(!camera.project(camera.position - camera.forward));
    // And back again: the direction seen at a pixel leads to what is drawn there.
    synth::Camera bent = camera;
    bent.distortion = -0.1;
    const Vector thing = ahead + 1.1 * camera.right - 0.7 * camera.down;
    const Vector ray = bent.directionAt(*bent.project(thing));
    QVERIFY(ray.normalized().cross((thing - bent.position).normalized()).norm() < 1e-6);
    // A right-hander throws to the right of the picture.
    QVERIFY(camera.right.x() > 0);
    QVERIFY(synth::FilmScene(support::leftHander().spec).steadyCamera().right.x() < 0);
}

void TestFilmTruth::positionsAndAnglesAreTheBones() {
    const support::TestFilm& film = support::rightHander();
    std::filesystem::path beside = support::filmFile(film);
    std::ifstream in(beside.replace_extension(".truth.json"));
    const json truth = json::parse(in);
    QCOMPARE(static_cast<int>(truth.at("frames").size()), synth::FilmScene(film.spec).frameCount());
    QCOMPARE(truth.at("positions").at("release").at("frame").get<double>(), 210.0);
    QCOMPARE(truth.at("player").at("hand").get<std::string>(), std::string("right"));
    // The lead knee, from the bones by the law of cosines.
    const json& frame = truth.at("frames").at(192);
    const auto at = [&](const char* id) { return vectorFrom(frame.at("points").at(id).at("m")); };
    const double a = (at("left_hip") - at("left_knee")).norm();
    const double b = (at("left_ankle") - at("left_knee")).norm();
    const double c = (at("left_ankle") - at("left_hip")).norm();
    const double interior = std::acos((a * a + b * b - c * c) / (2 * a * b)) * 180.0 / M_PI;
    QVERIFY(std::abs(frame.at("interior_deg").at("left_knee").get<double>() - interior) < 0.01);
}

void TestFilmTruth::figureIsWhereTheTruthSays() {
    // The trousers are light and the shirt is blue: look at the pixels where the landmarks are.
    const support::TestFilm& film = support::rightHander();
    const synth::FrameRenderer renderer(film.spec);
    const int set = synth::truePositions(renderer.scene()).at("set");
    const film::Picture picture = renderer.frame(set);
    const auto track = synth::trueLandmarks(renderer.scene());
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

void TestFilmTruth::whatIsCoveredIsHidden() {
    // From the closed side of a pitch the chest-side hand in front of the body cannot be seen at
    // Set; from the open side it can.
    synth::FilmSpec spec = support::rightHander().spec;
    const synth::FrameRenderer open(spec);
    const int set = synth::truePositions(open.scene()).at("set");
    spec.camera.view = model::View::closedSide;
    const synth::FrameRenderer closed(spec);
    const auto hand = static_cast<std::size_t>(Landmark::leftHand);
    const auto leftKnee = static_cast<std::size_t>(Landmark::leftKnee);
    QVERIFY(closed.hidden(set)[hand]);
    QVERIFY(!open.hidden(set)[leftKnee]);
}

void TestFilmTruth::samePlayerSamePicture() {
    const synth::FrameRenderer first(support::rightHander().spec);
    const synth::FrameRenderer second(support::rightHander().spec);
    QCOMPARE(first.frame(200).pixels, second.frame(200).pixels);
    QVERIFY(first.frame(200).pixels != first.frame(201).pixels);
}

void TestFilmTruth::slowMotionKeepsTheMotion() {
    synth::FilmSpec slow = shortFilm();
    slow.captureRate = 240.0;
    slow.fileRate = {30, 1};
    const synth::FilmScene scene(slow);
    QVERIFY(std::abs(scene.frameTime(24) - scene.frameTime(0) - 0.1) < 1e-12);
    QCOMPARE(scene.frameCount(), 73);
}

void TestFilmTruth::interlacedFieldsAreHalfAFrameApart() {
    synth::FilmSpec spec = shortFilm();
    spec.noise = 0.0;
    spec.exposureS = 0.0;
    const film::Picture whole = synth::FrameRenderer(spec).frame(5);
    spec.interlaced = true;
    const film::Picture fields = synth::FrameRenderer(spec).frame(5);
    synth::FilmSpec later = spec;
    later.interlaced = false;
    later.fromS = *spec.fromS + 0.5 / spec.captureRate;
    const film::Picture half = synth::FrameRenderer(later).frame(5);
    const auto row = [](const film::Picture& picture, int y) {
        const auto first = picture.pixels.begin() + static_cast<std::ptrdiff_t>(y) * picture.width;
        return std::vector<std::uint32_t>(first, first + picture.width);
    };
    int differ = 0;
    for (int y = 0; y + 1 < fields.height; y += 2) {
        QCOMPARE(row(fields, y), row(whole, y));
        QCOMPARE(row(fields, y + 1), row(half, y + 1));
        differ += row(whole, y + 1) != row(half, y + 1) ? 1 : 0;
    }
    QVERIFY(differ > 50);
}

void TestFilmTruth::netAndPasserByAreSeen() {
    synth::FilmSpec plain = support::rightHander().spec;
    plain.noise = 0.0;
    const film::Picture before = synth::FrameRenderer(plain).frame(120);
    const auto changed = [&](const synth::FilmSpec& spec) {
        const film::Picture now = synth::FrameRenderer(spec).frame(120);
        int count = 0;
        for (std::size_t i = 0; i < now.pixels.size(); ++i) {
            count += now.pixels[i] != before.pixels[i] ? 1 : 0;
        }
        return count;
    };
    synth::FilmSpec net = plain;
    net.nettingInFront = true;
    QVERIFY(changed(net) > 3000);
    synth::FilmSpec people = plain;
    people.bystanders = 3;
    QVERIFY(changed(people) > 500);
    synth::FilmSpec passer = plain;
    passer.passerBy = true;
    int most = 0;
    for (int frame = 0; frame < synth::FilmScene(plain).frameCount() && most < 500; frame += 20) {
        const film::Picture with = synth::FrameRenderer(passer).frame(frame);
        const film::Picture without = synth::FrameRenderer(plain).frame(frame);
        int count = 0;
        for (std::size_t i = 0; i < with.pixels.size(); ++i) {
            count += with.pixels[i] != without.pixels[i] ? 1 : 0;
        }
        most = std::max(most, count);
    }
    QVERIFY(most > 500);
}

void TestFilmTruth::scenarioTellsAStory() {
    const auto players = scenario::scenario();
    QVERIFY(players.size() >= 2);
    std::set<model::Hand> hands;
    std::set<double> heights;
    bool faults = false;
    bool unmarked = false;
    for (const scenario::ScenarioPlayer& player : players) {
        hands.insert(player.player.hand);
        heights.insert(player.player.height->value);
        QVERIFY(player.films.size() >= 2);
        for (const scenario::ScenarioFilm& film : player.films) {
            faults = faults || film.spec.player.dials.contains("late_arm");
            unmarked = unmarked || !film.marked;
            QCOMPARE(film.spec.player.hand, player.player.hand);
            QCOMPARE(film.spec.player.build.heightM, player.player.height->value);
        }
    }
    QVERIFY(players.front().films.size() >= 4);
    QCOMPARE(hands.size(), std::size_t{2});
    QVERIFY(heights.size() >= 2);
    QVERIFY(faults && unmarked);
}

void TestFilmTruth::cancelledFilmLeavesNothing() {
    const QTemporaryDir folder;
    const auto file = std::filesystem::path(folder.path().toStdString()) / "film.mp4";
    QVERIFY(!synth::renderFilm(synth::FrameRenderer(support::rightHander().spec), file,
                               [](int, int) { return false; }));
    QVERIFY(!std::filesystem::exists(file));
}

QTEST_GUILESS_MAIN(TestFilmTruth)
#include "test_film_truth.moc"
