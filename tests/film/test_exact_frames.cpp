#include "film/frame_hash.h"
#include "film/frame_reader.h"
#include "support/commands.h"
#include "support/test_films.h"

#include <QTemporaryDir>
#include <QTest>

#include <random>

using namespace kestrel;

/// Being on the right frame: every frame, reached by any path, is the one the ffmpeg command
/// decodes.
class TestExactFrames : public QObject {
    Q_OBJECT
  private slots:
    void films_data();
    void everyFrameIsFfmpegs_data() { films_data(); }
    void everyFrameIsFfmpegs();
    void anyOrderGivesTheSameFrames_data() { films_data(); }
    void anyOrderGivesTheSameFrames();
    void backwardsGivesTheSameFrames();
    void outsideTheFilmThrows();

  private:
    std::filesystem::path make(const QString& kind);
    QTemporaryDir folder_;
};

void TestExactFrames::films_data() {
    QTest::addColumn<QString>("kind");
    for (const char* kind :
         {"synthetic", "b-frames", "open gop", "mpeg4 avi", "mjpeg mov", "vp9 webm", "hevc mkv",
          "variable rate", "non-zero start", "transport stream"}) {
        QTest::newRow(kind) << QString(kind);
    }
}

std::filesystem::path TestExactFrames::make(const QString& kind) {
    if (kind == "synthetic") {
        return support::filmFile(support::rightHander());
    }
    const QString source = "testsrc2=size=192x108:rate=30:duration=2.5";
    const QStringList in{"-f", "lavfi", "-i", source};
    const auto path = [&](const char* ending) {
        return std::filesystem::path(folder_.path().toStdString()) /
               (kind.toStdString() + "." + ending);
    };
    std::filesystem::path file = path("mp4");
    QStringList how{"-c:v", "libx264", "-g", "20", "-bf", "3"};
    if (kind == "open gop") {
        how << "-x264-params"
            << "open-gop=1";
    } else if (kind == "mpeg4 avi") {
        file = path("avi");
        how = QStringList{"-c:v", "mpeg4", "-g", "12", "-bf", "2"};
    } else if (kind == "mjpeg mov") {
        file = path("mov");
        how = QStringList{"-c:v", "mjpeg"};
    } else if (kind == "vp9 webm") {
        file = path("webm");
        how = QStringList{"-c:v", "libvpx-vp9", "-deadline", "realtime", "-g", "25"};
    } else if (kind == "hevc mkv") {
        file = path("mkv");
        how = QStringList{"-c:v", "libx265", "-x265-params", "log-level=none", "-g", "20"};
    } else if (kind == "variable rate") {
        how << "-vf"
            << "select='not(mod(n,7))+lt(mod(n,5),3)'"
            << "-fps_mode"
            << "vfr";
    } else if (kind == "transport stream") {
        file = path("ts");
    } else if (kind == "non-zero start") {
        file = path("mkv");
        how << "-output_ts_offset"
            << "3.2";
    }
    if (!std::filesystem::exists(file)) {
        support::makeFilm(in + how, file);
    }
    return file;
}

void TestExactFrames::everyFrameIsFfmpegs() {
    QFETCH(QString, kind);
    const auto file = make(kind);
    const auto expected = support::framehash(file);
    const film::FilmIndex index = film::buildIndex(file);
    QVERIFY(!expected.empty());
    QCOMPARE(static_cast<std::size_t>(index.frameCount()), expected.size());
    film::FrameReader reader(index);
    for (int frame = 0; frame < index.frameCount(); ++frame) {
        QCOMPARE(film::frameHash(reader.read(frame)), expected[static_cast<std::size_t>(frame)]);
    }
}

void TestExactFrames::anyOrderGivesTheSameFrames() {
    QFETCH(QString, kind);
    const auto file = make(kind);
    const auto expected = support::framehash(file);
    const film::FilmIndex index = film::buildIndex(file);
    film::FrameReader reader(index);
    std::mt19937 random(5);
    std::uniform_int_distribution<int> any(0, index.frameCount() - 1);
    for (int visit = 0; visit < 60; ++visit) {
        const int frame = any(random);
        QCOMPARE(film::frameHash(reader.read(frame)), expected[static_cast<std::size_t>(frame)]);
    }
}

void TestExactFrames::backwardsGivesTheSameFrames() {
    const auto file = make("b-frames");
    const auto expected = support::framehash(file);
    const film::FilmIndex index = film::buildIndex(file);
    film::FrameReader reader(index);
    for (int frame = index.frameCount() - 1; frame >= 0; --frame) {
        QCOMPARE(film::frameHash(reader.read(frame)), expected[static_cast<std::size_t>(frame)]);
    }
}

void TestExactFrames::outsideTheFilmThrows() {
    const film::FilmIndex index = film::buildIndex(make("b-frames"));
    film::FrameReader reader(index);
    QVERIFY_EXCEPTION_THROWN(reader.read(-1), std::out_of_range);
    QVERIFY_EXCEPTION_THROWN(reader.read(index.frameCount()), std::out_of_range);
    QVERIFY(!film::frameHash(reader.read(3)).empty()); // still good afterwards
}

QTEST_GUILESS_MAIN(TestExactFrames)
#include "test_exact_frames.moc"
