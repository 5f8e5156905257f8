#include "model/input_error.h"
#include "track/files/landmark_file.h"
#include "track/files/landmark_trc.h"
#include "words/words.h"

#include <QTemporaryDir>
#include <QTest>

#include <fstream>
#include <iterator>

using namespace kestrel;
using model::Landmark;

/// Landmarks as the marker table of motion laboratories.
class TestLandmarkTrc : public QObject {
    Q_OBJECT
  private slots:
    void theTableHasTheFormsPlaces() {
        const QStringList lines = written();
        QCOMPARE(lines[0].split('\t').first(), QString("PathFileType"));
        QCOMPARE(lines[2].split('\t')[0], QString("60.0000")); // DataRate, from the clip's clock
        QCOMPARE(lines[2].split('\t')[2], QString("4"));       // NumFrames: 2 to 5
        QCOMPARE(lines[2].split('\t')[3], QString("2"));       // NumMarkers
        QCOMPARE(lines[3], QString("Frame#\tTime\tleft_knee\t\t\tball\t\t"));
        QCOMPARE(lines[4], QString("\t\tX1\tY1\tZ1\tX2\tY2\tZ2"));
        QVERIFY(lines[5].isEmpty());
        QCOMPARE(lines[6], QString("3\t0.0333\t12.2500\t-3.5000\t0.0000\t\t\t"));
        QCOMPARE(lines[9], QString("6\t0.0833\t20.0000\t1.0000\t0.0000\t7.0000\t8.0000\t0.0000"));
    }

    void whatIsWrittenIsReadBack() {
        const auto file = path("marks.trc");
        track::writeLandmarkFile(file, track_, clock_);
        const auto back = track::readLandmarkFile(file);
        QCOMPARE(back.size(), std::size_t{2}); // the hidden one has no place in the table
        QVERIFY((model::find(back, 2, Landmark::leftKnee)->px == model::Point2{12.25, -3.5}));
        QVERIFY((model::find(back, 5, Landmark::ball)->px == model::Point2{7.0, 8.0}));
        QCOMPARE(model::find(back, 5, Landmark::ball)->source, model::Source::tracked);
        QCOMPARE(model::find(back, 5, Landmark::ball)->sdPx, track::importedPointSd);
    }

    void strangeMarkersArePassedOver() {
        QStringList lines = written();
        lines[3].replace("ball", "C7_spine");
        const auto back = track::readLandmarkFile(stored(lines));
        QVERIFY(model::find(back, 5, Landmark::ball) == nullptr);
        QVERIFY(model::find(back, 5, Landmark::leftKnee) != nullptr);
    }

    void faultsNameLineAndReason_data() {
        QTest::addColumn<int>("line");
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::addColumn<QString>("says");
        QTest::newRow("another kind of file") << 0 << "PathFileType"
                                              << "hello"
                                              << "no TRC file";
        QTest::newRow("no number") << 6 << "12.2500"
                                   << "twelve"
                                   << "line 7: “twelve” is no number";
        QTest::newRow("no frame") << 9 << "6\t"
                                  << "0\t"
                                  << "line 10: “0” is no frame number";
        QTest::newRow("endless") << 9 << "20.0000"
                                 << "inf"
                                 << "line 10: “inf” is no number";
    }
    void faultsNameLineAndReason() {
        QFETCH(int, line);
        QFETCH(QString, from);
        QFETCH(QString, to);
        QFETCH(QString, says);
        QStringList lines = written();
        lines[line].replace(lines[line].indexOf(from), from.size(), to);
        try {
            track::readLandmarkFile(stored(lines));
            QFAIL("it was read");
        } catch (const model::InputError& error) {
            const QString happened = words::inWords(error.happened());
            QVERIFY2(happened.contains(says), qPrintable(happened));
        }
    }

    void aFileCutOffInItsHeadIsRefused() {
        QVERIFY_EXCEPTION_THROWN(track::readLandmarkFile(stored(written().mid(0, 3))),
                                 model::InputError);
        QVERIFY_EXCEPTION_THROWN(track::readLandmarkFile(path("absent.trc")), model::InputError);
        QVERIFY_EXCEPTION_THROWN(track::writeLandmarkFile("/nowhere/marks.trc", track_, clock_),
                                 model::InputError);
    }

  private:
    [[nodiscard]] std::filesystem::path path(const char* name) const {
        return std::filesystem::path(folder_.path().toStdString()) / name;
    }
    [[nodiscard]] std::filesystem::path stored(const QStringList& lines) const {
        const auto file = path("changed.trc");
        std::ofstream(file) << lines.join('\n').toStdString();
        return file;
    }
    [[nodiscard]] QStringList written() const {
        const auto file = path("written.trc");
        track::writeLandmarkFile(file, track_, clock_);
        std::ifstream stream(file);
        const std::string text{std::istreambuf_iterator<char>(stream), {}};
        return QString::fromStdString(text).split('\n');
    }

    const model::LandmarkTrack track_{
        {2, {{Landmark::leftKnee, {{12.25, -3.5}, 1.5, model::Source::placed, false}}}},
        {4, {{Landmark::ball, {{0.0, 0.0}, 1.5, model::Source::placed, true}}}},
        {5,
         {{Landmark::leftKnee, {{20.0, 1.0}, 1.5, model::Source::placed, false}},
          {Landmark::ball, {{7.0, 8.0}, 1.5, model::Source::placed, false}}}}};
    const model::ClipTime clock_{[] {
        std::vector<model::Seconds> times;
        for (int i = 0; i < 8; ++i) {
            times.emplace_back(i / 60.0);
        }
        return times;
    }()};
    QTemporaryDir folder_;
};

QTEST_GUILESS_MAIN(TestLandmarkTrc)
#include "test_landmark_trc.moc"
