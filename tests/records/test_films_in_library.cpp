#include "film/content_hash.h"
#include "film/frame_hash.h"
#include "film/frame_reader.h"
#include "model/input_error.h"
#include "records/clip_store.h"
#include "records/library.h"
#include "support/commands.h"
#include "support/film_corpus.h"
#include "support/test_films.h"
#include "words/words.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <fstream>

using namespace kestrel;
namespace fs = std::filesystem;

namespace {

/// The tables of the first released format that the second one changes, as they were.
constexpr const char* firstFormat = R"sql(
CREATE TABLE player (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(name) > 0),
    born TEXT NOT NULL DEFAULT '',
    hand TEXT NOT NULL CHECK (hand IN ('right', 'left')),
    height_m REAL,
    consent_given TEXT NOT NULL DEFAULT '',
    note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE TABLE player_school (
    player_id INTEGER NOT NULL REFERENCES player(id) ON DELETE CASCADE,
    school TEXT NOT NULL,
    PRIMARY KEY (player_id, school)
) STRICT, WITHOUT ROWID;
CREATE TABLE clip (
    id INTEGER PRIMARY KEY,
    player_id INTEGER NOT NULL REFERENCES player(id) ON DELETE CASCADE,
    title TEXT NOT NULL,
    sha256 TEXT NOT NULL,
    file_name TEXT NOT NULL,
    filmed TEXT NOT NULL DEFAULT '',
    capture_rate REAL,
    view TEXT,
    UNIQUE (player_id, sha256)
) STRICT;
CREATE TABLE rep (
    id INTEGER PRIMARY KEY,
    clip_id INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
    title TEXT NOT NULL,
    technique TEXT NOT NULL,
    variant TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX rep_by_clip ON rep(clip_id);
CREATE TABLE position (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    position TEXT NOT NULL,
    frame INTEGER NOT NULL CHECK (frame >= 0),
    PRIMARY KEY (rep_id, position)
) STRICT, WITHOUT ROWID;
CREATE TABLE landmark (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    frame INTEGER NOT NULL CHECK (frame >= 0),
    landmark TEXT NOT NULL,
    x_px REAL NOT NULL,
    y_px REAL NOT NULL,
    sd_px REAL NOT NULL,
    source TEXT NOT NULL,
    hidden INTEGER NOT NULL CHECK (hidden IN (0, 1)),
    PRIMARY KEY (rep_id, frame, landmark)
) STRICT, WITHOUT ROWID;
CREATE TABLE observation (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    observation TEXT NOT NULL,
    seen TEXT NOT NULL,
    PRIMARY KEY (rep_id, observation)
) STRICT, WITHOUT ROWID;
CREATE TABLE plan_choice (
    rep_id INTEGER PRIMARY KEY REFERENCES rep(id) ON DELETE CASCADE,
    focus TEXT NOT NULL DEFAULT '',
    note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE TABLE plan_drill (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    place INTEGER NOT NULL,
    drill TEXT NOT NULL,
    PRIMARY KEY (rep_id, place)
) STRICT, WITHOUT ROWID;
CREATE TABLE setting (
    name TEXT PRIMARY KEY,
    value TEXT NOT NULL
) STRICT, WITHOUT ROWID;
)sql";

} // namespace

/// Films in the library: what was found out about them, and films that were moved or changed.
class TestFilmsInLibrary : public QObject {
    Q_OBJECT
  private slots:
    void studyIsKept();
    void speedsAndSpansAreKept();
    void repsFollowEachOther();
    void firstFormatIsBroughtAlong();
    void filmIsLookedAtQuicklyWhenUntouched();
    void changedFilmIsNoticed();
    void movedFilmIsFoundByItsContent();
    void otherFilmIsRefused();
    void numberedPicturesBecomeOneFilm();

  private:
    fs::path in(const char* name) const { return fs::path(folder_.path().toStdString()) / name; }
    model::Clip clipIn(records::Library& library, const fs::path& film) const {
        model::Player player;
        player.name = "Mika Sorrel";
        const model::PlayerId id = library.save(player);
        const auto stored = records::storeFilm(film, library.clipFolder());
        return records::addClip(library, id, *stored, "Pitch 1", "overhand_pitch");
    }
    QTemporaryDir folder_;
};

void TestFilmsInLibrary::studyIsKept() {
    records::Library library(in("study"));
    const model::Clip clip = clipIn(library, support::filmFile(support::rightHander()));
    QVERIFY(!library.study(clip.id));
    model::FilmStudy study;
    study.energy = {0.0F, 1.5F, 22.25F};
    study.brightness = 0.42;
    study.tooBright = 0.01;
    study.tooDark = 0.02;
    study.mover = model::PixelBox{10.0, 20.0, 30.0, 40.5};
    study.breaks = {{model::FilmBreak::Kind::cut, {4, 5}},
                    {model::FilmBreak::Kind::still, {8, 30}}};
    study.graphics = {{{1.0, 2.0, 3.5, 4.0}, {7, 9}}};
    study.insideBars = model::PixelBox{5.0, 0.0, 50.0, 60.0};
    study.repeated = 0.5;
    study.camera = {{}, {1.0, 0.001, 2.5, -1.0, 0.2}, {0.99, -0.002, 5.0, 1.0, 0.3}};
    library.save(clip.id, study);
    QCOMPARE(library.study(clip.id), std::optional(study));
    study.mover.reset();
    study.camera.clear();
    library.save(clip.id, study);
    QCOMPARE(library.study(clip.id), std::optional(study));
    library.removeStudy(clip.id);
    QVERIFY(!library.study(clip.id));
}

void TestFilmsInLibrary::speedsAndSpansAreKept() {
    records::Library library(in("spans"));
    model::Clip clip = clipIn(library, support::filmFile(support::rightHander()));
    QVERIFY(!clip.broughtFrom.empty());
    clip.speeds = {{0, 1.0}, {40, 8.0}, {200, 1.0}};
    clip.asFields = true;
    clip.steadied = true;
    library.save(clip);
    QCOMPARE(library.clip(clip.id), std::optional(clip));
    clip.speeds = {{0, 4.0}};
    library.save(clip);
    QCOMPARE(library.clip(clip.id), std::optional(clip));

    model::Rep rep = library.reps(clip.id).front();
    rep.span = model::FrameSpan{12, 340};
    rep.shotType = "breaking";
    rep.result = "Strike, “low” and away";
    library.save(rep);
    QCOMPARE(library.rep(rep.id), std::optional(rep));
    rep.span.reset();
    library.save(rep);
    QCOMPARE(library.rep(rep.id), std::optional(rep));
    rep.span = model::FrameSpan{20, 10};
    QVERIFY_EXCEPTION_THROWN(library.save(rep), SQLite::Exception);
}

void TestFilmsInLibrary::repsFollowEachOther() {
    records::Library library(in("order"));
    const model::Clip clip = clipIn(library, support::filmFile(support::rightHander()));
    model::Rep first = library.reps(clip.id).front();
    first.span = model::FrameSpan{200, 300};
    library.save(first);
    model::Rep earlier;
    earlier.clipId = clip.id;
    earlier.title = "Rep 2";
    earlier.techniqueId = "overhand_pitch";
    earlier.span = model::FrameSpan{10, 150};
    earlier.id = library.save(earlier);
    const auto reps = library.reps(clip.id);
    QCOMPARE(reps.size(), 2U);
    QCOMPARE(reps[0].id, earlier.id);
    library.removeRep(earlier.id);
    QCOMPARE(library.reps(clip.id).size(), 1U);
}

void TestFilmsInLibrary::firstFormatIsBroughtAlong() {
    fs::create_directories(in("old"));
    {
        SQLite::Database database((in("old") / "library.sqlite").string(),
                                  SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        database.exec(firstFormat);
        database.exec("PRAGMA user_version = 1");
        database.exec("INSERT INTO player (id, name, hand) VALUES (1, 'Juno Tarn', 'left')");
        database.exec(
            "INSERT INTO clip VALUES (7, 1, 'Pitch', 'abc', 'abc.mp4', '2026-05-01', 240, "
            "'open_side')");
        database.exec("INSERT INTO rep VALUES (9, 7, 'Rep 1', 'overhand_pitch', 'windup')");
        database.exec("INSERT INTO position VALUES (9, 'release', 210)");
    }
    records::Library library(in("old"));
    const model::Rep rep = library.reps(model::ClipId(7)).front();
    QCOMPARE(rep.positions.at("release"), 210);
    QCOMPARE(rep.variant, std::string("windup"));
    QVERIFY(!rep.span);
    QCOMPARE(library.clip(model::ClipId(7))->captureRate, std::optional(240.0));
    QVERIFY(!library.clip(model::ClipId(7))->asFields);
    // What was there before stays beside it.
    SQLite::Database backup((in("old") / "library.before-v2.sqlite").string());
    QCOMPARE(backup.execAndGet("SELECT frame FROM position").getInt(), 210);
    QCOMPARE(backup.execAndGet("PRAGMA user_version").getInt(), 1);
}

void TestFilmsInLibrary::filmIsLookedAtQuicklyWhenUntouched() {
    records::Library library(in("look"));
    const model::Clip clip = clipIn(library, support::filmFile(support::rightHander()));
    const fs::path file = library.clipFile(clip);
    const auto stamp = library.stamp(clip.fileName);
    QVERIFY(stamp);
    const auto look = records::lookAtFilm(file, clip, stamp);
    QCOMPARE(look.state, records::FilmState::present);
    QVERIFY(look.stamp == *stamp);
    // Touched, but with the same content: present still.
    fs::last_write_time(file, fs::last_write_time(file) + std::chrono::hours(1));
    const auto touched = records::lookAtFilm(file, clip, stamp);
    QCOMPARE(touched.state, records::FilmState::present);
    QVERIFY(touched.stamp != *stamp);
}

void TestFilmsInLibrary::changedFilmIsNoticed() {
    records::Library library(in("changed"));
    const model::Clip clip = clipIn(library, support::filmFile(support::rightHander()));
    const fs::path file = library.clipFile(clip);
    fs::permissions(file, fs::perms::owner_write, fs::perm_options::add);
    {
        std::fstream bytes(file, std::ios::binary | std::ios::in | std::ios::out);
        bytes.seekp(5000);
        bytes << "someone was here";
    }
    fs::last_write_time(file, fs::last_write_time(file) + std::chrono::seconds(2));
    QCOMPARE(records::lookAtFilm(file, clip, library.stamp(clip.fileName)).state,
             records::FilmState::changed);
    fs::remove(file);
    QCOMPARE(records::lookAtFilm(file, clip, library.stamp(clip.fileName)).state,
             records::FilmState::missing);
}

void TestFilmsInLibrary::movedFilmIsFoundByItsContent() {
    records::Library library(in("moved"));
    const fs::path original = in("original.mp4");
    fs::copy_file(support::filmFile(support::rightHander()), original);
    const model::Clip clip = clipIn(library, original);
    const auto bytes = library.stamp(clip.fileName)->bytes;
    fs::remove(library.clipFile(clip));
    // Still where it was brought in from.
    QCOMPARE(records::findFilm(clip, bytes, {}), std::optional(original));
    // Moved and renamed, between others of the same length and of other lengths.
    fs::create_directories(in("disk") / "season" / "may");
    const fs::path now = in("disk") / "season" / "may" / "IMG_0042.MOV";
    fs::rename(original, now);
    std::ofstream(in("disk") / "season" / "same-length.mp4")
        << std::string(static_cast<std::size_t>(bytes), 'x');
    std::ofstream(in("disk") / "short.mp4") << "short";
    QVERIFY(!records::findFilm(clip, bytes, in("disk") / "nowhere"));
    QCOMPARE(records::findFilm(clip, bytes, in("disk")), std::optional(now));
    QVERIFY(records::restoreFilm(now, clip, library.clipFolder()));
    QCOMPARE(records::lookAtFilm(library.clipFile(clip), clip, std::nullopt).state,
             records::FilmState::present);
    QCOMPARE(film::contentHash(library.clipFile(clip)), clip.sha256);
}

void TestFilmsInLibrary::otherFilmIsRefused() {
    records::Library library(in("other"));
    const model::Clip clip = clipIn(library, support::filmFile(support::rightHander()));
    fs::remove(library.clipFile(clip));
    try {
        records::restoreFilm(support::filmFile(support::leftHander()), clip, library.clipFolder());
        QFAIL("it was taken");
    } catch (const model::InputError& error) {
        QVERIFY(words::plain(error.happened()).find("another film") != std::string::npos);
    }
    QVERIFY(fs::is_empty(library.clipFolder()));
}

void TestFilmsInLibrary::numberedPicturesBecomeOneFilm() {
    const auto corpus = support::filmCorpus();
    const auto kind = *std::find_if(corpus.begin(), corpus.end(), [](const auto& film) {
        return film.name == "numbered jpeg from 1175";
    });
    const fs::path first = support::madeFilm(kind, folder_.path().toStdString());
    records::Library library(in("pictures"));
    const model::Clip clip = clipIn(library, first);
    const film::FilmIndex index = film::buildIndex(library.clipFile(clip));
    const auto expected = support::corpusHashes(kind, folder_.path().toStdString());
    QCOMPARE(static_cast<std::size_t>(index.frameCount()), expected.size());
    film::FrameReader reader(index);
    for (int frame = index.frameCount() - 1; frame >= 0; --frame) {
        QCOMPARE(film::frameHash(reader.read(frame)), expected[static_cast<std::size_t>(frame)]);
    }
    // The same pictures again are the same film.
    const auto again = records::storeFilm(first, library.clipFolder());
    QCOMPARE(again->sha256, clip.sha256);
}

QTEST_GUILESS_MAIN(TestFilmsInLibrary)
#include "test_films_in_library.moc"
