#include "support/judged_player.h"
#include "support/test_films.h"
#include "support/true_body.h"
#include "synth/placed_by_hand.h"
#include "technique/judge/target_line.h"
#include "technique/kinds/measure_kind.h"

#include <QTest>

#include <cmath>
#include <memory>
#include <random>
#include <set>

using namespace kestrel;

/// Readings from the body in space: where the places are right, the readings are those of the
/// bones, from anywhere; where they are not, the ± says so.
class TestBodyReading : public QObject {
    Q_OBJECT
  private slots:
    void rightPlacesGiveTheTrueMeasures_data();
    void rightPlacesGiveTheTrueMeasures();
    void anyViewDoes();
    void withoutAViewWhatNeedsNoTargetIsRead();
    void whatIsOffMakesTheInterval();
    void theTargetLineIsOffByTheCamera();
    void markedGroundTellsTheTargetLine();
    void aCameraThatStandsSquareIsTakenTo();
    void aCameraThatDoesNotIsNot();
    void outsideTheBodyThePictureIsRead();
    void whatNoCoachLookedAtIsLessSure();
    void whatTellsNothingIsNotRead();
    void whatTellsNothingAsksForALook();
    void theCoachsWordOnDepthOverrulesTheBody();

  private:
    /// The line where the body, filmed from the open side, has it so far from square.
    static technique::TargetLine lineWhere(double offDeg, double sdDeg,
                                           std::optional<model::View> said) {
        const technique::Pack pack = support::pitchPack();
        Read r = readFrom(support::rightHander().spec);
        r.circumstances.view = model::View::openSide;
        const double square = technique::targetLine(pack, r.circumstances)->azimuth;
        body::FittedParts parts = r.circumstances.body->parts();
        parts.target = {square + model::toRadians(model::Degrees(offDeg)),
                        model::toRadians(model::Degrees(sdDeg))};
        r.circumstances.body = std::make_shared<const body::FittedBody>(std::move(parts));
        r.circumstances.view = said;
        technique::TargetLine line = technique::targetLine(pack, r.circumstances).value();
        line.azimuth -= square;
        return line;
    }

    struct Read {
        technique::Circumstances circumstances;
        model::Rep rep;
        std::map<std::string, double> truth;
    };
    static Read readFrom(const synth::FilmSpec& spec, double off = 0.0) {
        const synth::FilmScene scene(spec);
        Read r;
        r.rep = support::trueRep(spec);
        for (auto& [frame, points] : r.rep.landmarks) {
            for (auto& [landmark, point] : points) {
                constexpr double vague = 30.0; // pixels: the picture is never the surer one
                point.sdPx = vague;
            }
        }
        r.circumstances = support::openSide(spec);
        r.circumstances.view = spec.camera.view;
        r.circumstances.body =
            std::make_shared<const body::FittedBody>(support::trueBody(scene, off));
        r.truth = synth::trueMeasures(scene);
        return r;
    }
};

void TestBodyReading::rightPlacesGiveTheTrueMeasures_data() {
    QTest::addColumn<QString>("pack");
    QTest::addColumn<int>("view");
    QTest::addColumn<bool>("left");
    for (const technique::Pack& pack : support::shippedPacks()) {
        for (const model::View view : {model::View::openSide, model::View::closedSide,
                                       model::View::front, model::View::rear}) {
            for (const bool left : {false, true}) {
                QTest::addRow("%s %s %s", pack.id.c_str(), std::string(name(view)).c_str(),
                              left ? "left" : "right")
                    << QString::fromStdString(pack.id) << static_cast<int>(view) << left;
            }
        }
    }
}

void TestBodyReading::rightPlacesGiveTheTrueMeasures() {
    QFETCH(QString, pack);
    QFETCH(int, view);
    QFETCH(bool, left);
    const auto packs = support::shippedPacks();
    const technique::Pack& own = *std::find_if(
        packs.begin(), packs.end(), [&](const auto& p) { return p.id == pack.toStdString(); });
    const synth::FilmSpec spec = support::skilled(
        own, static_cast<model::View>(view), left ? model::Hand::left : model::Hand::right, {});
    const Read r = readFrom(spec);
    int compared = 0;
    for (const model::Reading& reading : technique::evaluate(own, r.rep, r.circumstances)) {
        const auto truth = r.truth.find(reading.measureId);
        if (reading.from != model::ReadFrom::body || truth == r.truth.end()) {
            continue;
        }
        const bool degrees = reading.unit == model::Unit::degrees;
        const double miss = degrees ? std::remainder(*reading.value - truth->second, 360.0)
                                    : *reading.value - truth->second;
        // The table's centre of mass is not the synthetic player's to the last digit.
        const double most = degrees ? 0.1 : reading.unit == model::Unit::percent ? 3.0 : 0.01;
        QVERIFY2(std::abs(miss) < most, qPrintable(QString("%1: %2, true %3")
                                                       .arg(reading.measureId.c_str())
                                                       .arg(*reading.value)
                                                       .arg(truth->second)));
        ++compared;
    }
    QVERIFY(compared > 0);
}

void TestBodyReading::anyViewDoes() {
    const technique::Pack pack = support::pitchPack();
    std::map<std::string, double> fromSide;
    for (const model::View view : {model::View::openSide, model::View::front}) {
        synth::FilmSpec spec = support::rightHander().spec;
        spec.camera.view = view;
        const Read r = readFrom(spec);
        int read = 0;
        for (const model::Reading& reading : technique::evaluate(pack, r.rep, r.circumstances)) {
            if (reading.from != model::ReadFrom::body) {
                continue;
            }
            ++read;
            if (view == model::View::openSide) {
                fromSide[reading.measureId] = *reading.value;
            } else {
                constexpr double nearly = 0.02;
                QVERIFY2(std::abs(*reading.value - fromSide.at(reading.measureId)) < nearly,
                         reading.measureId.c_str());
            }
        }
        QVERIFY(read > 25);
    }
}

void TestBodyReading::withoutAViewWhatNeedsNoTargetIsRead() {
    const technique::Pack pack = support::pitchPack();
    Read r = readFrom(support::rightHander().spec);
    r.circumstances.view.reset();
    const auto readings = technique::evaluate(pack, r.rep, r.circumstances);
    QVERIFY(support::reading(readings, "plant_lead_knee").from == model::ReadFrom::body);
    QVERIFY(support::reading(readings, "plant_separation").from == model::ReadFrom::body);
    // A lean towards the target hangs on where the target is.
    QVERIFY(!support::reading(readings, "release_trunk_lean").value.has_value());
}

void TestBodyReading::whatIsOffMakesTheInterval() {
    const technique::Pack pack = support::pitchPack();
    const auto interval = [&](double off) {
        const Read r = readFrom(support::rightHander().spec, off);
        const auto readings = technique::evaluate(pack, r.rep, r.circumstances);
        return support::reading(readings, "plant_pelvis_turn").uncertainty.body;
    };
    QCOMPARE(interval(0.0), 0.0);
    QVERIFY(interval(0.01) > 0.0);
    const double ratio = interval(0.02) / interval(0.01);
    QVERIFY2(std::abs(ratio - 2.0) < 0.2, qPrintable(QString::number(ratio)));
}

void TestBodyReading::theTargetLineIsOffByTheCamera() {
    const technique::Pack pack = support::pitchPack();
    const Read r = readFrom(support::rightHander().spec);
    const auto line = technique::targetLine(pack, r.circumstances);
    QVERIFY(line.has_value());
    const auto readings = technique::evaluate(pack, r.rep, r.circumstances);
    // A turn against the target line is off by as much as the line is.
    const double turn = support::reading(readings, "plant_pelvis_turn").uncertainty.ground;
    QVERIFY(std::abs(turn - model::degreesFromRadians(line->azimuthSd).value) < 1e-6);
    // The difference of two turns is free of it, and a knee has nothing to do with it.
    QVERIFY(support::reading(readings, "plant_separation").uncertainty.ground < 1e-6);
    QVERIFY(support::reading(readings, "plant_lead_knee").uncertainty.ground < 1e-6);
}

void TestBodyReading::markedGroundTellsTheTargetLine() {
    const technique::Pack pack = support::pitchPack();
    synth::FilmSpec spec = support::rightHander().spec;
    constexpr double offSquare = 20.0; // degrees
    spec.camera.aroundDeg = offSquare;
    Read r = readFrom(spec);
    const auto miss = [&] {
        const auto readings = technique::evaluate(pack, r.rep, r.circumstances);
        return std::abs(*support::reading(readings, "plant_pelvis_turn").value -
                        r.truth.at("plant_pelvis_turn"));
    };
    QVERIFY(std::abs(miss() - offSquare) < 1.0); // taken to stand square
    const synth::FilmScene scene(spec);
    std::mt19937 exact;
    const model::GroundMarks cones =
        synth::cones(scene, model::Metres(2.4), model::Metres(2.0), -0.8, -1.0, 0.0, exact);
    r.circumstances.ground =
        technique::groundOf(pack, cones, spec.width, spec.height, spec.camera.view).ground;
    QVERIFY(r.circumstances.ground.has_value());
    QVERIFY2(miss() < 2.0, qPrintable(QString::number(miss())));
}

/// Two that agree are surer than either.
void TestBodyReading::aCameraThatStandsSquareIsTakenTo() {
    constexpr double bodySd = 7.0;
    const technique::TargetLine line = lineWhere(4.0, bodySd, model::View::openSide);
    const double off = model::degreesFromRadians(line.azimuth).value;
    const double sd = model::degreesFromRadians(line.azimuthSd).value;
    QVERIFY(off > 0.0 && off < 2.0);
    QVERIFY(sd < 4.5);
    // Half way between both there is room for both.
    const technique::TargetLine doubtful = lineWhere(20.0, bodySd, model::View::openSide);
    QVERIFY(doubtful.azimuthSd > model::toRadians(model::Degrees(bodySd)));
}

void TestBodyReading::aCameraThatDoesNotIsNot() {
    constexpr double off = 45.0;
    constexpr double bodySd = 7.0;
    for (const auto& said : {std::optional(model::View::openSide), std::optional<model::View>()}) {
        const technique::TargetLine line = lineWhere(off, bodySd, said);
        QVERIFY(std::abs(model::degreesFromRadians(line.azimuth).value - off) < 0.5);
        QVERIFY(std::abs(model::degreesFromRadians(line.azimuthSd).value - bodySd) < 0.5);
    }
}

void TestBodyReading::outsideTheBodyThePictureIsRead() {
    const technique::Pack pack = support::pitchPack();
    Read r = readFrom(support::rightHander().spec);
    body::FittedParts parts = r.circumstances.body->parts();
    // It ends before the release.
    const double release =
        r.circumstances.time.fieldTimes()[static_cast<std::size_t>(r.rep.positions.at("release"))]
            .value;
    while (parts.times.back().value > release - 0.1) {
        parts.times.pop_back();
        parts.places.resize(parts.places.size() - parts.places.size() / (parts.times.size() + 1));
    }
    r.circumstances.body = std::make_shared<const body::FittedBody>(parts);
    const auto readings = technique::evaluate(pack, r.rep, r.circumstances);
    QVERIFY(support::reading(readings, "plant_lead_knee").from == model::ReadFrom::body);
    QVERIFY(support::reading(readings, "release_lead_knee").from == model::ReadFrom::picture);
}

void TestBodyReading::whatNoCoachLookedAtIsLessSure() {
    const technique::Pack pack = support::pitchPack();
    Read r = readFrom(support::rightHander().spec, 0.01);
    const auto turn = [&] {
        return support::reading(technique::evaluate(pack, r.rep, r.circumstances),
                                "plant_pelvis_turn");
    };
    const model::Reading looked = turn();
    QCOMPARE(looked.from, model::ReadFrom::body);
    const int plant = r.rep.positions.at("foot_plant");
    r.rep.landmarks[plant][model::Landmark::leftHip].source = model::Source::tracked;
    const model::Reading followed = turn();
    QCOMPARE(followed.from, model::ReadFrom::body);
    QCOMPARE(*followed.value, *looked.value);
    QVERIFY(followed.uncertainty.body > 1.05 * looked.uncertainty.body);
}

/// A place that is a quarter of the height off makes a knee inside and outside its range at once.
void TestBodyReading::whatTellsNothingIsNotRead() {
    const technique::Pack pack = support::pitchPack();
    constexpr double quarter = 0.25;
    Read r = readFrom(support::rightHander().spec, quarter);
    const auto from = [&] {
        return support::reading(technique::evaluate(pack, r.rep, r.circumstances),
                                "plant_pelvis_turn")
            .from;
    };
    QCOMPARE(from(), model::ReadFrom::body); // a coach has looked: it is told, with its ±
    const int plant = r.rep.positions.at("foot_plant");
    r.rep.landmarks[plant][model::Landmark::leftHip].source = model::Source::tracked;
    QCOMPARE(from(), model::ReadFrom::picture);
}

/// Where the picture says nothing either, the coach is told what would help.
void TestBodyReading::whatTellsNothingAsksForALook() {
    const technique::Pack pack = support::pitchPack();
    constexpr double quarter = 0.25;
    Read r = readFrom(support::rightHander().spec, quarter);
    const int plant = r.rep.positions.at("foot_plant");
    r.rep.landmarks[plant][model::Landmark::leftHip].source = model::Source::tracked;
    const model::Reading asks =
        support::reading(technique::evaluate(pack, r.rep, r.circumstances), "plant_pelvis_turn");
    QVERIFY(!asks.value.has_value());
    QVERIFY(asks.missing.has_value());
    QVERIFY(asks.missing->kind == model::MissingReason::Kind::notLookedAt);
}

void TestBodyReading::theCoachsWordOnDepthOverrulesTheBody() {
    const technique::Pack pack = support::pitchPack();
    Read r = readFrom(support::rightHander().spec);
    const auto turnFrom = [&] {
        const auto readings = technique::evaluate(pack, r.rep, r.circumstances);
        return support::reading(readings, "plant_pelvis_turn").from;
    };
    // The film is seen from the open side and the hips open: the trail hip is nearer.
    auto& said = r.rep.nearerEnds["foot_plant"][model::BodyLine::hips];
    said = model::Side::right;
    QCOMPARE(turnFrom(), model::ReadFrom::body);
    said = model::Side::left;
    QCOMPARE(turnFrom(), model::ReadFrom::picture);

    const auto kneeFrom = [&](model::LimbFold fold) {
        r.rep.limbFolds["foot_plant"][model::Landmark::leftKnee] = fold;
        const auto readings = technique::evaluate(pack, r.rep, r.circumstances);
        return support::reading(readings, "plant_lead_knee").from;
    };
    // Of the two one is what the bones do.
    QVERIFY(kneeFrom(model::LimbFold::together) != kneeFrom(model::LimbFold::through));
}

QTEST_GUILESS_MAIN(TestBodyReading)
#include "test_body_reading.moc"
