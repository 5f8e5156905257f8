#include "support/test_films.h"
#include "words/words.h"

#include <QTest>

#include <cmath>

using namespace kestrel;
using model::MissingReason;
using model::Verdict;
using support::reading;

/// Readings of a rep: what they depend on and why they are missing.
class TestEvaluate : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void otherViewGivesAReason();
    void unknownViewGivesAReason();
    void positionNotSetGivesAReason();
    void landmarkNotPlacedGivesAReason();
    void hiddenLandmarkGivesAReason();
    void bodyHeightUnknownGivesAReason();
    void captureRateUnknownGivesAReason();
    void pointsOnOneSpotGiveAReason();
    void foreshortenedSegmentGivesAReason();
    void everyReasonIsASentence();
    void schoolChangesTheRange();
    void ageChangesTheRange();
    void rangelessReadingIsReported();
    void onlyNeededLandmarksAreAskedFor();
    void moreFramesASecondMakeTimesSurer();
    void aMovingCameraIsTakenOut();
    void constructsStandOnTheirFrames();

  private:
    std::vector<model::Reading> evaluate(const model::Rep& rep, const technique::Circumstances& c) {
        return technique::evaluate(pack_, rep, c);
    }
    MissingReason::Kind why(const model::Rep& rep, const technique::Circumstances& c,
                            const std::string& id) {
        const auto readings = evaluate(rep, c);
        const model::Reading& r = reading(readings, id);
        Q_ASSERT(r.missing && !r.value);
        return r.missing->kind;
    }

    technique::Pack pack_;
    synth::FilmSpec spec_;
    model::Rep rep_;
    technique::Circumstances c_;
};

void TestEvaluate::initTestCase() {
    pack_ = support::pitchPack();
    spec_ = support::rightHander().spec;
    rep_ = support::trueRep(spec_);
    c_ = support::openSide(spec_);
}

void TestEvaluate::otherViewGivesAReason() {
    QCOMPARE(why(rep_, c_, "release_side_lean"), MissingReason::Kind::invalidView);
    QCOMPARE(why(rep_, c_, "plant_separation_above"), MissingReason::Kind::invalidView);
    technique::Circumstances front = c_;
    front.view = model::View::front;
    QCOMPARE(why(rep_, front, "plant_lead_knee"), MissingReason::Kind::invalidView);
}

void TestEvaluate::unknownViewGivesAReason() {
    technique::Circumstances c = c_;
    c.view.reset();
    QCOMPARE(why(rep_, c, "plant_lead_knee"), MissingReason::Kind::viewUnknown);
    const auto readings = evaluate(rep_, c);
    QVERIFY(reading(readings, "tempo").value); // times need no view
}

void TestEvaluate::positionNotSetGivesAReason() {
    model::Rep rep = rep_;
    rep.positions.erase("foot_plant");
    QCOMPARE(why(rep, c_, "plant_lead_knee"), MissingReason::Kind::positionNotSet);
    QCOMPARE(why(rep, c_, "plant_to_release"), MissingReason::Kind::positionNotSet);
    QCOMPARE(why(rep, c_, "release_knee_change"), MissingReason::Kind::positionNotSet);
}

void TestEvaluate::landmarkNotPlacedGivesAReason() {
    model::Rep rep = rep_;
    rep.landmarks[rep.positions.at("foot_plant")].erase(model::Landmark::leftKnee);
    QCOMPARE(why(rep, c_, "plant_lead_knee"), MissingReason::Kind::landmarkNotPlaced);
    const auto readings = evaluate(rep, c_);
    QVERIFY(words::plain(reading(readings, "plant_lead_knee").missing->why).find("lead knee") !=
            std::string::npos);
}

void TestEvaluate::hiddenLandmarkGivesAReason() {
    model::Rep rep = rep_;
    rep.landmarks[rep.positions.at("foot_plant")][model::Landmark::leftKnee].hidden = true;
    QCOMPARE(why(rep, c_, "plant_lead_knee"), MissingReason::Kind::landmarkHidden);
}

void TestEvaluate::bodyHeightUnknownGivesAReason() {
    model::Rep rep = rep_;
    rep.landmarks.erase(rep.positions.at("set"));
    QCOMPARE(why(rep, c_, "plant_stride_length"), MissingReason::Kind::noBodyHeight);
    const auto readings = evaluate(rep, c_);
    QVERIFY(reading(readings, "plant_lead_knee").value); // an angle needs no height
}

void TestEvaluate::captureRateUnknownGivesAReason() {
    technique::Circumstances c = c_;
    c.captureRateKnown = false;
    QCOMPARE(why(rep_, c, "plant_to_release"), MissingReason::Kind::captureRateUnknown);
}

void TestEvaluate::pointsOnOneSpotGiveAReason() {
    model::Rep rep = rep_;
    auto& plant = rep.landmarks[rep.positions.at("foot_plant")];
    plant[model::Landmark::leftKnee].px = plant[model::Landmark::leftHip].px;
    QCOMPARE(why(rep, c_, "plant_lead_knee"), MissingReason::Kind::degenerate);
}

void TestEvaluate::foreshortenedSegmentGivesAReason() {
    // Pull the forearm to half its length and the upper arm to 0.6 of it: as if they pointed 60°
    // and 53° along the view, which may be an arm folded or stretched.
    model::Rep rep = rep_;
    auto& plant = rep.landmarks[rep.positions.at("foot_plant")];
    const double height = technique::bodyHeight(pack_, rep, model::Hand::right)->value;
    const model::Point2 elbow = plant[model::Landmark::rightElbow].px;
    const auto pull = [&](model::Landmark end, double share, double fraction) {
        model::Point2& at = plant[end].px;
        at = elbow + (at - elbow) * (share * fraction * height / model::length(at - elbow));
    };
    pull(model::Landmark::rightWrist, 0.5, 0.146);
    pull(model::Landmark::rightShoulder, 0.6, 0.186);
    QCOMPARE(why(rep, c_, "plant_elbow"), MissingReason::Kind::foreshortened);
    const auto readings = evaluate(rep, c_);
    const std::string text = words::plain(reading(readings, "plant_elbow").missing->why);
    QVERIFY2(text.find("throwing elbow to throwing wrist") != std::string::npos, text.c_str());
    QVERIFY2(text.find("throwing elbow to trail shoulder") != std::string::npos, text.c_str());
    QVERIFY2(text.find("say which (Z)") != std::string::npos, text.c_str());
}

void TestEvaluate::everyReasonIsASentence() {
    const auto empty = evaluate(model::Rep{}, technique::Circumstances{});
    QCOMPARE(empty.size(), pack_.measures.size());
    for (const model::Reading& r : empty) {
        QVERIFY(!r.value);
        QVERIFY(r.missing);
        const std::string says = words::plain(r.missing->why);
        QVERIFY2(says.ends_with('.'), says.c_str());
        QCOMPARE(r.verdict, Verdict::unreadable);
    }
}

void TestEvaluate::schoolChangesTheRange() {
    const auto tall = evaluate(rep_, c_);
    technique::Circumstances driving = c_;
    driving.schools = {"drive", "fold"};
    const auto drive = evaluate(rep_, driving);
    QCOMPARE(reading(tall, "stride_head_drop").range->high, std::optional(0.06));
    QCOMPARE(reading(tall, "stride_head_drop").rangeSchool, std::string("tall"));
    QCOMPARE(reading(drive, "stride_head_drop").range->high, std::optional(0.13));
    QVERIFY(reading(tall, "release_knee_change").range);
    QVERIFY(!reading(drive, "release_knee_change").range);
    QCOMPARE(reading(tall, "stride_head_drop").value, reading(drive, "stride_head_drop").value);
}

void TestEvaluate::ageChangesTheRange() {
    technique::Circumstances young = c_;
    young.ageYears = 9;
    technique::Circumstances unknown = c_;
    unknown.ageYears.reset();
    const auto rangeFor = [&](const technique::Circumstances& c) {
        const auto readings = evaluate(rep_, c);
        return *reading(readings, "plant_stride_length").range;
    };
    QCOMPARE(rangeFor(young), (model::Range{0.60, 0.85}));
    QCOMPARE(rangeFor(c_), (model::Range{0.70, 0.95}));
    QCOMPARE(rangeFor(unknown), (model::Range{0.70, 0.95}));
}

void TestEvaluate::rangelessReadingIsReported() {
    const auto readings = evaluate(rep_, c_);
    const model::Reading& r = reading(readings, "lay_back_angle");
    QVERIFY(r.value);
    QCOMPARE(r.verdict, Verdict::reported);
}

void TestEvaluate::onlyNeededLandmarksAreAskedFor() {
    const technique::Position& plant = *technique::findPosition(pack_, "foot_plant");
    const auto side = technique::landmarksToPlace(pack_, plant, c_);
    QVERIFY(std::find(side.begin(), side.end(), model::Landmark::leftKnee) != side.end());
    technique::Circumstances above = c_;
    above.view = model::View::overhead;
    const auto overhead = technique::landmarksToPlace(pack_, plant, above);
    QCOMPARE(overhead, (std::vector{model::Landmark::leftShoulder, model::Landmark::rightShoulder,
                                    model::Landmark::leftHip, model::Landmark::rightHip}));
    const technique::Position& part = *technique::findPosition(pack_, "hands_part");
    QVERIFY(technique::landmarksToPlace(pack_, part, c_).empty());
}

void TestEvaluate::moreFramesASecondMakeTimesSurer() {
    technique::Circumstances slow = c_;
    // As if the same frames were taken at 30 a second.
    slow.time = model::ClipTime(slow.time.fileTimes(), 0.25);
    const auto fast = evaluate(rep_, c_);
    const auto coarse = evaluate(rep_, slow);
    const double ratio =
        reading(coarse, "plant_to_release").u95 / reading(fast, "plant_to_release").u95;
    QVERIFY(std::abs(ratio - 4.0) < 1e-6);
    // Two instants, each uniform over a frame of 1/120 s: 1.96 · sqrt(2/12) / 120.
    QVERIFY(std::abs(reading(fast, "plant_to_release").u95 -
                     1.959964 * std::sqrt(2.0 / 12.0) / 120.0) < 1e-6);
}

void TestEvaluate::aMovingCameraIsTakenOut() {
    // The same pitch filmed by a camera that turns, zooms and wanders, followed exactly.
    model::Rep moved = rep_;
    technique::Circumstances steadied = c_;
    for (int frame = 0; frame < c_.time.frameCount(); ++frame) {
        const double turn = 0.02 * std::sin(frame / 40.0);
        const double zoom = 1.0 + 0.0005 * frame;
        steadied.camera.push_back({zoom * std::cos(turn), zoom * std::sin(turn), 0.2 * frame,
                                   -8.0 * std::sin(frame / 25.0), 0.0});
    }
    for (auto& [frame, points] : moved.landmarks) {
        for (auto& [landmark, point] : points) {
            point.px = carriedFromFirst(steadied.camera[static_cast<std::size_t>(frame)], point.px);
        }
    }
    const auto still = evaluate(rep_, c_);
    const auto followed = evaluate(moved, steadied);
    const auto fooled = evaluate(moved, c_);
    // The head drop lies between two frames; so does the change of the trunk's lean.
    const auto& drop = reading(still, "stride_head_drop");
    QVERIFY(std::abs(*reading(followed, "stride_head_drop").value - *drop.value) < 1e-6);
    QVERIFY(std::abs(*reading(fooled, "stride_head_drop").value - *drop.value) > 0.01);
    QVERIFY(std::abs(*reading(followed, "lift_posture_change").value -
                     *reading(still, "lift_posture_change").value) < 1e-6);
    // Drawn where the landmarks stand in the frame's own picture.
    const auto& shown = reading(followed, "plant_lead_knee").constructs.front();
    const int plant = moved.positions.at("foot_plant");
    const model::Point2 knee = model::find(moved.landmarks, plant, model::Landmark::leftKnee)->px;
    QVERIFY(std::any_of(shown.shapes.begin(), shown.shapes.end(), [&](const model::Shape& shape) {
        const auto* dot = std::get_if<model::Dot>(&shape);
        return dot != nullptr && model::length(dot->at - knee) < 1e-6;
    }));
    // A joint's angle is the same in any picture.
    QVERIFY(std::abs(*reading(followed, "plant_lead_knee").value -
                     *reading(still, "plant_lead_knee").value) < 1e-6);
    // How surely the camera was followed counts.
    for (model::CameraPose& pose : steadied.camera) {
        pose.sdPx = 3.0;
    }
    const auto unsure = evaluate(moved, steadied);
    QVERIFY(reading(unsure, "stride_head_drop").u95 >
            1.2 * reading(followed, "stride_head_drop").u95);
    QCOMPARE(reading(unsure, "plant_lead_knee").u95, reading(followed, "plant_lead_knee").u95);
}

void TestEvaluate::constructsStandOnTheirFrames() {
    const auto readings = evaluate(rep_, c_);
    for (const model::Reading& r : readings) {
        if (!r.value || r.unit == model::Unit::seconds || r.unit == model::Unit::milliseconds) {
            QVERIFY(r.constructs.empty());
            continue;
        }
        QCOMPARE(r.constructs.back().frame, rep_.positions.at(r.positionId));
        QVERIFY(!r.constructs.back().shapes.empty());
        QVERIFY(r.constructs.back().label == model::valueOf(*r.value, r.unit));
    }
    const model::Reading& change = reading(readings, "release_knee_change");
    QCOMPARE(change.constructs.size(), std::size_t{2});
    QCOMPARE(change.constructs.front().frame, rep_.positions.at("foot_plant"));
}

QTEST_GUILESS_MAIN(TestEvaluate)
#include "test_evaluate.moc"
