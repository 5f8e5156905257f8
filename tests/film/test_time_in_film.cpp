#include "film/film_index.h"
#include "film/picture_reader.h"
#include "support/commands.h"
#include "support/film_corpus.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cmath>

using namespace kestrel;

namespace {

/// Middle column of what is bright in a picture.
double middleOfTheBright(const film::Picture& picture) {
    double sum = 0.0;
    int count = 0;
    for (std::size_t i = 0; i < picture.pixels.size(); ++i) {
        if ((picture.pixels[i] & 0xFFU) > 128) {
            sum += static_cast<double>(i % static_cast<std::size_t>(picture.width));
            ++count;
        }
    }
    return count == 0 ? -1.0 : sum / count;
}

} // namespace

/// Clocks inside films: fields of interlaced film, changes of speed.
class TestTimeInFilm : public QObject {
    Q_OBJECT
  private slots:
    void fieldsAreTwiceTheMoments_data();
    void fieldsAreTwiceTheMoments();
    void progressiveFilmHasNoFields();
    void speedChangesShowInTheTimeStamps();
    void unevenFilmIsNoSlowMotion_data();
    void unevenFilmIsNoSlowMotion();

  private:
    std::filesystem::path in(const char* name) const {
        return std::filesystem::path(folder_.path().toStdString()) / name;
    }
    support::CorpusFilm corpusFilm(const std::string& name) const {
        const auto corpus = support::filmCorpus();
        return *std::find_if(corpus.begin(), corpus.end(),
                             [&](const support::CorpusFilm& f) { return f.name == name; });
    }
    QTemporaryDir folder_;
};

void TestTimeInFilm::fieldsAreTwiceTheMoments_data() {
    QTest::addColumn<QString>("mode");
    QTest::addColumn<film::Fields>("order");
    QTest::newRow("top first") << "interleave_top" << film::Fields::topFirst;
    QTest::newRow("bottom first") << "interleave_bottom" << film::Fields::bottomFirst;
}

void TestTimeInFilm::fieldsAreTwiceTheMoments() {
    QFETCH(QString, mode);
    QFETCH(film::Fields, order);
    // A bar that moves by three pixels fifty times a second, filmed by an interlaced camera: each
    // field catches it three pixels on.
    const auto file = in("fields.mkv");
    support::makeFilm({"-f", "lavfi", "-i",
                       "nullsrc=s=192x108:r=50:d=1,geq=lum='if(between(X,10+N*3,29+N*3),235,16)':"
                       "cb=128:cr=128",
                       "-vf", "tinterlace=mode=" + mode, "-c:v", "mpeg2video", "-q:v", "2",
                       "-flags", "+ilme+ildct", "-g", "6", "-bf", "2"},
                      file);
    const film::FilmIndex whole = film::buildIndex(file);
    QCOMPARE(whole.interlaced, order);
    QCOMPARE(whole.frameCount(), 25);
    const film::FilmIndex fields = film::asFields(whole, order);
    QCOMPARE(fields.frameCount(), 50);
    QVERIFY(std::abs(fields.fileRate() - 50.0) < 0.01);
    QVERIFY(std::abs((fields.duration() - whole.duration()).value) < 1e-9);
    film::PictureReader reader(fields);
    for (const int field : {0, 1, 7, 20, 21, 6, 49}) {
        const film::Picture picture = reader.read(field);
        QCOMPARE(picture.height, 108);
        const double truth = std::min(191.0, 29.0 + field * 3) / 2.0 + (10.0 + field * 3) / 2.0;
        QVERIFY2(std::abs(middleOfTheBright(picture) - truth) < 0.7,
                 qPrintable(QString("field %1: %2, not %3")
                                .arg(field)
                                .arg(middleOfTheBright(picture))
                                .arg(truth)));
        QVERIFY(std::abs((fields.seconds(field) - fields.seconds(0)).value - field / 50.0) < 1e-3);
    }
    // And back to the file's own frames.
    const film::FilmIndex back = film::asWholeFrames(fields);
    QCOMPARE(back.frameCount(), whole.frameCount());
    for (int frame = 0; frame < whole.frameCount(); ++frame) {
        QCOMPARE(back.time(frame), whole.time(frame));
    }
}

void TestTimeInFilm::progressiveFilmHasNoFields() {
    const auto file = support::madeFilm(corpusFilm("h264 mp4"), folder_.path().toStdString());
    QCOMPARE(film::buildIndex(file).interlaced, film::Fields::none);
}

void TestTimeInFilm::speedChangesShowInTheTimeStamps() {
    const auto file =
        support::madeFilm(corpusFilm("slow-motion ramp"), folder_.path().toStdString());
    const auto stretches = film::speedStretches(film::buildIndex(file));
    QCOMPARE(stretches.size(), 3U);
    const std::vector<std::pair<int, double>> truth{{0, 1.0}, {20, 4.0}, {40, 1.0}};
    for (std::size_t i = 0; i < truth.size(); ++i) {
        QVERIFY(std::abs(stretches[i].fromFrame - truth[i].first) <= 1);
        QVERIFY(std::abs(stretches[i].slowdown - truth[i].second) < 0.02);
    }
    // The clock made from them runs as the camera did: 30 a second all through.
    const film::FilmIndex index = film::buildIndex(file);
    const model::ClipTime time(index.fileTimes(), stretches);
    QVERIFY(std::abs(model::elapsed(time, 0, 60).value - 2.0) < 0.1);
}

void TestTimeInFilm::unevenFilmIsNoSlowMotion_data() {
    QTest::addColumn<QString>("name");
    QTest::newRow("constant") << "h264 mp4";
    QTest::newRow("frames left out here and there") << "variable rate";
    QTest::newRow("no times") << "no times at all";
}

void TestTimeInFilm::unevenFilmIsNoSlowMotion() {
    QFETCH(QString, name);
    const auto file =
        support::madeFilm(corpusFilm(name.toStdString()), folder_.path().toStdString());
    QVERIFY(film::speedStretches(film::buildIndex(file)).empty());
}

QTEST_GUILESS_MAIN(TestTimeInFilm)
#include "test_time_in_film.moc"
