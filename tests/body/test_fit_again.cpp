#include "body/fit.h"
#include "body/fit_again.h"
#include "study/body_study.h"
#include "support/coverage.h"
#include "synth/truth.h"

#include <QTest>

#include <cmath>

/// A body that goes on from one that was fitted, when marks change.
namespace kestrel {

using model::Landmark;

class TestFitAgain : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void staysWhereNothingChanged();
    void followsACorrectedWrist();
    void anglesHoldTheTruthAfterCorrecting();
    void nothingWhereOnlyASearchCanTell();

  private:
    /// A pitch followed by a machine, half a second to both sides of foot plant.
    synth::FilmSpec spec_;
    body::SeenRep rep_;
    double plant_ = 0.0;
    std::optional<body::FittedBody> fitted_;

    body::SeenInstant& atPlant(body::SeenRep& rep) const {
        return *std::min_element(rep.instants.begin(), rep.instants.end(),
                                 [&](const body::SeenInstant& a, const body::SeenInstant& b) {
                                     return std::abs(a.time.value - plant_) <
                                            std::abs(b.time.value - plant_);
                                 });
    }
    static Eigen::Vector3d fromHips(const body::FittedBody& body, Landmark landmark,
                                    model::Seconds time) {
        return body.place({landmark, time}) - 0.5 * (body.place({Landmark::leftHip, time}) +
                                                     body.place({Landmark::rightHip, time}));
    }
};

void TestFitAgain::initTestCase() {
    spec_.player.technique = "overhand_pitch";
    spec_.width = 1920;
    spec_.height = 1080;
    spec_.captureRate = 60;
    spec_.fileRate = {60, 1};
    spec_.camera.view = model::View::openSide;
    spec_.camera.distanceM = 8.0;
    spec_.camera.heightM = 1.4;
    const synth::FilmScene scene(spec_);
    rep_ = study::seenRep(scene, study::Landmarks::tracked, 9);
    plant_ = scene.motion().events().at("foot_plant");
    std::erase_if(rep_.instants, [&](const body::SeenInstant& instant) {
        constexpr double around = 0.5; // seconds
        return std::abs(instant.time.value - plant_) > around;
    });
    fitted_ = body::fitBody(rep_);
    QVERIFY(fitted_.has_value());
}

/// Neither places nor how surely they are known.
void TestFitAgain::staysWhereNothingChanged() {
    const auto again = body::fitAgain(rep_, *fitted_);
    QVERIFY(again.has_value());
    QCOMPARE(again->times().size(), fitted_->times().size());
    QCOMPARE(again->distanceBh(), fitted_->distanceBh());
    for (const model::Seconds time : fitted_->times()) {
        for (const Landmark landmark : {Landmark::leftShoulder, Landmark::rightElbow,
                                        Landmark::leftKnee, Landmark::rightAnkle}) {
            const double off =
                (fromHips(*again, landmark, time) - fromHips(*fitted_, landmark, time)).norm();
            constexpr double most = 0.03; // standing heights; deviations are about as large
            QVERIFY2(off < most, qPrintable(QString::number(off)));
        }
    }
    const std::vector places{body::PlaceRef{Landmark::leftKnee, model::Seconds(plant_)},
                             body::PlaceRef{Landmark::leftAnkle, model::Seconds(plant_)}};
    const auto away = [](std::span<const Eigen::Vector3d> p) { return (p[1] - p[0]).y(); };
    const double before = fitted_->value(places, away).sd;
    const double now = again->value(places, away).sd;
    QVERIFY2(std::abs(now - before) < 0.25 * before,
             qPrintable(QString("%1 for %2").arg(now).arg(before)));
}

/// The machine has a wrist a fifth of the height off for a while; the coach puts it right.
void TestFitAgain::followsACorrectedWrist() {
    const double heightPx = 500.0;
    body::SeenRep wrong = rep_;
    for (body::SeenInstant& instant : wrong.instants) {
        constexpr double around = 0.05; // seconds
        if (std::abs(instant.time.value - plant_) < around) {
            instant.points.at(Landmark::leftWrist).px.x += 0.2 * heightPx;
        }
    }
    const auto off = body::fitBody(wrong);
    QVERIFY(off.has_value());
    body::SeenRep corrected = rep_;
    body::SeenInstant& instant = atPlant(corrected);
    const synth::FilmScene scene(spec_);
    const int frame = synth::truePositions(scene).at("foot_plant");
    body::Seen& wrist = instant.points.at(Landmark::leftWrist);
    wrist = {synth::trueLandmarks(scene).at(frame).at(Landmark::leftWrist).px,
             1.5,
             0.0,
             0.0,
             true,
             wrist.nearer};
    instant.wanted = true;
    const auto again = body::fitAgain(corrected, *off);
    QVERIFY(again.has_value());
    const auto whole = body::fitBody(corrected);
    QVERIFY(whole.has_value());
    const auto across = [&](const body::FittedBody& body) {
        const Eigen::Vector3d way = fromHips(body, Landmark::leftWrist, instant.time);
        return Eigen::Vector2d(way.x(), way.z());
    };
    const double before = (across(*off) - across(*whole)).norm();
    const double after = (across(*again) - across(*whole)).norm();
    QVERIFY2(before > 0.04, qPrintable(QString::number(before)));
    QVERIFY2(after < 0.25 * before, qPrintable(QString("%1 of %2").arg(after).arg(before)));
}

/// Players and cameras that nothing was set on, corrected at all their key positions.
void TestFitAgain::anglesHoldTheTruthAfterCorrecting() {
    int held = 0;
    int all = 0;
    double square = 0.0;
    constexpr std::array places{study::Around::side, study::Around::front, study::Around::rear,
                                study::Around::between};
    int fitted = 0;
    constexpr std::uint32_t films = 4;
    for (std::uint32_t k = 0; k < films; ++k) {
        const study::BodyFilm film =
            study::studyCorrected(study::firstMeasuringSeed + 40 + k, places[k % places.size()]);
        fitted += film.fitted ? 1 : 0;
        for (const study::BodyReading& r : film.readings) {
            held += r.inside() ? 1 : 0;
            square += r.error() * r.error();
            ++all;
        }
    }
    qInfo("%d of %u films; rms %.1f degrees", fitted, films, std::sqrt(square / all));
    QVERIFY(fitted >= 3);
    VERIFY_COVERAGE("angles after correcting", held, all);
}

void TestFitAgain::nothingWhereOnlyASearchCanTell() {
    // Of a body that does not tell where its search ended.
    body::FittedParts parts = fitted_->parts();
    parts.end.reset();
    QVERIFY(!body::fitAgain(rep_, body::FittedBody(parts)).has_value());
    // Of another time.
    body::SeenRep later = rep_;
    for (body::SeenInstant& instant : later.instants) {
        instant.time = instant.time + model::Seconds(1.0);
    }
    QVERIFY(!body::fitAgain(later, *fitted_).has_value());
    // Left and right exchanged throughout.
    body::SeenRep exchanged = rep_;
    for (body::SeenInstant& instant : exchanged.instants) {
        std::map<Landmark, body::Seen> points;
        for (const auto& [landmark, seen] : instant.points) {
            points[model::mirrored(landmark)] = seen;
        }
        instant.points = points;
    }
    QVERIFY(!body::fitAgain(exchanged, *fitted_).has_value());
}

} // namespace kestrel

QTEST_GUILESS_MAIN(kestrel::TestFitAgain)
#include "test_fit_again.moc"
