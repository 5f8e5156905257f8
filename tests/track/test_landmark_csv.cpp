#include "model/input_error.h"
#include "track/files/landmark_csv.h"
#include "words/words.h"

#include <QTemporaryDir>
#include <QTest>

#include <fstream>
#include <sstream>

using namespace kestrel;

/// Landmarks as files.
class TestLandmarkCsv : public QObject {
    Q_OBJECT
  private slots:
    void writtenTracksReadBack();
    void columnsMayComeInAnyOrder();
    void faultsNameRowAndReason_data();
    void faultsNameRowAndReason();

  private:
    std::filesystem::path file(const std::string& content) const {
        const auto path = std::filesystem::path(folder_.path().toStdString()) / "marks.csv";
        std::ofstream(path) << content;
        return path;
    }
    QTemporaryDir folder_;
};

void TestLandmarkCsv::writtenTracksReadBack() {
    model::LandmarkTrack track;
    track[0][model::Landmark::leftKnee] = {{12.25, -3.5}, 1.5, model::Source::placed, false};
    track[7][model::Landmark::headTop] = {{640.0625, 359.5}, 0.75, model::Source::tracked, false};
    track[7][model::Landmark::rightWrist] = {{0, 0}, 1.5, model::Source::placed, true};
    std::vector<model::Seconds> times;
    for (int i = 0; i < 8; ++i) {
        times.emplace_back(i / 120.0);
    }
    std::ostringstream out;
    track::writeLandmarks(out, track, model::ClipTime(std::move(times)));
    QVERIFY(out.str().starts_with("frame,time_s,landmark,x_px,y_px,sd_px,source,hidden,covered\n"));
    QVERIFY(out.str().find("7,0.0583,head_top,640.0625,359.5000,0.7500,tracked,0") !=
            std::string::npos);
    QCOMPARE(track::readLandmarks(file(out.str())), track);
}

void TestLandmarkCsv::columnsMayComeInAnyOrder() {
    const auto track =
        track::readLandmarks(file("y_px,note,x_px,landmark,frame\r\n4,\"so, so\",3,ball,2\r\n"));
    const model::LandmarkPoint* ball = model::find(track, 2, model::Landmark::ball);
    QVERIFY(ball != nullptr);
    QCOMPARE(ball->px.x, 3.0);
    QCOMPARE(ball->px.y, 4.0);
    QCOMPARE(ball->sdPx, model::placedPointSd);
}

void TestLandmarkCsv::faultsNameRowAndReason_data() {
    QTest::addColumn<QString>("content");
    QTest::addColumn<QString>("says");
    const QString head = "frame,landmark,x_px,y_px,sd_px,source,hidden\n";
    QTest::newRow("empty") << ""
                           << "no rows";
    QTest::newRow("no column") << "frame,landmark,x_px\n0,ball,1\n"
                               << "y_px";
    QTest::newRow("unknown landmark") << head + "0,ball,1,2,1,placed,0\n1,tail,1,2,1,placed,0\n"
                                      << "row 3";
    QTest::newRow("not a number") << head + "0,ball,one,2,1,placed,0\n"
                                  << "no number";
    QTest::newRow("infinite") << head + "0,ball,inf,2,1,placed,0\n"
                              << "no number";
    QTest::newRow("half a frame") << head + "0.5,ball,1,2,1,placed,0\n"
                                  << "no frame number";
    QTest::newRow("negative frame") << head + "-1,ball,1,2,1,placed,0\n"
                                    << "no frame number";
    QTest::newRow("negative sd") << head + "0,ball,1,2,-1,placed,0\n"
                                 << "negative";
    QTest::newRow("unknown source") << head + "0,ball,1,2,1,guessed,0\n"
                                    << "guessed";
    QTest::newRow("odd hidden") << head + "0,ball,1,2,1,placed,maybe\n"
                                << "hidden";
    QTest::newRow("short row") << head + "0,ball\n"
                               << "too few";
}

void TestLandmarkCsv::faultsNameRowAndReason() {
    QFETCH(QString, content);
    QFETCH(QString, says);
    try {
        track::readLandmarks(file(content.toStdString()));
        QFAIL("it was read");
    } catch (const model::InputError& error) {
        const QString happened = words::inWords(error.happened());
        QVERIFY2(happened.contains(says), qPrintable(happened));
        QVERIFY(happened.contains("marks.csv"));
    }
}

QTEST_GUILESS_MAIN(TestLandmarkCsv)
#include "test_landmark_csv.moc"
