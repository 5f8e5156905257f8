#include "film/frame_hash.h"
#include "film/frame_reader.h"
#include "support/commands.h"
#include "support/film_corpus.h"
#include "support/test_films.h"

#include <QTemporaryDir>
#include <QTest>

#include <cstdlib>
#include <random>

using namespace kestrel;

/// Being on the right frame: every frame of every kind of film, reached by any path, is the one
/// that a straight decode by the ffmpeg command gives.
class TestExactFrames : public QObject {
    Q_OBJECT
  private slots:
    void corpusIsLarge();
    void everyFrameIsFfmpegs_data();
    void everyFrameIsFfmpegs();
    void outsideTheFilmThrows();

  private:
    std::filesystem::path folder() const { return folder_.path().toStdString(); }
    QTemporaryDir folder_;
};

void TestExactFrames::corpusIsLarge() {
    QVERIFY(support::filmCorpus().size() >= 40);
}

void TestExactFrames::everyFrameIsFfmpegs_data() {
    QTest::addColumn<int>("film");
    const auto corpus = support::filmCorpus();
    for (std::size_t i = 0; i < corpus.size(); ++i) {
        QTest::newRow(corpus[i].name.c_str()) << static_cast<int>(i);
    }
    QTest::newRow("synthetic player") << -1;
}

void TestExactFrames::everyFrameIsFfmpegs() {
    QFETCH(int, film);
    const support::CorpusFilm kind =
        film < 0 ? support::CorpusFilm{} : support::filmCorpus()[static_cast<std::size_t>(film)];
    const auto file =
        film < 0 ? support::filmFile(support::rightHander()) : support::madeFilm(kind, folder());
    const auto expected =
        film < 0 ? support::framehash(file) : support::corpusHashes(kind, folder());
    const film::FilmIndex index = film::buildIndex(file);
    QVERIFY(!expected.empty());
    // Where a file breaks off, the broken frame and the B-frames that hang on it are lost; what
    // ffmpeg shows of them differs with its number of threads. All other frames count.
    const bool cutOff = kind.keep < 1.0;
    constexpr int hangingOnTheBrokenOne = 4;
    const int whole = index.frameCount() - (cutOff ? hangingOnTheBrokenOne : 0);
    if (cutOff) {
        QVERIFY(std::abs(index.frameCount() - static_cast<int>(expected.size())) <=
                hangingOnTheBrokenOne);
    } else {
        QCOMPARE(static_cast<std::size_t>(index.frameCount()), expected.size());
    }
    const auto hash = [](film::FrameReader& reader, int frame) {
        return film::frameHash(reader.read(frame));
    };
    const auto want = [&](int frame) { return expected[static_cast<std::size_t>(frame)]; };
    {
        film::FrameReader onwards(index);
        for (int frame = 0; frame < whole; ++frame) {
            QVERIFY2(hash(onwards, frame) == want(frame),
                     qPrintable(QString("onwards, %1").arg(frame)));
        }
    }
    film::FrameReader anyOrder(index);
    std::mt19937 random(5);
    std::uniform_int_distribution<int> any(0, whole - 1);
    const int visits = index.codedWidth > 1920 ? 12 : 50;
    for (int visit = 0; visit < visits; ++visit) {
        const int frame = any(random);
        QVERIFY2(hash(anyOrder, frame) == want(frame),
                 qPrintable(QString("any order, %1").arg(frame)));
    }
    for (int frame = whole - 1; frame >= 0; frame -= 3) {
        QVERIFY2(hash(anyOrder, frame) == want(frame),
                 qPrintable(QString("backwards, %1").arg(frame)));
    }
    qInfo("%4d frames, %s, %dx%d, %s rate: all as ffmpeg decodes them", index.frameCount(),
          index.codec.c_str(), index.width, index.height,
          index.variableRate ? "variable" : "constant");
}

void TestExactFrames::outsideTheFilmThrows() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    film::FrameReader reader(index);
    QVERIFY_EXCEPTION_THROWN(reader.read(-1), std::out_of_range);
    QVERIFY_EXCEPTION_THROWN(reader.read(index.frameCount()), std::out_of_range);
    QVERIFY(!film::frameHash(reader.read(3)).empty()); // still good afterwards
}

QTEST_GUILESS_MAIN(TestExactFrames)
#include "test_exact_frames.moc"
