#include "film/rep_finder.h"
#include "support/commands.h"
#include "support/coverage.h"
#include "support/test_films.h"
#include "track/camera/camera_motion.h"
#include "track/camera/film_study.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <numbers>

using namespace kestrel;

namespace {

QString text(const std::filesystem::path& file) {
    return QString::fromStdString(file.string());
}

model::FilmStudy studyOf(const std::filesystem::path& file) {
    return track::studyFilm(film::buildIndex(file)).value();
}

/// Where the camera of the panned film stands at a frame, whole even pixels.
double panX(int n) {
    return 2.0 * std::floor(60.0 + 20.0 * std::sin(n / 9.0));
}
double panY(int n) {
    return 2.0 * std::floor(40.0 + 9.0 * std::cos(n / 5.0));
}

} // namespace

/// What the first pass over a film finds, against films whose truth is known.
class TestFilmStudy : public QObject {
    Q_OBJECT
  private slots:
    void threeRepsAreFound();
    void stillFilmHasNoReps();
    void theMoverIsThePlayer();
    void exposureIsMeasured();
    void aMovingCameraIsFollowed();
    void aFixedCameraStandsStill();
    void aBlankWallTellsNothing();
    void studyCanBeCancelled();

  private:
    std::filesystem::path in(const char* name) const {
        return std::filesystem::path(folder_.path().toStdString()) / name;
    }
    /// The right-hander's pitch with a second of standing still before and after, at 30 a second.
    std::filesystem::path paddedPitch() {
        const auto file = in("padded.mp4");
        if (!std::filesystem::exists(file)) {
            support::makeFilm({"-i", text(support::filmFile(support::rightHander())), "-vf",
                               "fps=30,tpad=start_mode=clone:start_duration=1:stop_mode=clone:"
                               "stop_duration=1",
                               "-c:v", "libx264"},
                              file);
        }
        return file;
    }
    /// Of the pitch as it is, made once.
    const model::FilmStudy& rightHanderStudy() {
        if (study_.energy.empty()) {
            study_ = studyOf(support::filmFile(support::rightHander()));
        }
        return study_;
    }
    model::FilmStudy study_;
    QTemporaryDir folder_;
};

void TestFilmStudy::threeRepsAreFound() {
    support::makeFilm({"-stream_loop", "2", "-i", text(paddedPitch()), "-vf", "noise=alls=3:allf=t",
                       "-c:v", "libx264"},
                      in("three.mp4"));
    const film::FilmIndex index = film::buildIndex(in("three.mp4"));
    const model::FilmStudy study = studyOf(index.file);
    QCOMPARE(static_cast<int>(study.energy.size()), index.frameCount());
    const model::ClipTime time(index.fileTimes());
    const auto reps = film::findReps(study, time);
    QCOMPARE(reps.size(), 3U);
    const auto truth = synth::truePositions(synth::FilmScene(support::rightHander().spec));
    const double rate = support::rightHander().spec.captureRate;
    const double length = synth::FilmScene(support::rightHander().spec).frameCount() / rate + 2.0;
    for (int rep = 0; rep < 3; ++rep) {
        const double start = rep * length + 1.0;
        const auto frameOf = [&](const char* position) {
            return model::frameAtFileTime(time, model::Seconds(start + truth.at(position) / rate));
        };
        const model::FrameSpan& span = reps[static_cast<std::size_t>(rep)];
        // All that is measured lies inside, and nothing of another repetition does.
        QVERIFY2(span.contains(frameOf("lift_top")), qPrintable(QString::number(span.first)));
        QVERIFY2(span.contains(frameOf("set")), qPrintable(QString::number(span.first)));
        QVERIFY(span.contains(frameOf("release")));
        QVERIFY(span.contains(frameOf("finish")));
        QVERIFY(index.seconds(span.first).value > start - 1.0);
        QVERIFY(index.seconds(span.last).value < start + length);
    }
}

void TestFilmStudy::stillFilmHasNoReps() {
    support::makeFilm({"-i", text(paddedPitch()), "-vf",
                       "select='lt(n,1)',loop=60:1:0,noise=alls=6:allf=t", "-c:v", "libx264"},
                      in("still.mp4"));
    const film::FilmIndex index = film::buildIndex(in("still.mp4"));
    const model::FilmStudy study = studyOf(index.file);
    QVERIFY(film::findReps(study, model::ClipTime(index.fileTimes())).empty());
}

void TestFilmStudy::theMoverIsThePlayer() {
    const auto& spec = support::rightHander().spec;
    const model::FilmStudy& study = rightHanderStudy();
    QVERIFY(study.mover);
    // From the highest point of the body to the lowest over the pitch, by the truth.
    double top = 1e9;
    double bottom = 0.0;
    for (const auto& [frame, points] : synth::trueLandmarks(synth::FilmScene(spec))) {
        for (const auto& [landmark, point] : points) {
            if (landmark != model::Landmark::ball) {
                top = std::min(top, point.px.y);
                bottom = std::max(bottom, point.px.y);
            }
        }
    }
    qInfo("mover %.0f–%.0f px, body %.0f–%.0f px", study.mover->top,
          study.mover->top + study.mover->height, top, bottom);
    const double height = bottom - top;
    QVERIFY(std::abs(study.mover->height - height) < 0.15 * height);
}

void TestFilmStudy::exposureIsMeasured() {
    support::makeFilm(
        {"-f", "lavfi", "-i", "color=0x808080:s=64x48:r=10:d=1,format=yuv420p", "-c:v", "libx264"},
        in("grey.mp4"));
    support::makeFilm({"-f", "lavfi", "-i",
                       "color=white:s=64x48:r=10:d=1,drawbox=w=32:h=48:c=black:t=fill,"
                       "format=yuv420p",
                       "-c:v", "libx264", "-qp", "0"},
                      in("harsh.mp4"));
    const model::FilmStudy grey = studyOf(in("grey.mp4"));
    QVERIFY(std::abs(grey.brightness - 128.0 / 255.0) < 0.02);
    QCOMPARE(grey.tooBright, 0.0);
    const model::FilmStudy harsh = studyOf(in("harsh.mp4"));
    QVERIFY(std::abs(harsh.tooBright - 0.5) < 0.05);
    QVERIFY(std::abs(harsh.tooDark - 0.5) < 0.05);
}

void TestFilmStudy::aMovingCameraIsFollowed() {
    // A window that moves over the pitcher's film, twice as large: the background moves by whole
    // pixels that are known, the pitcher moves on his own.
    support::makeFilm({"-i", text(support::filmFile(support::rightHander())), "-vf",
                       "fps=60,scale=1280:720,crop=960:540:x='2*floor(60+20*sin(n/9))':"
                       "y='2*floor(40+9*cos(n/5))',noise=alls=3:allf=t",
                       "-c:v", "libx264"},
                      in("panned.mp4"));
    const film::FilmIndex index = film::buildIndex(in("panned.mp4"));
    const model::FilmStudy study = studyOf(index.file);
    QCOMPARE(static_cast<int>(study.camera.size()), index.frameCount());
    int inside = 0;
    int all = 0;
    double squares = 0.0;
    for (int frame = 1; frame < index.frameCount(); ++frame) {
        const model::CameraPose& pose = study.camera[static_cast<std::size_t>(frame)];
        const model::Point2 moved{panX(frame) - panX(0), panY(frame) - panY(0)};
        for (const model::Point2 p : {model::Point2{240, 135}, model::Point2{480, 270},
                                      model::Point2{720, 135}, model::Point2{480, 470}}) {
            const model::Point2 error = carriedToFirst(pose, p) - (p + moved);
            for (const double e : {error.x, error.y}) {
                squares += e * e;
                inside += std::abs(e) <= model::coverage95 * pose.sdPx ? 1 : 0;
                ++all;
            }
        }
    }
    const double rms = std::sqrt(squares / all);
    qInfo("camera followed to %.2f px rms; %.1f %% inside the stated 95 %%", rms,
          100.0 * inside / all);
    QVERIFY(rms < 0.8); // of a picture 960 pixels wide in which it moves by up to 80
    VERIFY_COVERAGE("camera that moves", inside, all);
    const track::CameraSteadiness moved =
        track::steadiness(study.camera, model::ClipTime(index.fileTimes()), 960, 540);
    QVERIFY(moved.driftPx > 40.0);
    QVERIFY(moved.shakePx > 3.0);
}

void TestFilmStudy::aFixedCameraStandsStill() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    const model::FilmStudy& study = rightHanderStudy();
    QVERIFY(!study.camera.empty());
    const track::CameraSteadiness still = track::steadiness(
        study.camera, model::ClipTime(index.fileTimes()), index.width, index.height);
    QVERIFY(still.driftPx < 0.5);
    QVERIFY(still.shakePx < 0.3);
}

void TestFilmStudy::aBlankWallTellsNothing() {
    support::makeFilm({"-f", "lavfi", "-i", "color=0x808080:s=320x240:r=10:d=1", "-c:v", "libx264"},
                      in("wall.mp4"));
    QVERIFY(studyOf(in("wall.mp4")).camera.empty());
}

void TestFilmStudy::studyCanBeCancelled() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    int seen = 0;
    QVERIFY(!track::studyFilm(index, [&](int) { return ++seen < 10; }));
    QCOMPARE(seen, 10);
}

QTEST_GUILESS_MAIN(TestFilmStudy)
#include "test_film_study.moc"
