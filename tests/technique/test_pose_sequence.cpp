#include "support/test_films.h"
#include "technique/positions/pose_sequence.h"

#include <QTest>

using namespace kestrel;
using technique::PoseSequence;

namespace {

synth::FilmSpec filmOf(model::Hand hand, double rate = 60.0) {
    synth::FilmSpec spec;
    spec.player.hand = hand;
    spec.width = 960;
    spec.height = 540;
    spec.captureRate = rate;
    spec.fileRate = {static_cast<int>(rate), 1};
    return spec;
}

technique::Circumstances circumstancesOf(const synth::FilmSpec& spec) {
    return support::openSide(spec);
}

float difference(const PoseSequence& a, const PoseSequence& b) {
    const Eigen::Index both = std::min(a.rows.cols(), b.rows.cols());
    return (a.rows.leftCols(both) - b.rows.leftCols(both)).cwiseAbs().maxCoeff();
}

} // namespace

/// A rep's landmarks as one array, free of place, size and hand.
class TestPoseSequence : public QObject {
    Q_OBJECT
  private slots:
    void placeAndSizeDoNotMatter();
    void aLeftHanderIsMirrored();
    void theRateDoesNotMatterMuch();
    void aCameraThatMovedIsCarriedBack();
    void whatIsNotSeenIsNothing();
    void theSpanIsItsLength();

  private:
    const technique::Pack pack_ = support::pitchPack();
};

void TestPoseSequence::placeAndSizeDoNotMatter() {
    const synth::FilmSpec spec = filmOf(model::Hand::right);
    const model::Rep rep = support::trueRep(spec);
    model::Rep elsewhere = rep;
    for (auto& [frame, points] : elsewhere.landmarks) {
        for (auto& [landmark, point] : points) {
            point.px = point.px * 0.4 + model::Point2{700.0, -30.0};
        }
    }
    const PoseSequence there = technique::poseSequence(pack_, rep, circumstancesOf(spec));
    QVERIFY(there.instants() > 60);
    QVERIFY(difference(there, technique::poseSequence(pack_, elsewhere, circumstancesOf(spec))) <
            1e-4F);
    // The head of somebody who stands is most of a standing height above their feet.
    const auto y = [&](model::Landmark l) {
        return there.rows(2 * static_cast<Eigen::Index>(l) + 1, 0);
    };
    const float tall = y(model::Landmark::headTop) - y(model::Landmark::leftAnkle);
    QVERIFY2(tall > 0.8F && tall < 1.1F, qPrintable(QString::number(tall)));
}

void TestPoseSequence::aLeftHanderIsMirrored() {
    const synth::FilmSpec spec = filmOf(model::Hand::right);
    const model::Rep rep = support::trueRep(spec);
    model::Rep mirrored;
    for (const auto& [frame, points] : rep.landmarks) {
        for (const auto& [landmark, point] : points) {
            auto& other = mirrored.landmarks[frame][model::mirrored(landmark)];
            other = point;
            other.px.x = spec.width - point.px.x;
        }
    }
    technique::Circumstances left = circumstancesOf(spec);
    left.hand = model::Hand::left;
    QVERIFY(difference(technique::poseSequence(pack_, rep, circumstancesOf(spec)),
                       technique::poseSequence(pack_, mirrored, left)) < 1e-4F);
}

void TestPoseSequence::theRateDoesNotMatterMuch() {
    const synth::FilmSpec slow = filmOf(model::Hand::right, 60.0);
    const synth::FilmSpec quick = filmOf(model::Hand::right, 240.0);
    const PoseSequence a =
        technique::poseSequence(pack_, support::trueRep(slow), circumstancesOf(slow));
    const PoseSequence b =
        technique::poseSequence(pack_, support::trueRep(quick), circumstancesOf(quick));
    QVERIFY(std::abs(a.instants() - b.instants()) <= 1);
    // Four frames around an instant are weighed into one; a hand goes a good way meanwhile.
    const Eigen::Index both = std::min(a.rows.cols(), b.rows.cols());
    const float mean = (a.rows.leftCols(both) - b.rows.leftCols(both)).cwiseAbs().mean();
    QVERIFY2(mean < 0.01F, qPrintable(QString::number(mean)));
}

void TestPoseSequence::aCameraThatMovedIsCarriedBack() {
    const synth::FilmSpec spec = filmOf(model::Hand::right);
    const model::Rep rep = support::trueRep(spec);
    technique::Circumstances panned = circumstancesOf(spec);
    model::Rep seen = rep;
    for (int frame = 0; frame < panned.time.frameCount(); ++frame) {
        model::CameraPose pose;
        pose.dx = 2.0 * frame;
        panned.camera.push_back(pose);
        for (auto& [landmark, point] : seen.landmarks[frame]) {
            point.px.x -= pose.dx;
        }
    }
    QVERIFY(difference(technique::poseSequence(pack_, rep, circumstancesOf(spec)),
                       technique::poseSequence(pack_, seen, panned)) < 1e-3F);
}

void TestPoseSequence::whatIsNotSeenIsNothing() {
    const synth::FilmSpec spec = filmOf(model::Hand::right);
    model::Rep rep = support::trueRep(spec);
    for (auto& [landmark, point] : rep.landmarks[30]) {
        point.hidden = landmark == model::Landmark::rightWrist;
    }
    rep.landmarks[40].erase(model::Landmark::leftHip);
    const PoseSequence sequence = technique::poseSequence(pack_, rep, circumstancesOf(spec));
    constexpr auto wrist = static_cast<Eigen::Index>(model::Landmark::rightWrist);
    constexpr auto head = static_cast<Eigen::Index>(model::Landmark::headTop);
    constexpr Eigen::Index seen = 2 * PoseSequence::landmarks;
    QCOMPARE(sequence.rows(seen + wrist, 30), 0.0F);
    QCOMPARE(sequence.rows(2 * wrist, 30), 0.0F);
    QCOMPARE(sequence.rows(seen + wrist, 31), 1.0F);
    QCOMPARE(sequence.rows(seen + head, 30), 1.0F);
    QCOMPARE(sequence.rows(seen + head, 40), 0.0F); // nothing says where the hips are
    QCOMPARE(technique::poseSequence(pack_, {}, circumstancesOf(spec)).instants(), 0);
}

void TestPoseSequence::theSpanIsItsLength() {
    const synth::FilmSpec spec = filmOf(model::Hand::right);
    model::Rep rep = support::trueRep(spec);
    rep.span = model::FrameSpan{20, 79};
    const technique::Circumstances c = circumstancesOf(spec);
    const PoseSequence sequence = technique::poseSequence(pack_, rep, c);
    QCOMPARE(sequence.instants(), 60);
    QVERIFY(std::abs(sequence.begin - c.time.fieldTimes()[20].value) < 1e-9);
    QVERIFY(std::abs(sequence.timeAt(59) - c.time.fieldTimes()[79].value) < 1e-6);
}

QTEST_APPLESS_MAIN(TestPoseSequence)
#include "test_pose_sequence.moc"
