#include "film/film_index.h"
#include "film/sound.h"
#include "model/input_error.h"
#include "report/face_blur.h"
#include "report/fonts.h"
#include "report/review_film.h"
#include "report/review_proposal.h"
#include "support/commands.h"
#include "support/day.h"
#include "support/test_films.h"

#include <nlohmann/json.hpp>

#include <QGuiApplication>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cmath>
#include <fstream>

using namespace kestrel;
using support::operator""_day;
using model::ScriptStep;

namespace {

ScriptStep stopAt(int frame, double seconds, const std::string& caption) {
    ScriptStep step;
    step.first = frame;
    step.seconds = seconds;
    step.caption = caption;
    return step;
}

ScriptStep runOver(int first, int last, double speed) {
    ScriptStep step;
    step.kind = ScriptStep::Kind::run;
    step.first = first;
    step.last = last;
    step.speed = speed;
    return step;
}

/// Film of `rate` frames a second on the field, stored so much slower.
model::ClipTime timeOf(int frames, double rate, double slowdown = 1.0) {
    std::vector<model::Seconds> times;
    for (int i = 0; i < frames; ++i) {
        times.emplace_back(i / rate * slowdown);
    }
    return model::ClipTime(times, slowdown);
}

/// Mean difference of two pictures, grey levels of 255.
double difference(const QImage& a, const QImage& b) {
    double sum = 0.0;
    for (int y = 0; y < a.height(); ++y) {
        for (int x = 0; x < a.width(); ++x) {
            sum += std::abs(qGray(a.pixel(x, y)) - qGray(b.pixel(x, y)));
        }
    }
    return sum / (a.width() * a.height());
}

/// How much neighbouring pixels differ, a measure of detail.
double detail(const QImage& image) {
    double sum = 0.0;
    for (int y = 0; y < image.height(); ++y) {
        for (int x = 1; x < image.width(); ++x) {
            sum += std::abs(qGray(image.pixel(x, y)) - qGray(image.pixel(x - 1, y)));
        }
    }
    return sum / (image.width() * image.height());
}

/// Grey levels less what is left of them after halving the picture twice: what is fine in it.
std::vector<double> fineDrawing(const QImage& image) {
    const QImage coarse =
        image.scaled(image.size() / 4, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
            .scaled(image.size(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    std::vector<double> fine;
    for (int y = 0; y < image.height(); ++y) {
        for (int x = 0; x < image.width(); ++x) {
            fine.push_back(qGray(image.pixel(x, y)) - qGray(coarse.pixel(x, y)));
        }
    }
    return fine;
}

/// How much of a picture's fine drawing is in another: 1 all of it, 0 nothing.
double likeness(const QImage& picture, const QImage& in) {
    const std::vector<double> a = fineDrawing(picture);
    const std::vector<double> b = fineDrawing(in);
    double ab = 0.0;
    double aa = 0.0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        ab += a[i] * b[i];
        aa += a[i] * a[i];
    }
    return ab / aa;
}

nlohmann::json probed(const QString& file) {
    const support::Outcome probe = support::run(
        "ffprobe", {"-v", "error", "-count_frames", "-show_streams", "-of", "json", file});
    return nlohmann::json::parse(probe.out.toStdString());
}

} // namespace

/// The review film and what goes with it.
class TestReviewFilm : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void runsTakeFieldTimeAtTheirSpeed();
    void stopsHoldTheirFrame();
    void captionsAreReadByFfmpeg();
    void exportIsTheFilmThatWasPainted();
    void voicesAreHeardWhereTheyBelong();
    void brokenOffLeavesNothing();
    void placeThatCannotBeWrittenIsAMessage();
    void sideBySideShowsBoth();
    void framesMatchAtThePositions();
    void proposalFollowsTheFindings();
    void faceIsGoneEverywhere();
    void faceThatIsNotKnownIsNotShown();
    void soundIsReadBack();

  private:
    QString path(const char* name) const { return folder_.path() + "/" + name; }
    report::ReviewFilm filmOf(const support::TestFilm& test, model::ReviewScript script) const {
        report::ReviewFilm film;
        film.script = std::move(script);
        film.time = support::openSide(test.spec).time;
        film.shown.rep = support::trueRep(test.spec);
        film.shown.readings =
            technique::evaluate(pack_, film.shown.rep, support::openSide(test.spec));
        film.shown.images = report::filmImages(film::buildIndex(support::filmFile(test)));
        film.shown.title = "now";
        return film;
    }

    technique::Pack pack_;
    QTemporaryDir folder_;
};

void TestReviewFilm::initTestCase() {
    report::loadFonts();
    pack_ = support::pitchPack();
}

void TestReviewFilm::runsTakeFieldTimeAtTheirSpeed() {
    // One second of the field in 60 frames, and in 240 stored eight times slower.
    for (const model::ClipTime& time : {timeOf(60, 60.0), timeOf(240, 240.0, 8.0)}) {
        const int last = time.frameCount() - 1;
        for (const double speed : {1.0, 0.5, 0.25, 0.125}) {
            const auto timeline = report::timelineOf({runOver(0, last, speed)}, time, 30.0);
            QCOMPARE(timeline.size(), static_cast<std::size_t>(std::lround(30.0 / speed)));
            QCOMPARE(timeline.front().frame, 0);
            QVERIFY(last - timeline.back().frame <= std::lround(speed * (last + 1) / 30.0));
            for (std::size_t n = 0; n < timeline.size(); ++n) {
                const double field = static_cast<double>(n) / 30.0 * speed;
                const double shown =
                    time.fieldTimes()[static_cast<std::size_t>(timeline[n].frame)].value;
                QVERIFY(shown <= field + 1e-6 && field - shown < 1.0 / 59.0);
            }
        }
    }
}

void TestReviewFilm::stopsHoldTheirFrame() {
    const auto timeline = report::timelineOf(
        {stopAt(7, 2.0, "a"), stopAt(900, 0.5, ""), runOver(3, 3, 1.0)}, timeOf(60, 60.0), 30.0);
    QCOMPARE(timeline.size(), std::size_t{60 + 15 + 1});
    QCOMPARE(timeline[59], (report::TimelineFrame{7, 0}));
    QCOMPARE(timeline[60], (report::TimelineFrame{59, 1})); // clamped to the film
    const auto captions = report::captionsOf(
        {stopAt(7, 2.0, "a"), stopAt(900, 0.5, ""), runOver(3, 3, 1.0)}, timeline, 30.0);
    QCOMPARE(captions.size(), std::size_t{1});
    QCOMPARE(captions[0].to.value, 2.0);
}

void TestReviewFilm::captionsAreReadByFfmpeg() {
    const std::vector<report::CaptionSpan> captions{
        {model::Seconds(0.0), model::Seconds(1.5), "Watch it once."},
        {model::Seconds(3.25), model::Seconds(7.0), "Two lines\n\nof words"},
        {model::Seconds(3723.004), model::Seconds(3724.5), "“Low roof” & more"}};
    for (const auto& [name, text] : {std::pair("c.srt", report::subRip(captions)),
                                     std::pair("c.vtt", report::webVtt(captions))}) {
        std::ofstream(path(name).toStdString()) << text;
        const support::Outcome probe =
            support::run("ffprobe", {"-v", "error", "-show_entries",
                                     "packet=pts_time,duration_time", "-of", "json", path(name)});
        QCOMPARE(probe.exitCode, 0);
        QVERIFY2(probe.err.isEmpty(), probe.err.constData());
        const auto packets = nlohmann::json::parse(probe.out.toStdString()).at("packets");
        QCOMPARE(packets.size(), captions.size());
        for (std::size_t i = 0; i < captions.size(); ++i) {
            const double from = std::stod(packets[i].at("pts_time").get<std::string>());
            const double length = std::stod(packets[i].at("duration_time").get<std::string>());
            QVERIFY(std::abs(from - captions[i].from.value) < 1e-3);
            QVERIFY(std::abs(from + length - captions[i].to.value) < 2e-3);
        }
        const support::Outcome words =
            support::run("ffmpeg", {"-v", "error", "-i", path(name), "-f", "srt", "-"});
        const QString back = QString::fromUtf8(words.out);
        QVERIFY(back.contains("Watch it once."));
        QVERIFY2(back.contains(QRegularExpression("Two lines\\s+of words")), qPrintable(back));
        QVERIFY(back.contains("“Low roof”"));
    }
}

void TestReviewFilm::exportIsTheFilmThatWasPainted() {
    const support::TestFilm& test = support::faulty();
    const model::Rep rep = support::trueRep(test.spec);
    const int release = rep.positions.at("release");
    ScriptStep stop = stopAt(release, 1.0, "Chest out over the front leg.");
    stop.measureId = "release_trunk_lean";
    stop.pointer = model::Point2{100.0, 80.0};
    report::ReviewFilm film = filmOf(test, {runOver(release - 20, release, 0.5), stop});
    std::vector<double> shares;
    QVERIFY(report::exportReviewFilm(film, path("film.mp4").toStdString(), [&](double share) {
        shares.push_back(share);
        return true;
    }));
    QVERIFY(std::is_sorted(shares.begin(), shares.end()));
    const auto timeline = report::timelineOf(film.script, film.time, report::reviewRate);
    const auto streams = probed(path("film.mp4")).at("streams");
    QCOMPARE(streams.size(), std::size_t{1});
    QCOMPARE(streams[0].at("nb_read_frames").get<std::string>(), std::to_string(timeline.size()));
    QCOMPARE(streams[0].at("r_frame_rate").get<std::string>(), std::string("30/1"));
    report::ReviewPainter painter(film);
    QCOMPARE(streams[0].at("width").get<int>(), painter.size().width());
    QCOMPARE(streams[0].at("height").get<int>(), painter.size().height());
    // Frames as FFmpeg decodes them against what was painted, and the film's own frame in them.
    const report::FrameImages written =
        report::filmImages(film::buildIndex(path("film.mp4").toStdString()));
    for (const std::size_t n : {std::size_t{0}, timeline.size() / 4, timeline.size() - 1}) {
        const QImage painted = painter.paint(timeline[n]);
        const QImage decoded = written(static_cast<int>(n));
        QVERIFY2(difference(painted, decoded) < 4.0,
                 qPrintable(QString::number(difference(painted, decoded))));
        const QImage source = film.shown.images(timeline[n].frame);
        const QRectF area = painter.pictureToPaint().mapRect(QRectF(source.rect()));
        const QImage plain =
            source.scaled(area.size().toSize(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
        QVERIFY(difference(plain, painted.copy(area.toRect())) < 3.0);
    }
    // Caption, construct and ring are there at the stop, and only there.
    const QImage bare = painter.paint({release, 0});
    const QImage full = painter.paint({release, 1});
    const QTransform map = painter.pictureToPaint();
    const QPointF ring = map.map(QPointF(100.0, 80.0));
    const int radius =
        static_cast<int>(map.mapRect(QRectF(film.shown.images(release).rect())).height() / 16);
    QVERIFY(difference(bare.copy(QRect(ring.toPoint() - QPoint(radius, radius),
                                       QSize(2 * radius, 2 * radius))),
                       full.copy(QRect(ring.toPoint() - QPoint(radius, radius),
                                       QSize(2 * radius, 2 * radius)))) > 2.0);
    const int strip =
        static_cast<int>(map.mapRect(QRectF(film.shown.images(release).rect())).height());
    const QRect words(0, strip, full.width(), full.height() - strip);
    QVERIFY(detail(full.copy(words)) > 2.0);
    QVERIFY(detail(bare.copy(words)) < 0.1);
    QVERIFY(QFile::exists(path("film.srt")) && QFile::exists(path("film.vtt")));
}

void TestReviewFilm::voicesAreHeardWhereTheyBelong() {
    // A tone of a second over the second step of three.
    std::vector<float> tone(film::soundRate);
    for (std::size_t i = 0; i < tone.size(); ++i) {
        constexpr double turn = 6.283185307;
        tone[i] = static_cast<float>(0.5 * std::sin(turn * 440.0 * i / film::soundRate));
    }
    film::writeWav(tone, (folder_.path() + "/tone.wav").toStdString());
    model::ReviewScript script{stopAt(10, 1.0, "quiet"), stopAt(20, 1.0, "heard"),
                               stopAt(30, 1.0, "quiet")};
    script[1].voice = "tone.wav";
    report::ReviewFilm film = filmOf(support::rightHander(), script);
    film.voiceFolder = folder_.path().toStdString();
    QVERIFY(report::exportReviewFilm(film, path("spoken.mp4").toStdString(), {}));
    const auto streams = probed(path("spoken.mp4")).at("streams");
    QCOMPARE(streams.size(), std::size_t{2});
    QCOMPARE(streams[1].at("codec_name").get<std::string>(), std::string("aac"));
    QVERIFY(std::abs(std::stod(streams[1].at("duration").get<std::string>()) - 3.0) < 0.05);
    QCOMPARE(support::run("ffmpeg", {"-v", "error", "-i", path("spoken.mp4"), "-f", "f32le", "-ac",
                                     "1", "-ar", "48000", path("spoken.raw")})
                 .exitCode,
             0);
    QFile raw(path("spoken.raw"));
    QVERIFY(raw.open(QIODevice::ReadOnly));
    const QByteArray bytes = raw.readAll();
    const auto* samples = reinterpret_cast<const float*>(bytes.constData());
    const auto loudness = [&](double from, double to) {
        double sum = 0.0;
        const auto first = static_cast<std::size_t>(from * film::soundRate);
        const auto last = static_cast<std::size_t>(to * film::soundRate);
        for (std::size_t i = first; i < last; ++i) {
            sum += samples[i] * samples[i];
        }
        return std::sqrt(sum / static_cast<double>(last - first));
    };
    QVERIFY(loudness(0.0, 0.9) < 0.01);
    QVERIFY(std::abs(loudness(1.1, 1.9) - 0.3536) < 0.03);
    QVERIFY(loudness(2.1, 2.9) < 0.01);
    script[1].voice = "gone.wav";
    film.script = script;
    QVERIFY_EXCEPTION_THROWN(report::exportReviewFilm(film, path("gone.mp4").toStdString(), {}),
                             model::InputError);
}

void TestReviewFilm::brokenOffLeavesNothing() {
    const report::ReviewFilm film = filmOf(support::rightHander(), {stopAt(10, 3.0, "x")});
    int calls = 0;
    QVERIFY(!report::exportReviewFilm(film, path("half.mp4").toStdString(),
                                      [&](double) { return ++calls < 10; }));
    QCOMPARE(calls, 10);
    for (const char* name : {"half.mp4", "half.srt", "half.vtt"}) {
        QVERIFY(!QFile::exists(path(name)));
    }
}

void TestReviewFilm::placeThatCannotBeWrittenIsAMessage() {
    const report::ReviewFilm film = filmOf(support::rightHander(), {stopAt(10, 0.1, "x")});
    QVERIFY_EXCEPTION_THROWN(report::exportReviewFilm(film, "/nowhere/film.mp4", {}),
                             model::InputError);
}

void TestReviewFilm::sideBySideShowsBoth() {
    const support::TestFilm& left = support::leftHander();
    ScriptStep both =
        stopAt(support::trueRep(support::faulty().spec).positions.at("release"), 1.0, "");
    both.positionId = "release";
    both.besideRep = model::RepId(9);
    report::ReviewFilm film = filmOf(support::faulty(), {both});
    const QImage alone = report::ReviewPainter(film).paint({both.first, 0});
    const report::ReviewFilm other = filmOf(left, {});
    film.beside.emplace(model::RepId(9), other.shown);
    report::ReviewPainter painter(film);
    const QImage page = painter.paint({both.first, 0});
    QVERIFY(difference(page, alone) > 5.0); // without the other rep it stands alone
    const QRect half(0, 0, page.width() / 2 - 4, page.height() * 3 / 4);
    QVERIFY(detail(page.copy(half)) > 1.0);
    QVERIFY(detail(page.copy(half.translated(page.width() / 2 + 4, 0))) > 1.0);
    QVERIFY(difference(page.copy(half), page.copy(half.translated(page.width() / 2 + 4, 0))) > 5.0);
}

void TestReviewFilm::framesMatchAtThePositions() {
    // Two reps of one motion at other speeds: what matches is known.
    model::Rep slow;
    model::Rep fast;
    const std::vector<std::pair<std::string, std::pair<int, int>>> instants{
        {"set", {10, 5}}, {"foot_plant", {50, 35}}, {"release", {70, 41}}};
    for (const auto& [position, frames] : instants) {
        slow.positions[position] = frames.first;
        fast.positions[position] = frames.second;
        QCOMPARE(report::matchingFrame(slow, frames.first, fast).has_value(),
                 slow.positions.size() >= 2);
    }
    for (const auto& [position, frames] : instants) {
        QCOMPARE(report::matchingFrame(slow, frames.first, fast), std::optional(frames.second));
        QCOMPARE(report::matchingFrame(fast, frames.second, slow), std::optional(frames.first));
    }
    QCOMPARE(report::matchingFrame(slow, 30, fast), std::optional(20));
    QCOMPARE(report::matchingFrame(slow, 60, fast), std::optional(38));
    QCOMPARE(report::matchingFrame(slow, 80, fast), std::optional(44)); // on as before
    QCOMPARE(report::matchingFrame(slow, 2, fast), std::optional(-1));  // before that film begins
    std::swap(fast.positions["set"], fast.positions["release"]);
    QVERIFY(!report::matchingFrame(slow, 30, fast));
    // And a stretch in which both move.
    const support::TestFilm& test = support::faulty();
    const model::Rep rep = support::trueRep(test.spec);
    ScriptStep both = runOver(rep.positions.at("stride"), rep.positions.at("release"), 0.25);
    both.besideRep = model::RepId(9);
    report::ReviewFilm film = filmOf(test, {both});
    film.beside.emplace(model::RepId(9), filmOf(support::rightHander(), {}).shown);
    report::ReviewPainter painter(film);
    const QImage first = painter.paint({both.first, 0});
    const QImage last = painter.paint({both.last, 0});
    const QRect left(0, first.height() / 8, first.width() / 2 - 4, first.height() / 2);
    QVERIFY(difference(first.copy(left), last.copy(left)) > 2.0);
    QVERIFY(difference(first.copy(left.translated(first.width() / 2 + 4, 0)),
                       last.copy(left.translated(first.width() / 2 + 4, 0))) > 2.0);
}

void TestReviewFilm::proposalFollowsTheFindings() {
    const support::TestFilm& test = support::faulty();
    const model::Rep rep = support::trueRep(test.spec);
    const technique::Circumstances c = support::openSide(test.spec);
    const auto readings = technique::evaluate(pack_, rep, c);
    const coaching::VisitReview visit = coaching::visitReviewOf(
        pack_, support::drills(), {{model::RepId(1), readings, {}, c.schools}}, {});
    const model::ReviewScript script = report::proposedScript(
        pack_, rep, c.time, readings, visit, {}, {model::RepId(5), "2026-10-17"_day});
    QVERIFY(script.size() >= 6);
    QVERIFY(script.front().kind == ScriptStep::Kind::run);
    QCOMPARE(script.front().speed, 1.0);
    int reached = 0;
    int praised = 0;
    int focus = 0;
    int beside = 0;
    int watched = 0;
    for (const ScriptStep& step : script) {
        const QString words = QString::fromStdString(step.caption);
        if (step.kind == ScriptStep::Kind::stop) {
            QVERIFY(step.first >= reached);
            reached = step.first;
            QCOMPARE(rep.positions.at(step.positionId), step.first);
            QVERIFY(!step.caption.empty());
            praised += words.startsWith("Good:") ? 1 : 0;
            watched += words.startsWith("Keep an eye on") ? 1 : 0;
            beside += step.besideRep == model::RepId(5) ? 1 : 0;
            if (words.startsWith("Work on this")) {
                ++focus;
                QVERIFY(words.contains("Back leg collapses"));
                QVERIFY(words.contains(QString::fromStdString(visit.plan.cueTexts.front())));
                // What is drawn is what is off.
                QCOMPARE(support::reading(readings, step.measureId).verdict,
                         model::Verdict::outside);
            }
        } else {
            QVERIFY(step.last >= step.first);
        }
    }
    QCOMPARE(focus, 1);
    QCOMPARE(beside, 1);
    QVERIFY(praised >= 1 && praised <= 2);
    QVERIFY(watched >= 1 && watched <= 2);
    QVERIFY(report::proposedScript(pack_, model::Rep(), c.time, {}, visit, {}, {}).empty());
    // It is short enough to be watched: under a minute.
    QVERIFY(report::timelineOf(script, c.time, 30.0).size() < 30 * 60);
}

/// From the landmarks of the key positions alone, the head of every frame of the rep is covered.
void TestReviewFilm::faceIsGoneEverywhere() {
    const support::TestFilm& test = support::faulty();
    const model::Rep truth = support::trueRep(test.spec);
    model::LandmarkTrack marked;
    int first = 1 << 30;
    int last = 0;
    for (const auto& [position, frame] : truth.positions) {
        marked[frame] = truth.landmarks.at(frame);
        first = std::min(first, frame);
        last = std::max(last, frame);
    }
    for (int frame = first; frame <= last; ++frame) {
        const auto region = report::headRegion(marked, frame);
        QVERIFY(region);
        const auto& head = truth.landmarks.at(frame).at(model::Landmark::head);
        const QPointF off = QPointF(head.px.x, head.px.y) - region->center();
        // The oval holds the head's middle with a face's half height to spare on all sides.
        const double half = region->width() / 2;
        QVERIFY2(
            std::hypot(off.x(), off.y()) < 0.45 * half,
            qPrintable(
                QString("%1: %2 of %3").arg(frame).arg(std::hypot(off.x(), off.y())).arg(half)));
    }
    const report::FrameImages images =
        report::filmImages(film::buildIndex(support::filmFile(test)));
    for (const int frame : {first, (first + last) / 2, last}) {
        QImage image = images(frame);
        const QImage before = image.copy();
        QVERIFY(report::blurFace(image, marked, frame));
        const QRect face = report::headRegion(marked, frame)->toAlignedRect();
        const QRect inner = face.adjusted(face.width() / 5, face.height() / 5, -face.width() / 5,
                                          -face.height() / 5);
        // What of the fine drawing is left: its likeness to that of before, of 1.
        QVERIFY2(likeness(before.copy(inner), image.copy(inner)) < 0.3,
                 qPrintable(QString::number(likeness(before.copy(inner), image.copy(inner)))));
        QVERIFY(likeness(before.copy(inner), before.copy(inner)) > 0.99);
        const QRect away(0, 0, image.width(), std::max(1, face.top() - 2));
        QVERIFY(difference(image.copy(away), before.copy(away)) < 1e-9);
    }
}

void TestReviewFilm::faceThatIsNotKnownIsNotShown() {
    QImage image(64, 48, QImage::Format_RGB32);
    image.fill(Qt::red);
    const QImage before = image.copy();
    QVERIFY(!report::blurFace(image, {}, 3));
    QCOMPARE(image, before);
    report::ReviewFilm film = filmOf(support::rightHander(), {stopAt(30, 1.0, "x")});
    film.shown.rep.landmarks.clear();
    const QImage shown = report::ReviewPainter(film).paint({30, 0});
    film.blurFaces = true;
    const QImage hidden = report::ReviewPainter(film).paint({30, 0});
    QVERIFY(difference(shown, hidden) > 10.0);
}

void TestReviewFilm::soundIsReadBack() {
    support::makeFilm(
        {"-f", "lavfi", "-i", "sine=frequency=500:sample_rate=44100:duration=2", "-ac", "2"},
        path("stereo.ogg").toStdString());
    const std::vector<float> samples = film::readSound(path("stereo.ogg").toStdString());
    QVERIFY(std::abs(static_cast<double>(samples.size()) / film::soundRate - 2.0) < 0.05);
    film::writeWav(samples, path("back.wav").toStdString());
    const std::vector<float> back = film::readSound(path("back.wav").toStdString());
    QCOMPARE(back.size(), samples.size());
    double most = 0.0;
    for (std::size_t i = 0; i < back.size(); ++i) {
        most = std::max(most, std::abs(static_cast<double>(back[i]) - samples[i]));
    }
    QVERIFY(most < 1e-4);
    QVERIFY_EXCEPTION_THROWN(film::readSound(path("none.wav").toStdString()), model::InputError);
    QVERIFY_EXCEPTION_THROWN(film::readSound(support::filmFile(support::rightHander())),
                             model::InputError);
}

QTEST_MAIN(TestReviewFilm)
#include "test_review_film.moc"
