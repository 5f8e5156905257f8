#include "support/test_films.h"
#include "technique/judge/evaluate.h"
#include "technique/judge/reading_json.h"
#include "words/words.h"

#include <QTest>

#include <cmath>

using namespace kestrel;
using model::Landmark;
using model::LimbFold;
using support::reading;

namespace {

constexpr double thigh = 0.245; // of body height, as the synthetic player's
constexpr double shank = 0.246;
constexpr double toRadians = M_PI / 180.0;

/// Interior angle of a knee whose thigh goes up and whose shank goes `apartDeg` from it in the
/// picture, both out of it by a tilt; made with vectors.
double knee(double apartDeg, double thighTilt, double shankTilt) {
    const double a = thighTilt * toRadians;
    const double b = shankTilt * toRadians;
    return std::acos(std::cos(a) * std::cos(b) * std::cos(apartDeg * toRadians) +
                     std::sin(a) * std::sin(b)) /
           toRadians;
}

} // namespace

/// What the coach says of a limb's depth, and how far it carries.
class TestLimbDepth : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void theWordSettlesTheAngle_data();
    void theWordSettlesTheAngle();
    void theWordCarriesWhileNothingCrosses();
    void aFlatLimbOffersNoChoice();
    void theChoiceIsInTheJson();

  private:
    /// Lays the lead leg as seen from a knee that is bent by `apart` in the picture, its segments
    /// tilted out of it.
    void lay(model::Rep& rep, int frame, double apartDeg, double thighTilt, double shankTilt) const;
    [[nodiscard]] model::Reading read(const model::Rep& rep, const std::string& id) const;

    technique::Pack pack_;
    model::Rep rep_;
    technique::Circumstances c_;
    double height_ = 0.0;
};

void TestLimbDepth::initTestCase() {
    pack_ = support::pitchPack();
    const synth::FilmSpec spec = support::rightHander().spec;
    rep_ = support::trueRep(spec);
    c_ = support::openSide(spec);
    height_ = technique::bodyHeight(pack_, rep_, model::Hand::right)->value;
    for (auto& [frame, points] : rep_.landmarks) {
        for (auto& [landmark, point] : points) {
            point.sdPx = 0.5;
        }
    }
}

void TestLimbDepth::lay(model::Rep& rep, int frame, double apartDeg, double thighTilt,
                        double shankTilt) const {
    auto& points = rep.landmarks[frame];
    const model::Point2 at = points[Landmark::leftKnee].px;
    const auto put = [&](Landmark end, double fraction, double directionDeg, double tilt) {
        const double length = fraction * height_ * std::cos(tilt * toRadians);
        points[end].px = {at.x + length * std::sin(directionDeg * toRadians),
                          at.y - length * std::cos(directionDeg * toRadians)};
        points[end].sdPx = 0.5;
    };
    put(Landmark::leftHip, thigh, 0.0, thighTilt);
    put(Landmark::leftAnkle, shank, apartDeg, shankTilt);
}

model::Reading TestLimbDepth::read(const model::Rep& rep, const std::string& id) const {
    const auto readings = technique::evaluate(pack_, rep, c_);
    return reading(readings, id);
}

void TestLimbDepth::theWordSettlesTheAngle_data() {
    QTest::addColumn<double>("thighTilt");
    QTest::addColumn<double>("shankTilt");
    QTest::newRow("the knee points at the camera") << -40.0 << -45.0;
    QTest::newRow("the leg runs from front to back") << 40.0 << -45.0;
}

void TestLimbDepth::theWordSettlesTheAngle() {
    QFETCH(double, thighTilt);
    QFETCH(double, shankTilt);
    model::Rep rep = rep_;
    const int frame = rep.positions.at("foot_plant");
    constexpr double apart = 130.0;
    lay(rep, frame, apart, thighTilt, shankTilt);
    const model::Reading open = read(rep, "plant_lead_knee");
    QVERIFY(open.limb);
    QVERIFY(!open.limb->counted);
    QCOMPARE(open.limb->joint, Landmark::leftKnee);
    const LimbFold real = thighTilt * shankTilt > 0 ? LimbFold::together : LimbFold::through;
    rep.limbFolds["foot_plant"][Landmark::leftKnee] = real;
    const model::Reading said = read(rep, "plant_lead_knee");
    QVERIFY(said.value);
    QCOMPARE(said.limb->counted, std::optional(real));
    QVERIFY(!said.limb->byContinuity);
    const double truth = 180.0 - knee(apart, thighTilt, shankTilt); // flexion
    QVERIFY2(std::abs(*said.value - truth) <= said.u95,
             qPrintable(QString("%1 ± %2, true %3").arg(*said.value).arg(said.u95).arg(truth)));
    QVERIFY(!open.value || said.u95 < open.u95);
    // Said the other way it would be told wrongly, so the word counts.
    rep.limbFolds["foot_plant"][Landmark::leftKnee] =
        real == LimbFold::together ? LimbFold::through : LimbFold::together;
    const model::Reading otherwise = read(rep, "plant_lead_knee");
    QVERIFY(otherwise.value);
    QVERIFY(std::abs(*otherwise.value - truth) > otherwise.u95);
}

void TestLimbDepth::theWordCarriesWhileNothingCrosses() {
    model::Rep rep = rep_;
    const int from = rep.positions.at("foot_plant");
    const int to = rep.positions.at("release");
    QVERIFY(to > from + 2);
    for (int frame = from; frame <= to; ++frame) {
        rep.landmarks[frame] = rep.landmarks[from];
        lay(rep, frame, 130.0, -40.0, -45.0);
    }
    rep.limbFolds["foot_plant"][Landmark::leftKnee] = LimbFold::together;
    const model::Reading carried = read(rep, "release_lead_knee");
    QVERIFY(carried.limb);
    QCOMPARE(carried.limb->counted, std::optional(LimbFold::together));
    QVERIFY(carried.limb->byContinuity);
    // The shank passes through the picture plane on the way: it may have changed sides.
    model::Rep crossing = rep;
    lay(crossing, (from + to) / 2, 130.0, -40.0, 0.0);
    QVERIFY(!read(crossing, "release_lead_knee").limb->counted);
    // A frame nobody looked at: nothing is known of it.
    model::Rep gap = rep;
    gap.landmarks.erase((from + to) / 2);
    QVERIFY(!read(gap, "release_lead_knee").limb->counted);
    // What is said there counts before what is carried there.
    rep.limbFolds["release"][Landmark::leftKnee] = LimbFold::through;
    QCOMPARE(read(rep, "release_lead_knee").limb->counted, std::optional(LimbFold::through));
}

void TestLimbDepth::aFlatLimbOffersNoChoice() {
    model::Rep rep = rep_;
    lay(rep, rep.positions.at("foot_plant"), 130.0, 0.0, 0.0);
    const model::Reading flat = read(rep, "plant_lead_knee");
    QVERIFY(flat.value);
    QVERIFY(!flat.limb);
    QVERIFY(std::abs(*flat.value - 50.0) < 1.0);
}

void TestLimbDepth::theChoiceIsInTheJson() {
    model::Rep rep = rep_;
    lay(rep, rep.positions.at("foot_plant"), 130.0, -40.0, -45.0);
    rep.limbFolds["foot_plant"][Landmark::leftKnee] = LimbFold::together;
    const auto list =
        technique::readingsToJson(pack_, technique::evaluate(pack_, rep, c_), words::plain);
    for (const auto& entry : list) {
        if (entry.at("id") == "plant_lead_knee") {
            QCOMPARE(entry.at("limb_in_depth").at("joint").get<std::string>(),
                     std::string("left_knee"));
            QCOMPARE(entry.at("limb_in_depth").at("counted").get<std::string>(),
                     std::string("together"));
            return;
        }
    }
    QFAIL("no such reading");
}

QTEST_GUILESS_MAIN(TestLimbDepth)
#include "test_limb_depth.moc"
