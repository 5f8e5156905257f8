#include "report/pair_picture.h"
#include "support/test_films.h"
#include "synth/truth.h"

#include <QTest>

#include <cmath>

using namespace kestrel;
using model::Landmark;

/// Two reps at one body size on one ground line.
class TestPairPicture : public QObject {
    Q_OBJECT
  private slots:
    /// The same player filmed at half the size and elsewhere in the picture.
    void bothAreAsTallOnOneLine() {
        const report::PairSide near = side(1.0, {0.0, 0.0});
        const report::PairSide far = side(0.5, {210.0, 75.0});
        const QRectF panel(0, 0, 500, 400);
        const QTransform a = map(near, panel, false);
        const QTransform b = map(far, panel, false);
        for (const Landmark landmark :
             {Landmark::head, Landmark::leftAnkle, Landmark::rightKnee, Landmark::leftWrist}) {
            const QPointF apart = shown(near, a, landmark) - shown(far, b, landmark);
            QVERIFY2(std::hypot(apart.x(), apart.y()) < 0.5, model::name(landmark).data());
        }
        const double tall = near.player.heightPx * std::abs(a.m22());
        QVERIFY(std::abs(tall - report::usualHeightShare * panel.height()) < 1e-6);
    }
    void aMirrorTurnsTheOtherRound() {
        const report::PairSide one = side(1.0, {0.0, 0.0});
        const QRectF panel(0, 0, 500, 400);
        const QTransform plain = map(one, panel, false);
        const QTransform mirrored = map(one, panel, true);
        const QPointF a = shown(one, plain, Landmark::leftWrist);
        const QPointF b = shown(one, mirrored, Landmark::leftWrist);
        QVERIFY(std::abs(a.x() + b.x() - 2 * panel.center().x()) < 1e-6);
        QVERIFY(std::abs(a.y() - b.y()) < 1e-6);
    }
    void laidOverEachOtherAtALandmark() {
        const report::PairSide here = side(1.0, {0.0, 0.0}, 60);
        const report::PairSide there = side(0.6, {90.0, 20.0}, 75);
        const QRectF panel(0, 0, 700, 420);
        const QTransform a = map(here, panel, false);
        for (const Landmark anchor : {Landmark::head, Landmark::rightAnkle}) {
            const QTransform b =
                report::mapOver(here, a, there, map(there, panel, false), {anchor, anchor});
            const QPointF apart = shown(here, a, anchor) - shown(there, b, anchor);
            QVERIFY(std::hypot(apart.x(), apart.y()) < 1e-6);
        }
        // On the ground: the hips above each other, feet on one line.
        const QTransform ground = report::mapOver(here, a, there, map(there, panel, false), {});
        const QPointF stands(here.player.hipsAt(here.frame), here.player.groundPx);
        const QPointF standsThere(there.player.hipsAt(there.frame), there.player.groundPx);
        const QPointF apart = a.map(stands) - ground.map(standsThere);
        QVERIFY(std::hypot(apart.x(), apart.y()) < 1e-6);
    }
    void aidsAndLinesAreDrawn() {
        const report::PairSide one = side(1.0, {0.0, 0.0});
        const QRectF panel(0, 0, 500, 400);
        const QTransform to = map(one, panel, false);
        const auto drawn = [&](const auto& draw) {
            QImage image(500, 400, QImage::Format_RGB32);
            image.fill(Qt::black);
            QPainter painter(&image);
            draw(painter);
            return image;
        };
        const QImage nothing = drawn([](QPainter&) {});
        const QImage full = drawn([&](QPainter& p) { report::paintBodyLines(p, one, to, false); });
        const QImage dashed = drawn([&](QPainter& p) { report::paintBodyLines(p, one, to, true); });
        QVERIFY(full != nothing && dashed != full);
        for (const auto aid : {report::PairAid::plumbLine, report::PairAid::clock}) {
            QVERIFY(drawn([&](QPainter& p) {
                        report::paintAid(p, panel, one, to, aid, Landmark::head);
                    }) != nothing);
            // Without its landmark there is nothing to tie it to.
            QCOMPARE(
                drawn([&](QPainter& p) { report::paintAid(p, panel, one, to, aid, std::nullopt); }),
                nothing);
        }
        const QImage grid = drawn([&](QPainter& p) {
            report::paintAid(p, panel, one, to, report::PairAid::heightGrid, std::nullopt);
        });
        // The line at a full standing height is where the panel has it.
        const int top = static_cast<int>(std::lround(to.map(QPointF(0, one.player.groundPx)).y() -
                                                     report::usualHeightShare * 400));
        QVERIFY(qGray(grid.pixel(10, top)) > 100);
    }
    void tooFewLandmarksAreNoPlayer() {
        QVERIFY(!report::standingPlayer({}, 300.0));
        model::LandmarkTrack hand;
        hand[3][Landmark::leftHand] = {{10.0, 10.0}};
        QVERIFY(!report::standingPlayer(hand, std::nullopt));
    }

  private:
    const model::Rep rep_ = support::trueRep(support::rightHander().spec);
    std::map<std::pair<double, double>, model::LandmarkTrack> tracks_;

    /// The right-hander's landmarks at another size and place in the picture.
    report::PairSide side(double size, QPointF moved, int frame = 60) {
        model::LandmarkTrack& track = tracks_[{size, moved.x()}];
        if (track.empty()) {
            track = rep_.landmarks;
            for (auto& [at, landmarks] : track) {
                for (auto& [landmark, point] : landmarks) {
                    point.px = {size * point.px.x + moved.x(), size * point.px.y + moved.y()};
                }
            }
        }
        report::PairSide made;
        made.frame = frame;
        made.landmarks = &track;
        made.player = *report::standingPlayer(track, std::nullopt);
        return made;
    }
    static QTransform map(const report::PairSide& side, const QRectF& panel, bool mirrored) {
        return report::standingMap(side, panel, report::usualHeightShare, mirrored);
    }
    static QPointF shown(const report::PairSide& side, const QTransform& map, Landmark landmark) {
        const model::LandmarkPoint* point = model::find(*side.landmarks, side.frame, landmark);
        return map.map(QPointF(point->px.x, point->px.y));
    }
};

QTEST_MAIN(TestPairPicture)
#include "test_pair_picture.moc"
