#include "prepare/circumstances.h"
#include "prepare/prepare_clip.h"
#include "prepare/second_view.h"
#include "records/clip_store.h"
#include "support/day.h"
#include "support/test_films.h"
#include "synth/film_edit.h"
#include "synth/placed_by_hand.h"
#include "track/files/evidence_file.h"
#include "words/words.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;
using support::operator""_day;

/// Clips prepared while nobody watches. The small network is used: how right landmarks are is the
/// business of other tests.
class TestPrepare : public QObject {
    Q_OBJECT
  private slots:
    void init();
    void theOtherFilmRunsAtItsCaptureRate();
    void anUnmarkedClipIsPrepared();
    void whatIsPreparedIsNotPreparedAgain();
    void takingBackLeavesTheClipAsItWas();
    void storedAgainItIsTheSame();
    void whatTheCoachMarkedMeanwhileStays();
    void markedRepsAreNoWork();
    void stoppingGivesNothing();
    void progressOnlyGrows();
    void severalRepsAreCut();

  private:
    /// The clip prepared. Every test begins with a library of its own that holds the same clip, so
    /// looking once is enough.
    prepare::PreparedClip prepared(const prepare::ClipWork& work) {
        if (!prepared_) {
            const auto watch = [this](double share) {
                progressGrew_ = progressGrew_ && share >= progress_ && share <= 1.0;
                progress_ = share;
                return true;
            };
            prepared_ = prepare::prepareClip(work, pack_, pose::poseDirectory(),
                                             pose::PoseSize::lite, {}, watch);
        }
        return prepared_.value();
    }
    [[nodiscard]] model::Rep rep() const { return library_->reps(clip_.id).front(); }

    const support::TestFilm& film_ = support::rightHander();
    const technique::Pack pack_ = support::pitchPack();
    const model::Rep truth_ = support::trueRep(film_.spec);
    std::optional<prepare::PreparedClip> prepared_;
    double progress_ = 0.0;
    bool progressGrew_ = true;
    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<records::Library> library_;
    model::Clip clip_;
};

void TestPrepare::init() {
    library_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    library_ = std::make_unique<records::Library>(folder_->filePath("library").toStdString());
    model::Player player;
    player.name = "Prepared Player";
    const model::PlayerId id = library_->save(player);
    const auto stored = records::storeFilm(support::filmFile(film_), library_->clipFolder());
    clip_ = records::addClip(*library_, id, *stored, "Pitch", pack_.id);
    clip_.view = model::View::openSide;
    library_->save(clip_);
}

void TestPrepare::theOtherFilmRunsAtItsCaptureRate() {
    // The same frames, stored to play at a quarter of the speed.
    film::FilmIndex slow = film::buildIndex(support::filmFile(film_));
    const double filmed = slow.duration().value;
    for (film::IndexedFrame& frame : slow.frames) {
        frame.pts *= 4;
    }
    slow.lastDuration *= 4;
    std::mt19937 exact;
    model::Clip clip;
    clip.captureRate = film_.spec.captureRate;
    clip.ground = synth::cones(synth::FilmScene(film_.spec), model::Metres(2.4), model::Metres(2.0),
                               -0.8, -1.0, 0.0, exact);
    const technique::Circumstances seen = prepare::circumstancesOf(
        pack_, {}, clip, truth_, slow, std::nullopt, model::Day("2026-11-23"_day));
    technique::Circumstances own;
    prepare::addSecondView(own, truth_, seen, std::nullopt);
    QVERIFY2(own.second != nullptr, words::plain(own.secondReason).c_str());
    const double interval = 1.0 / film_.spec.captureRate;
    QVERIFY(std::abs(own.second->frameSd - interval / std::sqrt(12.0)) < 1e-9);
    const std::vector<model::Seconds>& times = own.second->time.fieldTimes();
    QVERIFY(std::abs(times.back().value - times.front().value + interval - filmed) < 1e-6);
}

void TestPrepare::anUnmarkedClipIsPrepared() {
    const auto work = prepare::workOn(*library_, clip_);
    QVERIFY(work.has_value());
    auto done = prepared(*work);
    QVERIFY(!library_->study(clip_.id).has_value()); // nothing is stored yet
    prepare::store(*library_, done);
    QVERIFY(library_->study(clip_.id).has_value());
    QCOMPARE(library_->clip(clip_.id)->captureRate, std::optional(120.0)); // 120 a second: no doubt
    QVERIFY(!rep().span.has_value()); // a short film of one rep stays whole
    QVERIFY(track::evidenceFromBytes(library_->evidence(rep().id)).has_value());
    QVERIFY(rep().positions.empty()); // a proposal is not a mark of the coach's
    for (const char* id : {"foot_plant", "release", "hands_part"}) {
        QVERIFY2(rep().found.contains(id), id);
        const int miss = std::abs(rep().found.at(id).frame - truth_.positions.at(id));
        QVERIFY2(miss <= 6, qPrintable(QString("%1: %2 frames").arg(id).arg(miss)));
    }
    const model::Rep kept = rep();
    const auto* hip =
        model::find(kept.landmarks, truth_.positions.at("release"), model::Landmark::leftHip);
    QVERIFY(hip != nullptr && hip->source == model::Source::tracked);
}

void TestPrepare::whatIsPreparedIsNotPreparedAgain() {
    QCOMPARE(library_->clipsNotLookedAt(), std::vector{clip_.id});
    auto done = prepared(*prepare::workOn(*library_, clip_));
    prepare::store(*library_, done);
    QVERIFY(library_->clipsNotLookedAt().empty());
    QVERIFY(!prepare::workOn(*library_, clip_).has_value());
}

void TestPrepare::takingBackLeavesTheClipAsItWas() {
    const model::Rep before = rep();
    const auto work = prepare::workOn(*library_, clip_);
    auto done = prepared(*work);
    prepare::store(*library_, done);
    QVERIFY(rep() != before);
    prepare::takeBack(*library_, done, *work);
    QVERIFY(rep() == before);
    QVERIFY(library_->evidence(before.id).empty());
    QCOMPARE(library_->clipsNotLookedAt(), std::vector{clip_.id});
}

void TestPrepare::storedAgainItIsTheSame() {
    const auto work = prepare::workOn(*library_, clip_);
    auto done = prepared(*work);
    prepare::store(*library_, done);
    const auto once = library_->reps(clip_.id);
    prepare::takeBack(*library_, done, *work);
    prepare::store(*library_, done);
    QVERIFY(library_->reps(clip_.id) == once);
}

void TestPrepare::whatTheCoachMarkedMeanwhileStays() {
    auto done = prepared(*prepare::workOn(*library_, clip_));
    library_->setPosition(rep().id, "release", 5);
    const model::Rep marked = rep();
    const auto toWeigh = prepare::store(*library_, done);
    QVERIFY(rep() == marked);
    // What was seen is kept beside the marks, to be weighed against them.
    QVERIFY(!library_->evidence(marked.id).empty());
    QCOMPARE(toWeigh, std::vector<model::RepId>{marked.id});
}

void TestPrepare::markedRepsAreNoWork() {
    library_->setObservation(rep().id, pack_.observations.front().id, model::Seen::yes);
    QVERIFY(!prepare::workOn(*library_, clip_).has_value());
    QVERIFY(library_->clipsNotLookedAt().empty());
}

void TestPrepare::stoppingGivesNothing() {
    int calls = 0;
    const auto stopSoon = [&](double) { return ++calls < 30; };
    QVERIFY(!prepare::prepareClip(*prepare::workOn(*library_, clip_), pack_, pose::poseDirectory(),
                                  pose::PoseSize::lite, {}, stopSoon)
                 .has_value());
    QCOMPARE(calls, 30);
}

void TestPrepare::progressOnlyGrows() {
    prepared(*prepare::workOn(*library_, clip_));
    QVERIFY(progressGrew_);
    QVERIFY(progress_ > 0.99);
}

/// A film of two throws, after each of which the player walks off: that moves the picture, too, and
/// is no rep. Nobody has said from where it was taken.
void TestPrepare::severalRepsAreCut() {
    synth::FilmSpec throws = film_.spec;
    throws.captureRate = 30.0;
    throws.fileRate = {30, 1};
    synth::Reel reel{{throws, throws}, 0.5};
    const std::filesystem::path file = folder_->filePath("throws.mp4").toStdString();
    synth::renderReel(reel, file);
    const auto stored = records::storeFilm(file, library_->clipFolder());
    model::Clip clip = records::addClip(*library_, clip_.playerId, *stored, "Two throws", pack_.id);
    clip.captureRate = throws.captureRate; // a film of 30 a second could be slow motion
    library_->save(clip);

    const auto work = *prepare::workOn(*library_, clip);
    auto done = *prepare::prepareClip(work, pack_, pose::poseDirectory(), pose::PoseSize::lite, {});
    QCOMPARE(done.reps.size(), std::size_t{2});
    QVERIFY(!done.reps[0].isNew);
    QVERIFY(done.reps[1].isNew);
    QVERIFY(done.clip.foundView.has_value());
    QCOMPARE(done.clip.foundView->view, model::View::openSide);
    prepare::store(*library_, done);
    const auto reps = library_->reps(clip.id);
    QCOMPARE(reps.size(), std::size_t{2});
    const auto frames = synth::framesOfReps(reel);
    for (std::size_t i = 0; i < reps.size(); ++i) {
        const int release =
            frames[i].first + synth::truePositions(synth::FilmScene(throws)).at("release");
        QVERIFY(reps[i].span->first < release && release < reps[i].span->last);
        QVERIFY(reps[i].found.contains("release"));
        QVERIFY(std::abs(reps[i].found.at("release").frame - release) <= 2);
    }
    prepare::takeBack(*library_, done, work);
    QCOMPARE(library_->reps(clip.id).size(), std::size_t{1});
    prepare::store(*library_, done);
    QVERIFY(library_->reps(clip.id) == reps); // the new one has its old number again
    QCOMPARE(library_->clip(clip.id)->foundView, done.clip.foundView);
}

QTEST_APPLESS_MAIN(TestPrepare)
#include "test_prepare.moc"
