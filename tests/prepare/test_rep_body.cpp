#include "body/body_file.h"
#include "model/reading.h"
#include "prepare/rep_body.h"
#include "records/library.h"
#include "support/test_films.h"
#include "support/true_body.h"
#include "synth/placed_by_hand.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;

/// What a player's body in space is worked out from in a rep, and when what is kept still holds.
class TestRepBody : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void singleFramesDoWhereItIsKnownHowItIsDone();
    void fromOverheadThereIsNone();
    void landmarksAroundThePositionsDo();
    void whatAMachineSaysErrsForAWhile();
    void theKeyIsOfAllThatCounts();
    void whatIsKeptHoldsUntilTheLandmarksChange();
    void whatIsDamagedIsWorkedOutAnew();
    void itCanBeStopped();
    void howItIsUsuallyDoneIsKnownAtThePositions();
    void nothingIsUsualOfAnUnknownTechnique();
    void markedGroundTellsOfTheCamera();

  private:
    [[nodiscard]] std::optional<prepare::BodyWork> work(const model::Rep& rep) const {
        return prepare::bodyWork(pack_, player_, rep, circumstances_, spec_.width, spec_.height);
    }
    model::RepId stored(records::Library& library) const {
        model::Clip clip;
        model::Player player;
        player.name = "Somebody";
        clip.playerId = library.save(player);
        clip.sha256 = "abc";
        clip.fileName = "abc.mp4";
        model::Rep rep = rep_;
        rep.clipId = library.save(clip);
        return library.save(rep);
    }

    const synth::FilmSpec& spec_ = support::rightHander().spec;
    const technique::Pack pack_ = support::pitchPack();
    model::Player player_;
    model::Rep rep_;
    technique::Circumstances circumstances_;
    QTemporaryDir folder_;
};

void TestRepBody::initTestCase() {
    rep_ = support::trueRep(spec_);
    circumstances_ = support::openSide(spec_);
}

/// Single frames do not tell how a body moves between them; how it is usually done does.
void TestRepBody::singleFramesDoWhereItIsKnownHowItIsDone() {
    model::Rep rep = rep_;
    rep.landmarks.clear();
    for (const auto& [id, frame] : rep.positions) {
        rep.landmarks[frame] = rep_.landmarks.at(frame);
    }
    const auto made = work(rep);
    QVERIFY(made.has_value());
    QVERIFY(made->usual.has_value());
    QCOMPARE(made->seen.instants.size(), rep.landmarks.size());
    // One that does not show all of the body is left out.
    rep.landmarks.at(rep.positions.at("release")).erase(model::Landmark::leftToe);
    QCOMPARE(work(rep)->seen.instants.size(), rep.landmarks.size() - 1);
    rep.positions.clear(); // nothing tells when it is done how
    QVERIFY(!work(rep).has_value());
    rep.landmarks.clear();
    QVERIFY(!work(rep).has_value());
}

void TestRepBody::fromOverheadThereIsNone() {
    technique::Circumstances above = circumstances_;
    above.view = model::View::overhead;
    QVERIFY(!prepare::bodyWork(pack_, player_, rep_, above, spec_.width, spec_.height).has_value());
}

void TestRepBody::landmarksAroundThePositionsDo() {
    const auto made = work(rep_);
    QVERIFY(made.has_value());
    QCOMPARE(made->seen.width, spec_.width);
    std::vector<double> positions;
    for (const auto& [id, frame] : rep_.positions) {
        positions.push_back(
            circumstances_.time.fieldTimes()[static_cast<std::size_t>(frame)].value);
    }
    const auto [first, last] = std::minmax_element(positions.begin(), positions.end());
    constexpr double beside = 0.36; // seconds
    QVERIFY(made->seen.instants.front().time.value >= *first - beside);
    QVERIFY(made->seen.instants.back().time.value <= *last + beside);
    for (const body::SeenInstant& instant : made->seen.instants) {
        for (const auto& [landmark, seen] : instant.points) {
            QVERIFY(model::isOfBody(landmark));
            QVERIFY(seen.trusted && seen.sdPx > 0.0 && seen.fadingPx == 0.0);
        }
    }
}

void TestRepBody::whatAMachineSaysErrsForAWhile() {
    model::Rep rep = rep_;
    constexpr double sd = 6.0;
    for (auto& [frame, points] : rep.landmarks) {
        for (auto& [landmark, point] : points) {
            point.source = model::Source::tracked;
            point.sdPx = sd;
        }
    }
    const auto made = work(rep);
    QVERIFY(made.has_value());
    for (const auto& [landmark, seen] : made->seen.instants.front().points) {
        QVERIFY(!seen.trusted);
        QVERIFY(seen.fadingPx > seen.sdPx);
        QVERIFY(std::abs(std::hypot(seen.sdPx, seen.fadingPx, seen.stayingPx) - sd) < 1e-9);
    }
}

void TestRepBody::theKeyIsOfAllThatCounts() {
    const std::string key = work(rep_)->key;
    QCOMPARE(work(rep_)->key, key);
    model::Rep moved = rep_;
    moved.landmarks.at(moved.positions.at("release")).at(model::Landmark::leftKnee).px.x += 0.5;
    QVERIFY(work(moved)->key != key);
    model::Rep later = rep_; // a position between the first and the last
    ++later.positions.at("foot_plant");
    QVERIFY(work(later)->key != key); // it tells when the technique is usually done how
    model::Player girl = player_;
    girl.sex = model::Sex::girl;
    QVERIFY(prepare::bodyWork(pack_, girl, rep_, circumstances_, spec_.width, spec_.height)->key !=
            key);
}

void TestRepBody::whatIsKeptHoldsUntilTheLandmarksChange() {
    records::Library library(folder_.filePath("kept").toStdString());
    const model::RepId id = stored(library);
    const auto made = work(rep_);
    prepare::RepBody kept = prepare::keptBody(library, id, made);
    QVERIFY(kept.body == nullptr && kept.outdated);
    const body::FittedBody body = support::trueBody(synth::FilmScene(spec_));
    library.setBody(id, {made->key, body::toBytes(body)});
    kept = prepare::keptBody(library, id, made);
    QVERIFY(kept.body != nullptr && !kept.outdated);
    QVERIFY(kept.body->parts() == body.parts());

    model::Rep moved = rep_;
    moved.landmarks.at(moved.positions.at("release")).at(model::Landmark::leftKnee).px.x += 5.0;
    kept = prepare::keptBody(library, id, work(moved));
    QVERIFY(kept.body != nullptr && kept.outdated); // readings stand on it until the new one
    kept = prepare::keptBody(library, id, std::nullopt);
    QVERIFY(kept.body == nullptr && !kept.outdated);
    library.setBody(id, {made->key, {}}); // what is seen made none
    kept = prepare::keptBody(library, id, made);
    QVERIFY(kept.body == nullptr && !kept.outdated);
}

void TestRepBody::whatIsDamagedIsWorkedOutAnew() {
    records::Library library(folder_.filePath("damaged").toStdString());
    const model::RepId id = stored(library);
    const auto made = work(rep_);
    library.setBody(id, {made->key, {1, 2, 3}});
    const prepare::RepBody kept = prepare::keptBody(library, id, made);
    QVERIFY(kept.body == nullptr && kept.outdated);
}

void TestRepBody::itCanBeStopped() {
    QVERIFY(!prepare::fittedBody(*work(rep_), [](double) { return false; }).has_value());
}

/// The film's player does it as it is usually done, but twice as slowly.
void TestRepBody::howItIsUsuallyDoneIsKnownAtThePositions() {
    constexpr double slower = 2.0;
    body::SeenRep seen;
    prepare::UsualMotion motion =
        prepare::usualMotion(pack_, player_, rep_, circumstances_).value();
    const synth::FilmScene scene(spec_);
    QCOMPARE(motion.player.hand, scene.spec().player.hand);
    motion.player = scene.spec().player;
    for (auto& [id, time] : motion.positions) {
        time.value = slower * scene.motion().events().at(id);
        body::SeenInstant instant;
        instant.time = time;
        seen.instants.push_back(instant);
    }
    prepare::addUsualPoses(seen, motion);
    std::size_t k = 0;
    for (const auto& [id, time] : motion.positions) {
        const synth::Pose pose = scene.motion().pose(scene.motion().events().at(id));
        const Eigen::Vector3d hips =
            0.5 * (pose.at(model::Landmark::leftHip) + pose.at(model::Landmark::rightHip));
        const auto& usual = seen.instants[k++].usual;
        for (const model::Landmark landmark :
             {model::Landmark::leftKnee, model::Landmark::rightWrist, model::Landmark::head}) {
            const Eigen::Vector3d truth = (pose.at(landmark) - hips) / scene.motion().heightM();
            constexpr double nearly = 1e-9;
            QVERIFY2((usual[static_cast<std::size_t>(landmark)] - truth).norm() < nearly,
                     id.c_str());
        }
    }
    // One position does not tell how fast the rep goes.
    prepare::UsualMotion single = motion;
    single.positions = {{"release", motion.positions.at("release")}};
    body::SeenRep alone;
    alone.instants.resize(1);
    prepare::addUsualPoses(alone, single);
    QVERIFY(alone.instants[0].usual.empty());
    // Halfway in the rep's time between two positions it is halfway in the motion's.
    body::SeenRep between;
    between.instants.resize(1);
    between.instants[0].time = model::Seconds(
        0.5 * (motion.positions.at("foot_plant").value + motion.positions.at("release").value));
    motion.positions = {{"foot_plant", motion.positions.at("foot_plant")},
                        {"release", motion.positions.at("release")}};
    prepare::addUsualPoses(between, motion);
    const auto& events = scene.motion().events();
    const synth::Pose halfway =
        scene.motion().pose(0.5 * (events.at("foot_plant") + events.at("release")));
    const Eigen::Vector3d hips =
        0.5 * (halfway.at(model::Landmark::leftHip) + halfway.at(model::Landmark::rightHip));
    const auto hand = static_cast<std::size_t>(model::Landmark::rightWrist);
    constexpr double nearly = 1e-9;
    QVERIFY((between.instants[0].usual[hand] -
             (halfway.at(model::Landmark::rightWrist) - hips) / scene.motion().heightM())
                .norm() < nearly);
}

void TestRepBody::nothingIsUsualOfAnUnknownTechnique() {
    technique::Pack own = pack_;
    own.id = "my_own";
    QVERIFY(!prepare::usualMotion(own, player_, rep_, circumstances_).has_value());
    own.basedOn = pack_.id; // a copy of one that has a motion
    QVERIFY(prepare::usualMotion(own, player_, rep_, circumstances_).has_value());
    model::Rep unmarked = rep_;
    unmarked.positions = {{"release", rep_.positions.at("release")}};
    QVERIFY(!prepare::usualMotion(own, player_, unmarked, circumstances_).has_value());
}

/// How far the player is from the camera, how it looks down and that it stands level, each within
/// what is said.
void TestRepBody::markedGroundTellsOfTheCamera() {
    QVERIFY(!work(rep_)->seen.camera.distanceBh.has_value());
    const synth::FilmScene scene(spec_);
    std::mt19937 random(4);
    constexpr double clickSd = 1.0;
    technique::Circumstances marked = circumstances_;
    marked.bodyHeight = model::Metres(scene.motion().heightM());
    marked.ground = technique::groundOf(pack_,
                                        synth::cones(scene, model::Metres(3.0), model::Metres(2.0),
                                                     -0.8, -1.0, clickSd, random),
                                        spec_.width, spec_.height, spec_.camera.view)
                        .ground;
    QVERIFY(marked.ground.has_value());
    const auto made = prepare::bodyWork(pack_, player_, rep_, marked, spec_.width, spec_.height);
    const body::KnownCamera& known = made->seen.camera;
    QVERIFY(known.distanceBh.has_value() && known.pitch.has_value());
    const double first = made->seen.instants.front().time.value;
    const synth::Pose pose = scene.motion().pose(first);
    const synth::Camera camera = scene.camera(first);
    const Eigen::Vector3d hips =
        0.5 * (pose.at(model::Landmark::leftHip) + pose.at(model::Landmark::rightHip));
    const double truth = (camera.position - hips).norm() / scene.motion().heightM();
    const double off = std::abs(std::log(*known.distanceBh / truth));
    QVERIFY2(off < model::coverage95 * known.distanceRelativeSd,
             qPrintable(QString("%1 for %2").arg(*known.distanceBh).arg(truth)));
    constexpr double narrow = 0.2; // cones three metres apart tell more than nothing
    QVERIFY(known.distanceRelativeSd < narrow);
    const double pitch = model::degreesFromRadians(std::asin(-camera.forward.z())).value;
    QVERIFY2(std::abs(known.pitch->value - pitch) < model::coverage95 * known.pitchSd.value,
             qPrintable(QString("%1 for %2").arg(known.pitch->value).arg(pitch)));
    QVERIFY(std::abs(known.roll.value - spec_.camera.rollDeg) <
            model::coverage95 * known.rollSd.value);
    // Where it is not known how tall the player is, metres tell no heights.
    marked.bodyHeight.reset();
    const auto unknown = prepare::bodyWork(pack_, player_, rep_, marked, spec_.width, spec_.height);
    QVERIFY(!unknown->seen.camera.distanceBh.has_value());
    QVERIFY(unknown->key != made->key);
}

QTEST_GUILESS_MAIN(TestRepBody)
#include "test_rep_body.moc"
