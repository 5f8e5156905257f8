#include "film/film_index.h"
#include "film/rep_finder.h"
#include "study/messy_study.h"
#include "support/commands.h"
#include "support/test_films.h"
#include "track/camera/film_study.h"

#include <QTemporaryDir>
#include <QTest>

#include <fstream>
#include <iterator>

using namespace kestrel;
using model::FilmBreak;
using study::Mess;

namespace {

QString text(const std::filesystem::path& file) {
    return QString::fromStdString(file.string());
}

std::vector<FilmBreak> breaksOf(const std::vector<FilmBreak>& breaks, FilmBreak::Kind kind) {
    std::vector<FilmBreak> some;
    std::copy_if(breaks.begin(), breaks.end(), std::back_inserter(some),
                 [&](const FilmBreak& b) { return b.kind == kind; });
    return some;
}

/// Of a film of 30 frames a second.
model::ClipTime fiveSeconds() {
    std::vector<model::Seconds> times;
    for (int frame = 0; frame < 150; ++frame) {
        times.emplace_back(frame / 30.0);
    }
    return model::ClipTime(times);
}

} // namespace

/// Films that somebody edited: by the synthetic player's own editor, whose truth is known, and by
/// FFmpeg's filters.
class TestEditedFilms : public QObject {
    Q_OBJECT
  private slots:
    void messesAreUnderstood_data();
    void messesAreUnderstood();
    void fadesBoxesAndBarsOfAnotherEditor();
    void noRepGoesOnOverACut();
    void aHeldPictureIsNoPause();
    void aFileThatWasCutOffSaysSo();

  private:
    std::filesystem::path in(const char* name) const {
        return folder_.filePath(name).toStdString();
    }
    QTemporaryDir folder_;
};

void TestEditedFilms::messesAreUnderstood_data() {
    QTest::addColumn<Mess>("mess");
    for (const Mess mess :
         {Mess::oneTake, Mess::cuts, Mess::logo, Mess::screenRecording, Mess::bars}) {
        QTest::newRow(std::string(study::name(mess)).c_str()) << mess;
    }
}

void TestEditedFilms::messesAreUnderstood() {
    QFETCH(Mess, mess);
    constexpr std::uint32_t seed = 900; // of no film that anything was set or measured on
    const study::MessyResult result = study::studyMessy(mess, seed, folder_.path().toStdString());
    for (const auto& [what, tally] : {std::pair{"cuts", result.cuts},
                                      {"dark", result.dark},
                                      {"held", result.held},
                                      {"graphics", result.graphics},
                                      {"bars", result.bars},
                                      {"repeated", result.repeated},
                                      {"reps", result.reps}}) {
        qInfo("%s: %d of %d, %d wrong", what, tally.found, tally.there, tally.wrong);
        QCOMPARE(tally.found, tally.there);
        QCOMPARE(tally.wrong, 0);
    }
}

/// A second of black, a fade of a second, a box that comes after the pitch, bars at both sides.
void TestEditedFilms::fadesBoxesAndBarsOfAnotherEditor() {
    support::makeFilm(
        {"-i", text(support::filmFile(support::rightHander())), "-vf",
         "fps=30,scale=640:360,tpad=start_mode=clone:start_duration=1:stop_mode=clone:"
         "stop_duration=2,fade=in:st=0:d=1,tpad=start_duration=1:color=black,"
         "drawbox=x=420:y=20:w=150:h=40:color=white:t=fill:enable='gte(n,175)',"
         "crop=540:360,pad=640:360:50:0:black",
         "-c:v", "libx264"},
        in("edited.mp4"));
    const film::FilmIndex index = film::buildIndex(in("edited.mp4"));
    const model::FilmStudy study = track::studyFilm(index).value();
    const auto dark = breaksOf(study.breaks, FilmBreak::Kind::dark);
    QCOMPARE(dark.size(), 1U);
    QCOMPARE(dark.front().span.first, 0);
    QVERIFY2(std::abs(dark.front().span.last - 59) <= 2,
             qPrintable(QString::number(dark.front().span.last)));
    QVERIFY(breaksOf(study.breaks, FilmBreak::Kind::cut).empty());
    QVERIFY(study.insideBars);
    QVERIFY(std::abs(study.insideBars->left - 50.0) <= 2.0);
    QVERIFY(std::abs(study.insideBars->width - 540.0) <= 4.0);
    QCOMPARE(study.graphics.size(), 1U);
    QVERIFY(std::abs(study.graphics.front().span.first - 175) <= 1);
    // Cropped by 50 at the left and moved by 50 to the right, the box is where it was drawn.
    QVERIFY(std::abs(study.graphics.front().box.left - 420.0) <= 22.0);
    QVERIFY(std::abs(study.graphics.front().box.top - 20.0) <= 22.0);
    QCOMPARE(film::findReps(study, model::ClipTime(index.fileTimes())).size(), 1U);
}

/// The player moves for a second on each side of a cut.
void TestEditedFilms::noRepGoesOnOverACut() {
    model::FilmStudy study;
    study.energy.assign(fiveSeconds().fieldTimes().size(), 0.0F);
    std::fill(study.energy.begin() + 45, study.energy.begin() + 105, 20.0F);
    const model::ClipTime time = fiveSeconds();
    QCOMPARE(film::findReps(study, time).size(), 1U);
    study.breaks = {{FilmBreak::Kind::cut, {74, 75}}};
    const auto reps = film::findReps(study, time);
    QCOMPARE(reps.size(), 2U);
    QCOMPARE(reps[0].last, 74);
    QCOMPARE(reps[1].first, 75);
    study.breaks = {{FilmBreak::Kind::dark, {70, 80}}};
    const auto apart = film::findReps(study, time);
    QCOMPARE(apart.size(), 2U);
    QVERIFY(apart[0].last < 70 && apart[1].first > 80);
}

/// Half a second of movement, two seconds of one picture, and half a second again.
void TestEditedFilms::aHeldPictureIsNoPause() {
    model::FilmStudy study;
    study.energy.assign(fiveSeconds().fieldTimes().size(), 0.0F);
    std::fill(study.energy.begin() + 30, study.energy.begin() + 45, 20.0F);
    std::fill(study.energy.begin() + 105, study.energy.begin() + 120, 20.0F);
    const model::ClipTime time = fiveSeconds();
    QCOMPARE(film::findReps(study, time).size(), 2U);
    study.breaks = {{FilmBreak::Kind::still, {45, 104}}};
    QCOMPARE(film::findReps(study, time).size(), 1U);
}

void TestEditedFilms::aFileThatWasCutOffSaysSo() {
    support::makeFilm({"-i", text(support::filmFile(support::rightHander())), "-c", "copy",
                       "-movflags", "+faststart"},
                      in("whole.mp4"));
    const film::FilmIndex whole = film::buildIndex(in("whole.mp4"));
    QVERIFY(!whole.cutOff);
    QCOMPARE(whole.promisedFrames, 0);
    std::ifstream from(in("whole.mp4"), std::ios::binary);
    const std::string bytes{std::istreambuf_iterator<char>(from), {}};
    std::ofstream to(in("part.mp4"), std::ios::binary);
    to << bytes.substr(0, bytes.size() / 2);
    to.close();
    const film::FilmIndex part = film::buildIndex(in("part.mp4"));
    QVERIFY(part.cutOff);
    QCOMPARE(part.promisedFrames, whole.frameCount());
    QVERIFY(part.frameCount() < whole.frameCount());
}

QTEST_GUILESS_MAIN(TestEditedFilms)
#include "test_edited_films.moc"
