#include "film/content_hash.h"
#include "film/film_index.h"
#include "film/frame_reader.h"
#include "film/picture.h"
#include "film/video_writer.h"
#include "model/input_error.h"
#include "support/commands.h"
#include "support/test_films.h"
#include "words/words.h"

#include <QCryptographicHash>
#include <QFile>
#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <fstream>

using namespace kestrel;
namespace fs = std::filesystem;

/// What a film is, how it is shown, and what is said of files that are none.
class TestFilmKinds : public QObject {
    Q_OBJECT
  private slots:
    void indexKnowsTheFilm();
    void timesAreExact();
    void variableRateIsNoticed();
    void rotationTurnsThePicture();
    void pixelAspectWidensThePicture();
    void coloursComeThrough();
    void captureRateIsInDoubtOnlyForUsualRates();
    void writtenFilmReadsBack();
    void unfinishedFilmLeavesNoFile();
    void badFilesSayWhatHappened_data();
    void badFilesSayWhatHappened();
    void filmCutOffInTheMiddleKeepsItsStart();
    void contentHashIsSha256();

  private:
    fs::path in(const char* name) const { return fs::path(folder_.path().toStdString()) / name; }
    QTemporaryDir folder_;
};

void TestFilmKinds::indexKnowsTheFilm() {
    const auto& spec = support::rightHander().spec;
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    QCOMPARE(index.width, spec.width);
    QCOMPARE(index.height, spec.height);
    QCOMPARE(index.frameCount(), synth::FilmScene(spec).frameCount());
    QCOMPARE(index.codec, std::string("h264"));
    QCOMPARE(index.rotation, 0);
    QVERIFY(std::abs(index.fileRate() - 120.0) < 1e-6);
    QVERIFY(!index.variableRate);
    QVERIFY(!index.cutOff);
    QVERIFY(std::abs(index.duration().value - synth::FilmScene(spec).frameCount() / 120.0) < 1e-6);
}

void TestFilmKinds::timesAreExact() {
    support::makeFilm({"-f", "lavfi", "-i", "testsrc2=size=64x48:rate=30000/1001:duration=1",
                       "-c:v", "libx264", "-bf", "2"},
                      in("ntsc.mp4"));
    const film::FilmIndex index = film::buildIndex(in("ntsc.mp4"));
    for (int frame = 0; frame < index.frameCount(); ++frame) {
        // Exactly frame · 1001 / 30000, as a fraction.
        const model::Rational time = index.time(frame);
        QCOMPARE(time.num * 30000, static_cast<std::int64_t>(frame) * 1001 * time.den);
    }
}

void TestFilmKinds::variableRateIsNoticed() {
    support::makeFilm({"-f", "lavfi", "-i", "testsrc2=size=64x48:rate=30:duration=2", "-vf",
                       "select='lt(mod(n,5),3)'", "-fps_mode", "vfr", "-c:v", "libx264"},
                      in("vfr.mp4"));
    const film::FilmIndex index = film::buildIndex(in("vfr.mp4"));
    QVERIFY(index.variableRate);
    QCOMPARE(index.frameCount(), 36);
    QVERIFY(std::abs((index.seconds(3) - index.seconds(2)).value - 0.1) < 1e-6);
}

void TestFilmKinds::rotationTurnsThePicture() {
    // Left half red, right half blue; the file asks for a quarter turn (this ffmpeg counts
    // counter-clockwise here).
    support::makeFilm(
        {"-f", "lavfi", "-i",
         "color=red:size=64x48:rate=10:duration=0.5,drawbox=x=32:w=32:h=48:t=fill:c=blue", "-c:v",
         "libx264", "-pix_fmt", "yuv420p"},
        in("flat.mp4"));
    support::makeFilm({"-i", QString::fromStdString(in("flat.mp4").string()), "-c", "copy",
                       "-metadata:s:v:0", "rotate=270"},
                      in("turned.mp4"));
    const film::FilmIndex index = film::buildIndex(in("turned.mp4"));
    QCOMPARE(index.rotation, 90);
    QCOMPARE(index.width, 48);
    QCOMPARE(index.height, 64);
    film::FrameReader reader(index);
    film::PictureMaker maker(index);
    const film::Picture picture = maker.make(reader.read(0));
    QCOMPARE(picture.width, 48);
    QCOMPARE(picture.height, 64);
    const auto red = [&](int x, int y) {
        const std::uint32_t p = picture.pixels[static_cast<std::size_t>(y) * picture.width + x];
        return (p >> 16U & 0xFFU) > (p & 0xFFU);
    };
    // Turned clockwise by a quarter, the left half is on top.
    QVERIFY(red(24, 10));
    QVERIFY(!red(24, 54));
}

void TestFilmKinds::pixelAspectWidensThePicture() {
    support::makeFilm({"-f", "lavfi", "-i", "testsrc2=size=72x48:rate=10:duration=0.5,setsar=4/3",
                       "-c:v", "libx264"},
                      in("wide.mp4"));
    const film::FilmIndex index = film::buildIndex(in("wide.mp4"));
    QCOMPARE(index.width, 96);
    QCOMPARE(index.codedWidth, 72);
    film::FrameReader reader(index);
    film::PictureMaker maker(index);
    QCOMPARE(maker.make(reader.read(0)).width, 96);
}

void TestFilmKinds::coloursComeThrough() {
    for (const auto& [colour, expected] :
         {std::pair{"0xC83214", 0xC83214U}, std::pair{"0x1464C8", 0x1464C8U},
          std::pair{"0xE6E6E6", 0xE6E6E6U}}) {
        support::makeFilm(
            {"-f", "lavfi", "-i",
             QString("color=%1:size=64x48:rate=10:duration=0.3,format=rgb24").arg(colour), "-vf",
             "scale=out_color_matrix=bt709:out_range=tv", "-colorspace", "bt709", "-color_range",
             "tv", "-c:v", "libx264", "-qp", "0", "-pix_fmt", "yuv420p"},
            in("colour.mp4"));
        const film::FilmIndex index = film::buildIndex(in("colour.mp4"));
        film::FrameReader reader(index);
        film::PictureMaker maker(index);
        const std::uint32_t pixel = maker.make(reader.read(0)).pixels[24 * 64 + 32];
        for (const unsigned shift : {16U, 8U, 0U}) {
            const int got = static_cast<int>(pixel >> shift & 0xFFU);
            const int want = static_cast<int>(expected >> shift & 0xFFU);
            QVERIFY2(std::abs(got - want) <= 3,
                     qPrintable(QString("%1 %2 %3").arg(colour).arg(got).arg(want)));
        }
    }
}

void TestFilmKinds::captureRateIsInDoubtOnlyForUsualRates() {
    QVERIFY(!film::captureRateInDoubt(film::buildIndex(support::filmFile(support::rightHander()))));
    QVERIFY(film::captureRateInDoubt(film::buildIndex(in("ntsc.mp4"))));
}

void TestFilmKinds::writtenFilmReadsBack() {
    film::Picture picture;
    picture.width = 64;
    picture.height = 48;
    picture.pixels.assign(64 * 48, 0xFF3C8C50U);
    {
        film::VideoWriter writer(in("written.mp4"), 64, 48, {25, 1}, 10);
        for (int i = 0; i < 10; ++i) {
            writer.write(picture);
        }
        writer.finish();
    }
    const film::FilmIndex index = film::buildIndex(in("written.mp4"));
    QCOMPARE(index.frameCount(), 10);
    QVERIFY(std::abs(index.fileRate() - 25.0) < 1e-9);
    film::FrameReader reader(index);
    film::PictureMaker maker(index);
    const std::uint32_t pixel = maker.make(reader.read(9)).pixels[100];
    QVERIFY(std::abs(static_cast<int>(pixel >> 8U & 0xFFU) - 0x8C) <= 4);
}

void TestFilmKinds::unfinishedFilmLeavesNoFile() {
    film::Picture picture;
    picture.width = 64;
    picture.height = 48;
    picture.pixels.assign(64 * 48, 0xFF000000U);
    {
        film::VideoWriter writer(in("half.mp4"), 64, 48, {25, 1}, 20);
        writer.write(picture);
    }
    QVERIFY(!fs::exists(in("half.mp4")));
}

void TestFilmKinds::badFilesSayWhatHappened_data() {
    QTest::addColumn<QString>("file");
    QTest::addColumn<QString>("says");
    std::ofstream(in("empty.mp4")).close();
    std::ofstream(in("words.mp4")) << "Dear coach, this is not a film.\n";
    support::makeFilm({"-f", "lavfi", "-i", "sine=duration=1", "-c:a", "aac"}, in("sound.m4a"));
    const fs::path whole = support::filmFile(support::rightHander());
    fs::copy_file(whole, in("cut.mp4"), fs::copy_options::overwrite_existing);
    fs::resize_file(in("cut.mp4"), fs::file_size(whole) / 2); // its index is at the end
    QTest::newRow("empty") << "empty.mp4"
                           << "is empty";
    QTest::newRow("not a film") << "words.mp4"
                                << "not a film";
    QTest::newRow("sound only") << "sound.m4a"
                                << "sound only";
    QTest::newRow("cut off") << "cut.mp4"
                             << "cut off";
    QTest::newRow("missing") << "nowhere.mp4"
                             << "There is no file";
    QTest::newRow("folder") << "."
                            << "folder";
}

void TestFilmKinds::badFilesSayWhatHappened() {
    QFETCH(QString, file);
    QFETCH(QString, says);
    try {
        film::buildIndex(in(file.toUtf8().constData()));
        QFAIL("it was taken for a film");
    } catch (const model::InputError& error) {
        QVERIFY2(words::inWords(error.happened()).contains(says),
                 words::plain(error.happened()).c_str());
        QVERIFY(!error.safe().empty());
        QVERIFY(!error.todo().empty());
    }
}

void TestFilmKinds::filmCutOffInTheMiddleKeepsItsStart() {
    // A transport stream has no index at the end: what was copied can be used.
    support::makeFilm({"-i",
                       QString::fromStdString(support::filmFile(support::rightHander()).string()),
                       "-c", "copy"},
                      in("whole.ts"));
    fs::resize_file(in("whole.ts"), fs::file_size(in("whole.ts")) / 2);
    const film::FilmIndex index = film::buildIndex(in("whole.ts"));
    QVERIFY(index.frameCount() > 60);
    QVERIFY(index.frameCount() < synth::FilmScene(support::rightHander().spec).frameCount());
    film::FrameReader reader(index);
    film::PictureMaker maker(index);
    QCOMPARE(maker.make(reader.read(10)).width, 640);
}

void TestFilmKinds::contentHashIsSha256() {
    const fs::path file = support::filmFile(support::rightHander());
    QFile bytes(QString::fromStdString(file.string()));
    QVERIFY(bytes.open(QIODevice::ReadOnly));
    const QByteArray expected =
        QCryptographicHash::hash(bytes.readAll(), QCryptographicHash::Sha256).toHex();
    QCOMPARE(QByteArray::fromStdString(film::contentHash(file)), expected);
    QVERIFY(film::contentHash(file, [](auto, auto) { return false; }).empty());
}

QTEST_GUILESS_MAIN(TestFilmKinds)
#include "test_film_kinds.moc"
