#include "prepare/pose_model.h"
#include "support/test_films.h"
#include "synth/truth.h"

#include <QTest>

#include <cmath>

using namespace kestrel;

/// The technique as it is usually done, at a player's build and from a film's side.
class TestPoseModel : public QObject {
    Q_OBJECT
  private slots:
    /// What the sheet's motion is by definition, read from the model: the skilled player of the
    /// same motion has the truth.
    void readingsAreTheMotions() {
        const prepare::JudgedRep rep = judged();
        const auto model = prepare::poseModel(rep, 1280, 720, model::Day());
        QVERIFY(model.has_value());
        const synth::FilmScene scene(model->film);
        const auto truth = synth::trueMeasures(scene);
        int compared = 0;
        for (const model::Reading& reading : model->judged.review.readings) {
            const auto value = truth.find(reading.measureId);
            if (reading.value && value != truth.end() && reading.from == model::ReadFrom::body &&
                reading.unit == model::Unit::degrees) {
                QVERIFY2(std::abs(std::remainder(*reading.value - value->second, 360.0)) < 1.5,
                         qPrintable(QString("%1: %2, truly %3")
                                        .arg(QString::fromStdString(reading.measureId))
                                        .arg(*reading.value)
                                        .arg(value->second)));
                QVERIFY(reading.u95 < 8.0);
                ++compared;
            }
        }
        QVERIFY2(compared >= 5, qPrintable(QString::number(compared)));
        QVERIFY(model->judged.review.findings.faults.size() <= 1);
    }
    /// A camera anywhere around: the model's target lies where the film's does.
    void itIsSeenFromTheFilmsSide_data() {
        QTest::addColumn<double>("azimuth");
        for (const double degrees : {0.0, 30.0, -45.0, 90.0, -120.0, 170.0}) {
            QTest::addRow("%g degrees", degrees) << degrees;
        }
    }
    void itIsSeenFromTheFilmsSide() {
        QFETCH(const double, azimuth);
        const prepare::JudgedRep rep = judged(azimuth);
        const auto model = prepare::poseModel(rep, 1280, 720, model::Day());
        QVERIFY(model.has_value());
        const double seen = model->judged.circumstances.body->target()->radians;
        const double wanted = model::toRadians(model::Degrees(azimuth));
        QVERIFY2(std::abs(std::remainder(seen - wanted, 2.0 * M_PI)) < 0.02,
                 qPrintable(QString::number(seen)));
    }
    void itIsOfThePlayersBuildAndHand() {
        prepare::JudgedRep rep = judged();
        rep.circumstances.hand = model::Hand::left;
        rep.player.hand = model::Hand::left;
        rep.player.height = model::Metres(1.42);
        const auto model = prepare::poseModel(rep, 1280, 720, model::Day());
        QVERIFY(model.has_value());
        QCOMPARE(model->film.player.hand, model::Hand::left);
        QCOMPARE(model->film.player.build.heightM, 1.42);
        const film::Picture picture = prepare::PoseModelPictures(*model).frame(0);
        QCOMPARE(picture.width, model->film.width);
        QVERIFY_THROWS_EXCEPTION(std::out_of_range,
                                 prepare::PoseModelPictures(*model).frame(100000));
    }
    void aRepThatIsNotJudgedHasNone() {
        prepare::JudgedRep rep = judged();
        rep.notJudged = prepare::NotJudged::filmMissing;
        QVERIFY(!prepare::poseModel(rep, 1280, 720, model::Day()));
        rep.notJudged.reset();
        technique::Pack own = pack;
        own.id = "something_of_the_coachs_own";
        own.basedOn.clear();
        rep.pack = &own;
        QVERIFY(!prepare::poseModel(rep, 1280, 720, model::Day()));
    }

  private:
    const technique::Pack pack = support::pitchPack();

    /// A judged rep of the right-hander's film, its body's target in that direction.
    [[nodiscard]] prepare::JudgedRep judged(double azimuthDeg = 0.0) const {
        const synth::FilmSpec& film = support::rightHander().spec;
        prepare::JudgedRep judged;
        judged.pack = &pack;
        judged.rep = support::trueRep(film);
        judged.rep.techniqueId = pack.id;
        judged.circumstances = support::openSide(film);
        body::FittedParts body = prepare::trueBody(synth::FilmScene(film));
        body.target = body::TargetAzimuth{model::toRadians(model::Degrees(azimuthDeg)), 0.1};
        judged.circumstances.body = std::make_shared<const body::FittedBody>(std::move(body));
        judged.review = coaching::reviewOf(pack, judged.rep, judged.circumstances);
        return judged;
    }
};

QTEST_GUILESS_MAIN(TestPoseModel)
#include "test_pose_model.moc"
