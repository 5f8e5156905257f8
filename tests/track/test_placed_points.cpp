#include "film/film_index.h"
#include "support/coverage.h"
#include "support/test_films.h"
#include "synth/film_render.h"
#include "synth/truth.h"
#include "track/files/evidence_file.h"
#include "track/person/bones.h"
#include "track/person/fuse.h"
#include "track/person/placed_points.h"

#include <QTest>

#include <cmath>

using namespace kestrel;
using model::Landmark;
using model::length;
using model::Source;

namespace {

constexpr std::array limbs{Landmark::leftKnee,   Landmark::rightKnee, Landmark::leftAnkle,
                           Landmark::rightAnkle, Landmark::leftElbow, Landmark::rightElbow,
                           Landmark::leftToe,    Landmark::rightToe};

model::LandmarkPoint machine(model::Point2 px, double sd) {
    return {px, sd, Source::tracked};
}

} // namespace

class TestPlacedPoints : public QObject {
    Q_OBJECT
    film::FilmIndex index_;
    model::ClipTime time_;
    model::LandmarkTrack truth_;
    model::Rep rep_;
    track::Evidence nothing_; ///< every frame, nothing seen in any

  private slots:
    void initTestCase() {
        const auto& film = support::rightHander();
        index_ = film::buildIndex(support::filmFile(film));
        time_ = model::ClipTime(index_.fileTimes(),
                                model::slowdown(index_.fileRate(), film.spec.captureRate));
        rep_ = support::trueRep(film.spec);
        truth_ = rep_.landmarks;
        const auto& standing = truth_.begin()->second;
        nothing_.bodyPx =
            length(standing.at(Landmark::headTop).px - standing.at(Landmark::leftHeel).px);
        for (int frame = 0; frame < index_.frameCount(); ++frame) {
            nothing_.frames[frame];
        }
    }

    /// From single placed frames the truth is followed, and the stated deviations hold.
    void stepsFollowTheFilm() {
        int steps = 0;
        int within = 0;
        int far = 0;
        int followed = 0;
        for (const auto& [id, frame] : rep_.positions) {
            model::LandmarkTrack placed;
            for (const Landmark landmark : limbs) {
                placed[frame][landmark] = {truth_.at(frame).at(landmark).px, 1.5, Source::placed};
            }
            track::Evidence evidence = nothing_;
            QVERIFY(track::followPlacedPoints(evidence, index_, placed, time_));
            for (const Landmark landmark : limbs) {
                model::Point2 px = placed[frame][landmark].px;
                for (int f = frame; evidence.frames.contains(f + 1); ++f) {
                    const auto step = evidence.frames.at(f).placedSteps.find(landmark);
                    if (step == evidence.frames.at(f).placedSteps.end()) {
                        break;
                    }
                    px = px + step->second.shift;
                    const model::Point2 trueShift =
                        truth_.at(f + 1).at(landmark).px - truth_.at(f).at(landmark).px;
                    const model::Point2 miss = step->second.shift - trueShift;
                    for (const double axis : {miss.x, miss.y}) {
                        within += std::abs(axis) < model::coverage95 * step->second.sdPx ? 1 : 0;
                        ++steps;
                    }
                    ++followed;
                    const double drift = length(px - truth_.at(f + 1).at(landmark).px);
                    far += drift > 0.03 * evidence.bodyPx ? 1 : 0;
                }
            }
        }
        QVERIFY2(followed > 150, qPrintable(QString::number(followed)));
        VERIFY_COVERAGE("steps of placed points", within, steps);
        QVERIFY2(far < 0.1 * followed, qPrintable(QString("%1 of %2").arg(far).arg(followed)));
    }

    void neighboursOfAPlacedPointKnowMore() {
        const int frame = rep_.positions.at("foot_plant");
        model::LandmarkTrack placed;
        placed[frame][Landmark::leftKnee] = {truth_.at(frame).at(Landmark::leftKnee).px, 1.5,
                                             Source::placed};
        track::Evidence evidence = nothing_;
        for (auto& [f, here] :
             evidence.frames) { // a network whose error wanders from frame to frame
            here.proposals[Landmark::leftKnee] = {
                truth_.at(f).at(Landmark::leftKnee).px +
                    model::Point2{9.0 * std::sin(0.9 * f), -8.0 * std::cos(0.7 * f)},
                5.0, 5.0};
        }
        const auto alone = track::fuse(evidence, placed, time_);
        QVERIFY(track::followPlacedPoints(evidence, index_, placed, time_));
        const auto with = track::fuse(evidence, placed, time_);
        double missAlone = 0.0;
        double missWith = 0.0;
        for (const int f : {frame - 3, frame - 2, frame + 2, frame + 3}) {
            const model::Point2 right = truth_.at(f).at(Landmark::leftKnee).px;
            missAlone += length(alone.at(f).at(Landmark::leftKnee).px - right);
            missWith += length(with.at(f).at(Landmark::leftKnee).px - right);
            QVERIFY(with.at(f).at(Landmark::leftKnee).sdPx <
                    alone.at(f).at(Landmark::leftKnee).sdPx);
        }
        QVERIFY2(missWith < 0.5 * missAlone,
                 qPrintable(QString("%1 of %2").arg(missWith).arg(missAlone)));
        const auto read = track::evidenceFromBytes(track::toBytes(evidence));
        QVERIFY(read.has_value());
        QCOMPARE(read->frames.at(frame).placedSteps.size(),
                 evidence.frames.at(frame).placedSteps.size());
    }

    void whatIsNoLongerPlacedGoes() {
        const int frame = rep_.positions.at("foot_plant");
        model::LandmarkTrack placed;
        placed[frame][Landmark::leftKnee] = {truth_.at(frame).at(Landmark::leftKnee).px, 1.5,
                                             Source::placed};
        track::Evidence evidence = nothing_;
        QVERIFY(track::followPlacedPoints(evidence, index_, placed, time_));
        QVERIFY(!evidence.frames.at(frame).placedSteps.empty());
        const track::Evidence before = evidence;
        const auto stop = [](int, int) { return false; };
        QVERIFY(!track::followPlacedPoints(evidence, index_, placed, time_, stop));
        QVERIFY(evidence == before);
        QVERIFY(track::followPlacedPoints(evidence, index_, {}, time_));
        QVERIFY(evidence == nothing_);
    }

    /// Of true bones none is ever shortened.
    void trueBonesStayAsTheyAre() {
        model::LandmarkTrack track = truth_;
        for (auto& [frame, points] : track) {
            for (auto& [landmark, point] : points) {
                point.source = Source::tracked;
            }
        }
        const model::LandmarkTrack before = track;
        track::shortenBones(track, track::boneLengths(track, nothing_.bodyPx));
        double most = 0.0;
        for (const auto& [frame, points] : track) {
            for (const auto& [landmark, point] : points) {
                most = std::max(most, length(point.px - before.at(frame).at(landmark).px));
            }
        }
        QVERIFY2(most < 0.01 * nothing_.bodyPx, qPrintable(QString::number(most)));
    }

    void aStretchedBoneIsShortenedWhereLeastIsKnown() {
        constexpr double bodyPx = 400.0;
        constexpr double thigh = 1.1 * 0.245 * bodyPx; // Drillis and Contini 1966, and a tenth
        model::LandmarkTrack track;
        for (int frame = 0; frame < 40; ++frame) {
            track[frame][Landmark::leftHip] = machine({100.0, 100.0}, 2.0);
            track[frame][Landmark::leftKnee] = machine({100.0, 100.0 + 0.9 * thigh}, 6.0);
        }
        track[20][Landmark::leftKnee].px.y = 100.0 + 1.5 * thigh;
        const model::LandmarkTrack before = track;
        const auto lengths = track::boneLengths(track, bodyPx);
        track::shortenBones(track, lengths);
        const auto& hip = track[20][Landmark::leftHip];
        const auto& knee = track[20][Landmark::leftKnee];
        QVERIFY(std::abs(length(knee.px - hip.px) - 1.03 * thigh) < 0.5);
        const double hipMoved = length(hip.px - before.at(20).at(Landmark::leftHip).px);
        const double kneeMoved = length(knee.px - before.at(20).at(Landmark::leftKnee).px);
        QVERIFY(std::abs(kneeMoved / hipMoved - 9.0) < 0.1); // as their variances
        QVERIFY(knee.sdPx > 6.0 && hip.sdPx > 2.0);
        QVERIFY(track.at(19) == before.at(19));

        // A coach's point is not drawn; a bone that the coach placed may look as long as it did.
        model::LandmarkTrack held = before;
        held[20][Landmark::leftKnee].source = Source::placed;
        track::shortenBones(held, track::boneLengths(held, bodyPx));
        QVERIFY(held[20][Landmark::leftKnee].px == before.at(20).at(Landmark::leftKnee).px);
        QVERIFY(held[20][Landmark::leftHip].px.y > 100.0);
        held = before;
        held[20][Landmark::leftKnee].source = Source::placed;
        held[20][Landmark::leftHip].source = Source::placed;
        const model::LandmarkTrack word = held;
        track::shortenBones(held, track::boneLengths(held, bodyPx));
        QVERIFY(held == word);
    }
};

QTEST_GUILESS_MAIN(TestPlacedPoints)
#include "test_placed_points.moc"
