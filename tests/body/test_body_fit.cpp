#include "body/fit.h"
#include "model/reading.h"
#include "study/body_study.h"
#include "support/coverage.h"
#include "synth/truth.h"

#include <QTest>

#include <Eigen/Geometry>

#include <array>
#include <cmath>
#include <future>
#include <numbers>

/// The body in space from one camera, against the bones of the synthetic player.
namespace kestrel {

using Eigen::Vector3d;
using model::Landmark;

class TestBodyFit : public QObject {
    Q_OBJECT
  private slots:
    void bonesAreAsLongAsTheyAre();
    void placesAreThoseOfTheBones();
    void quantitiesComeWithTheirDeviation();
    void farCameraAndNearOne();
    void knownDistanceIsKept();
    void nothingOfTooLittle();
    void legsThatBendTowardsTheCamera();
    void anglesAreToldFromAnyPlace_data();
    void anglesAreToldFromAnyPlace();
    void whereTheCameraStandsIsTold();
    void isTheSameEachTime();

  private:
    /// A skilled right-hander of the table's build, filmed squarely.
    static synth::FilmSpec film(const char* technique, model::View view, double distanceM) {
        synth::FilmSpec spec;
        spec.player.technique = technique;
        spec.width = 1920;
        spec.height = 1080;
        spec.captureRate = 60;
        spec.fileRate = {60, 1};
        spec.camera.view = view;
        spec.camera.distanceM = distanceM;
        spec.camera.heightM = 1.4;
        return spec;
    }

    /// A pitch followed by a machine, of which the search need not be long.
    static body::SeenRep aroundFootPlant(const synth::FilmScene& scene) {
        body::SeenRep rep = study::seenRep(scene, study::Landmarks::tracked, 9);
        const double plant = scene.motion().events().at("foot_plant");
        std::erase_if(rep.instants, [&](const body::SeenInstant& instant) {
            constexpr double around = 0.5; // seconds
            return std::abs(instant.time.value - plant) > around;
        });
        return rep;
    }
};

void TestBodyFit::bonesAreAsLongAsTheyAre() {
    const synth::FilmScene scene(film("overhand_pitch", model::View::openSide, 8.0));
    const auto fitted = body::fitBody(study::seenRep(scene, study::Landmarks::placed, 1));
    QVERIFY(fitted.has_value());
    const synth::Proportions& bones = scene.motion().proportions();
    const std::array parts{
        std::pair{body::Part::thigh, bones.thigh}, std::pair{body::Part::shank, bones.shank},
        std::pair{body::Part::upperArm, bones.upperArm},
        std::pair{body::Part::forearm, bones.forearm}, std::pair{body::Part::trunk, bones.trunk}};
    constexpr double within = 0.05; // of the length
    for (const auto& [part, length] : parts) {
        QVERIFY2(std::abs(fitted->length(part) - length) < within * length,
                 qPrintable(QString("%1 for %2").arg(fitted->length(part)).arg(length)));
    }
}

/// Where the points lie from the hips, to the side, away and up: a few hundredths of the height.
void TestBodyFit::placesAreThoseOfTheBones() {
    const synth::FilmScene scene(film("tennis_serve", model::View::front, 9.0));
    const auto fitted = body::fitBody(study::seenRep(scene, study::Landmarks::placed, 2));
    QVERIFY(fitted.has_value());
    Vector3d right = scene.steadyCamera().right;
    right.z() = 0.0;
    right.normalize();
    const Vector3d away = Vector3d::UnitZ().cross(right);
    double square = 0.0;
    int count = 0;
    for (const auto& [id, frame] : synth::truePositions(scene)) {
        const double time = scene.frameTime(frame);
        const synth::Pose pose = scene.motion().pose(time);
        const model::Seconds instant(time);
        const Vector3d hips = 0.5 * (pose.at(Landmark::leftHip) + pose.at(Landmark::rightHip));
        const Vector3d found = 0.5 * (fitted->place({Landmark::leftHip, instant}) +
                                      fitted->place({Landmark::rightHip, instant}));
        for (const Landmark landmark :
             {Landmark::leftShoulder, Landmark::rightShoulder, Landmark::leftKnee,
              Landmark::rightKnee, Landmark::leftAnkle, Landmark::rightAnkle}) {
            const Vector3d way = (pose.at(landmark) - hips) / scene.motion().heightM();
            const Vector3d truth(way.dot(right), way.dot(away), way.z());
            square += (fitted->place({landmark, instant}) - found - truth).squaredNorm();
            ++count;
        }
    }
    const double rms = std::sqrt(square / count);
    constexpr double most = 0.05; // standing heights, all three directions together
    QVERIFY2(rms < most, qPrintable(QString::number(rms)));
}

/// A quantity that hangs on picture places alone is sure; one that hangs on depth is less so; one
/// that cannot change is certain.
void TestBodyFit::quantitiesComeWithTheirDeviation() {
    const synth::FilmScene scene(film("bat_swing", model::View::openSide, 8.0));
    const auto fitted = body::fitBody(study::seenRep(scene, study::Landmarks::placed, 3));
    QVERIFY(fitted.has_value());
    const model::Seconds instant = fitted->times()[fitted->times().size() / 2];
    const std::array places{body::PlaceRef{Landmark::leftHip, instant},
                            body::PlaceRef{Landmark::leftShoulder, instant}};
    using Places = std::span<const Vector3d>;
    const auto across = fitted->value(places, [](Places p) { return (p[1] - p[0]).x(); });
    const auto away = fitted->value(places, [](Places p) { return (p[1] - p[0]).y(); });
    const auto fixed = fitted->value(places, [](Places) { return 3.0; });
    QVERIFY(across.sd > 0.0);
    QVERIFY(away.sd > 2.0 * across.sd);
    QCOMPARE(fixed.value, 3.0);
    QCOMPARE(fixed.sd, 0.0);
    // A direction that goes past half a turn is as sure as any other.
    constexpr double turn = 360.0;
    const auto direction = [](double by) {
        return [by](Places p) {
            const Vector3d way = p[1] - p[0];
            return std::remainder(
                model::degreesFromRadians(std::atan2(way.y(), way.z())).value + by, turn);
        };
    };
    const auto here = fitted->value(places, direction(0.0), turn);
    const auto turned = fitted->value(places, direction(180.0 - here.value), turn);
    QVERIFY(std::abs(here.sd - turned.sd) < 1e-6);
}

void TestBodyFit::farCameraAndNearOne() {
    for (const double distance : {4.0, 12.0}) {
        const synth::FilmScene scene(film("overhand_pitch", model::View::front, distance));
        const auto fitted = body::fitBody(study::seenRep(scene, study::Landmarks::placed, 4));
        QVERIFY(fitted.has_value());
        const double truth = distance / scene.motion().heightM();
        constexpr double factor = 1.6; // a logarithm is told, and roughly
        QVERIFY2(fitted->distanceBh() < factor * truth && fitted->distanceBh() > truth / factor,
                 qPrintable(QString("%1 for %2").arg(fitted->distanceBh()).arg(truth)));
    }
}

/// What is known of the camera before counts: the ground was marked, say. It is told in heights of
/// the player, who may be taller than this film shows.
void TestBodyFit::knownDistanceIsKept() {
    constexpr double distanceM = 8.0;
    const synth::FilmScene scene(film("table_tennis_backhand", model::View::front, distanceM));
    body::SeenRep rep = study::seenRep(scene, study::Landmarks::placed, 6);
    const double known = distanceM / scene.motion().heightM();
    rep.camera.distanceBh = known;
    rep.camera.distanceRelativeSd = 0.01;
    const auto fitted = body::fitBody(rep);
    QVERIFY(fitted.has_value());
    constexpr double within = 0.03;
    QVERIFY2(std::abs(fitted->distanceBh() - known) < within * known,
             qPrintable(QString("%1 for %2").arg(fitted->distanceBh()).arg(known)));
}

void TestBodyFit::nothingOfTooLittle() {
    const synth::FilmScene scene(film("overhand_pitch", model::View::openSide, 8.0));
    body::SeenRep rep = study::seenRep(scene, study::Landmarks::placed, 5);
    body::SeenRep noToe = rep;
    for (body::SeenInstant& instant : noToe.instants) {
        instant.points.erase(Landmark::leftToe);
    }
    QVERIFY(!body::fitBody(noToe).has_value());
    rep.instants.resize(3);
    QVERIFY(!body::fitBody(rep).has_value());
    QVERIFY(!body::fitBody({}).has_value());
}

/// A player who crouches all the time, filmed from the front: knees hardly move in the picture, and
/// nothing shows how tall the player is.
void TestBodyFit::legsThatBendTowardsTheCamera() {
    double square = 0.0;
    int count = 0;
    for (const char* technique : {"table_tennis_backhand", "table_tennis_forehand"}) {
        const synth::FilmScene scene(film(technique, model::View::front, 6.0));
        const auto fitted = body::fitBody(study::seenRep(scene, study::Landmarks::placed, 8));
        QVERIFY(fitted.has_value());
        const auto knee = [](const Vector3d& hip, const Vector3d& knee, const Vector3d& ankle) {
            return model::degreesFromRadians(
                       std::acos((hip - knee).normalized().dot((ankle - knee).normalized())))
                .value;
        };
        for (const auto& [id, frame] : synth::truePositions(scene)) {
            const double time = scene.frameTime(frame);
            const synth::Pose pose = scene.motion().pose(time);
            const model::Seconds i(time);
            for (const bool left : {true, false}) {
                const Landmark hip = left ? Landmark::leftHip : Landmark::rightHip;
                const Landmark middle = left ? Landmark::leftKnee : Landmark::rightKnee;
                const Landmark ankle = left ? Landmark::leftAnkle : Landmark::rightAnkle;
                const double error = knee(fitted->place({hip, i}), fitted->place({middle, i}),
                                          fitted->place({ankle, i})) -
                                     knee(pose.at(hip), pose.at(middle), pose.at(ankle));
                square += error * error;
                ++count;
            }
        }
    }
    const double rms = std::sqrt(square / count);
    qInfo("knees %.1f degrees off", rms);
    constexpr double most = 8.0;
    QVERIFY(rms < most);
}

/// What the errors may be, root mean square, degrees.
void TestBodyFit::anglesAreToldFromAnyPlace_data() {
    QTest::addColumn<study::Landmarks>("landmarks");
    QTest::addColumn<int>("films"); // each of another player
    QTest::addColumn<double>("mostTurn");
    QTest::addColumn<double>("mostOther");
    QTest::newRow("placed in all frames") << study::Landmarks::placed << 8 << 8.0 << 7.0;
    QTest::newRow("at the positions only") << study::Landmarks::atPositions << 16 << 15.0 << 12.0;
}

/// Players and cameras that the estimate was not set on.
void TestBodyFit::anglesAreToldFromAnyPlace() {
    QFETCH(const study::Landmarks, landmarks);
    QFETCH(const int, films);
    QFETCH(const double, mostTurn);
    QFETCH(const double, mostOther);
    struct Kind {
        int held = 0;
        int all = 0;
        double square = 0.0;
        [[nodiscard]] double share() const { return static_cast<double>(held) / all; }
        [[nodiscard]] double rms() const { return std::sqrt(square / all); }
    };
    Kind turns;
    Kind inclinations; // interior angles and elevations
    int lines = 0;
    int right = 0;
    constexpr std::array places{study::Around::side, study::Around::front, study::Around::rear,
                                study::Around::between};
    for (std::uint32_t k = 0; k < static_cast<std::uint32_t>(films); ++k) {
        const study::BodyFilm film = study::studyBody(study::firstMeasuringSeed + k,
                                                      places[k % places.size()], landmarks, {});
        QVERIFY(film.fitted);
        lines += film.turnedLines;
        right += film.nearerRight;
        for (const study::BodyReading& r : film.readings) {
            Kind& kind = r.turns() ? turns : inclinations;
            kind.held += r.inside() ? 1 : 0;
            kind.square += r.error() * r.error();
            ++kind.all;
        }
    }
    qInfo("turns: rms %.1f degrees, %d of %d hold the truth; nearer end right for %d of %d lines",
          turns.rms(), turns.held, turns.all, right, lines);
    qInfo("other angles: rms %.1f degrees, %d of %d hold the truth", inclinations.rms(),
          inclinations.held, inclinations.all);
    QVERIFY(turns.rms() < mostTurn);
    QVERIFY(inclinations.rms() < mostOther);
    constexpr double mostLines = 0.97;
    QVERIFY(right >= mostLines * lines);
    QVERIFY(turns.share() <= support::mostInside);
    QVERIFY(inclinations.share() <= support::mostInside);
    QVERIFY(inclinations.share() >= support::leastInside);
    QVERIFY(turns.share() >= support::leastInside);
}

/// A player who moves in an own manner, from a place far off square.
void TestBodyFit::whereTheCameraStandsIsTold() {
    synth::FilmSpec spec = film("overhand_pitch", model::View::openSide, 8.0);
    spec.camera.aroundDeg = -35.0;
    spec.player.manner = 12;
    const synth::FilmScene scene(spec);
    body::SeenRep rep = aroundFootPlant(scene);
    const auto fitted = body::fitBody(rep);
    QVERIFY(fitted.has_value());
    QVERIFY(fitted->target().has_value());
    const synth::Camera camera = scene.steadyCamera();
    const double truth = std::atan2(camera.forward.x(), camera.right.x());
    const double miss =
        std::abs(std::remainder(fitted->target()->radians - truth, 2.0 * std::numbers::pi));
    const double u95 = model::coverage95 * fitted->target()->sd;
    qInfo("%.1f degrees off, said to be within %.1f", model::degreesFromRadians(miss).value,
          model::degreesFromRadians(u95).value);
    QVERIFY(miss < u95);
    constexpr double most = 20.0;
    QVERIFY(u95 < model::toRadians(model::Degrees(most)));
    // Where it is not known how it is done, nothing is said.
    for (body::SeenInstant& instant : rep.instants) {
        instant.usual.clear();
    }
    const auto unknown = body::fitBody(rep);
    QVERIFY(unknown.has_value());
    QVERIFY(!unknown->target().has_value());
}

/// The searches of several bodies at once compute with one BLAS (body_solving.cpp).
void TestBodyFit::isTheSameEachTime() {
    const synth::FilmScene scene(film("overhand_pitch", model::View::openSide, 8.0));
    const body::SeenRep rep = aroundFootPlant(scene);
    auto beside = std::async(std::launch::async, [&rep] { return body::fitBody(rep); });
    const auto fitted = body::fitBody(rep);
    const auto other = beside.get();
    QVERIFY(fitted.has_value());
    QVERIFY(other.has_value());
    QVERIFY(fitted->parts() == other->parts());
}

} // namespace kestrel

QTEST_GUILESS_MAIN(kestrel::TestBodyFit)
#include "test_body_fit.moc"
