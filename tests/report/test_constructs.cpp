#include "report/construct_painter.h"
#include "report/palette.h"
#include "report/position_picture.h"

#include <QGuiApplication>
#include <QTest>

#include <cmath>
#include <set>
#include <string>

using namespace kestrel;

/// What is drawn on a frame.
class TestConstructs : public QObject {
    Q_OBJECT
  private slots:
    void lineRunsWhereItsPointsAre();
    void mapScalesAndMoves();
    void labelsDoNotCoverEachOther();
    void regionHoldsThePlayer();
    void regionHoldsHandsOverheadInAJump();
    void regionStaysInThePicture();
    void regionBetweenMarkedFramesIsBetween();
    void verdictsDifferInShapeToo();

  private:
    static QImage paint(const std::vector<model::Construct>& constructs, const QTransform& map) {
        QImage image(200, 200, QImage::Format_RGB32);
        image.fill(QColor(0, 120, 0));
        QPainter painter(&image);
        report::paintConstructs(painter, constructs, map, {});
        return image;
    }
    static int changed(const QImage& image, QRect where) {
        int count = 0;
        for (int y = where.top(); y <= where.bottom(); ++y) {
            for (int x = where.left(); x <= where.right(); ++x) {
                count += image.pixelColor(x, y) != QColor(0, 120, 0) ? 1 : 0;
            }
        }
        return count;
    }
};

void TestConstructs::lineRunsWhereItsPointsAre() {
    model::Construct construct;
    construct.shapes = {model::Segment{{20, 100}, {180, 100}, model::Role::trunk}};
    const QImage image = paint({construct}, {});
    for (int x = 25; x < 175; x += 10) {
        QVERIFY(changed(image, QRect(x, 98, 1, 5)) >= 3);
    }
    QCOMPARE(changed(image, QRect(0, 0, 200, 90)), 0);
    QCOMPARE(changed(image, QRect(0, 110, 200, 90)), 0);
}

void TestConstructs::mapScalesAndMoves() {
    model::Construct construct;
    construct.shapes = {model::Segment{{10, 10}, {20, 10}, model::Role::trunk}};
    const QImage image =
        paint({construct}, QTransform::fromScale(5, 5) * QTransform::fromTranslate(20, 40));
    QVERIFY(changed(image, QRect(95, 88, 1, 5)) >= 3); // picture x 15 → 95, y 10 → 90
    QCOMPARE(changed(image, QRect(0, 0, 200, 80)), 0);
}

void TestConstructs::labelsDoNotCoverEachOther() {
    model::Construct construct;
    construct.labelAt = {100, 100};
    construct.label = model::asItIs("88°");
    const int one = changed(paint({construct}, {}), QRect(0, 0, 200, 200));
    const int three = changed(paint({construct, construct, construct}, {}), QRect(0, 0, 200, 200));
    QVERIFY(one > 200);
    QVERIFY2(three > 2.9 * one, qPrintable(QString("%1 %2").arg(one).arg(three)));
}

void TestConstructs::regionHoldsThePlayer() {
    model::LandmarkTrack track;
    track[5][model::Landmark::headTop].px = {300, 80};
    track[5][model::Landmark::leftAnkle].px = {320, 300};
    const QRectF region = report::playerRegion(track, 5, QSize(640, 360), 0.85);
    QVERIFY(region.contains(QPointF(300, 80)) && region.contains(QPointF(320, 300)));
    QVERIFY(std::abs(region.width() / region.height() - 0.85) < 1e-6);
    QCOMPARE(report::playerRegion({}, 5, QSize(640, 360), 0.85), QRectF(0, 0, 640, 360));
}

void TestConstructs::regionHoldsHandsOverheadInAJump() {
    model::LandmarkTrack track;
    track[0][model::Landmark::headTop].px = {300, 200};
    track[0][model::Landmark::leftAnkle].px = {300, 400};
    // In the air only shoulder and hip are placed; the arm, 0.44 of the height, is stretched up.
    track[8][model::Landmark::rightShoulder].px = {310, 190};
    track[8][model::Landmark::rightHip].px = {310, 250};
    for (const int frame : {0, 8}) {
        const QRectF region = report::playerRegion(track, frame, QSize(800, 600), 0.85);
        QVERIFY(region.top() < 190 - 0.44 * 200 && region.top() > 60);
        QVERIFY(region.bottom() > 410 && region.bottom() < 450);
    }
    // One point is no body.
    model::LandmarkTrack one;
    one[0][model::Landmark::headTop].px = {300, 200};
    QCOMPARE(report::playerRegion(one, 0, QSize(800, 600), 0.85), QRectF(0, 0, 800, 600));
}

void TestConstructs::regionStaysInThePicture() {
    model::LandmarkTrack track;
    track[0][model::Landmark::headTop].px = {5, 20};
    track[0][model::Landmark::leftAnkle].px = {8, 340};
    const QRectF region = report::playerRegion(track, 0, QSize(640, 360), 0.85);
    QVERIFY(QRectF(0, 0, 640, 360).contains(region));
}

void TestConstructs::regionBetweenMarkedFramesIsBetween() {
    model::LandmarkTrack track;
    for (const auto& [frame, x] : {std::pair{0, 200.0}, std::pair{10, 400.0}}) {
        track[frame][model::Landmark::headTop].px = {x, 100};
        track[frame][model::Landmark::leftAnkle].px = {x, 250};
    }
    const double middle = report::playerRegion(track, 5, QSize(640, 360), 0.85).center().x();
    QVERIFY(std::abs(middle - 300.5) < 1.0);
    QVERIFY(std::abs(report::playerRegion(track, 99, QSize(640, 360), 0.85).center().x() - 400.5) <
            1.0);
}

void TestConstructs::verdictsDifferInShapeToo() {
    std::set<std::string> signs;
    for (const auto verdict :
         {model::Verdict::inside, model::Verdict::edge, model::Verdict::outside,
          model::Verdict::reported, model::Verdict::unreadable}) {
        signs.insert(report::verdictSign(verdict));
    }
    QCOMPARE(signs.size(), std::size_t{5});
}

QTEST_MAIN(TestConstructs)
#include "test_constructs.moc"
