#include "film/content_hash.h"
#include "model/input_error.h"
#include "records/clip_store.h"
#include "records/library.h"
#include "support/commands.h"
#include "support/day.h"
#include "support/test_films.h"
#include "words/words.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <QTemporaryDir>
#include <QTest>

#include <csignal>
#include <fstream>
#include <sys/wait.h>
#include <unistd.h>

using namespace kestrel;
using support::operator""_day;
namespace fs = std::filesystem;

namespace {

model::Player mika() {
    model::Player player;
    player.name = "Mika Sorrel";
    player.born = "2014-03-18"_day;
    player.hand = model::Hand::left;
    player.height = model::Metres(1.58);
    player.schools = {"drive", "fold"};
    player.consentGiven = "2026-09-01"_day;
    player.note = "Likes the “towel” drill";
    return player;
}

/// A player with a clip of a rep, all stored.
struct Stored {
    model::PlayerId player;
    model::ClipId clip;
    model::RepId rep;
};

Stored store(records::Library& library) {
    Stored s;
    s.player = library.save(mika());
    model::Clip clip;
    clip.playerId = s.player;
    clip.title = "Pitch 1";
    clip.sha256 = "abc";
    clip.fileName = "abc.mp4";
    clip.captureRate = 240.0;
    clip.view = model::View::openSide;
    clip.filmed = "2026-11-20"_day;
    s.clip = library.save(clip);
    model::Rep rep;
    rep.clipId = s.clip;
    rep.title = "Rep 1";
    rep.techniqueId = "overhand_pitch";
    s.rep = library.save(rep);
    return s;
}

} // namespace

/// The coach's record on disk.
class TestLibrary : public QObject {
    Q_OBJECT
  private slots:
    void everythingReadsBackAfterReopening();
    void whatWasHeardGoesWithThePair();
    void marksAreStoredOneByOne();
    void folderIsForItsOwnerOnly();
    void killedAtAnyMomentLosesAtMostTheLastAction();
    void togetherOrNotAtAll();
    void newerLibraryIsNotTouched();
    void unusableFolderIsAMessage();
    void filmIsCopiedUnderItsContent();
    void badFilmLeavesNothing();
    void cancelledCopyLeavesNothing();
    void strayFilesAreRemovedOnOpening();
    void removedPlayerIsGoneButOnlyWithoutClips();
    void removedClipTakesItsMarksAlong();
    void foreignKeysHold();
    void editionsSchoolsAndHeightsReadBack();
    void whatWasDecidedReadsBack();
    void decisionsFollowTheDayOfTheLastClip();
    void decisionsOfEarlierFormatsAreKept();
    void aBodyIsKeptWithItsRep();

  private:
    fs::path folder(const char* name) const {
        return fs::path(folder_.path().toStdString()) / name;
    }
    QTemporaryDir folder_;
};

/// What was heard holds for both films of a pair, the other way round, and goes with the pair.
void TestLibrary::whatWasHeardGoesWithThePair() {
    records::Library library(folder("pair"));
    const Stored s = store(library);
    model::Clip other = *library.clip(s.clip);
    other.id = {};
    other.sha256 = "def";
    other.fileName = "def.mp4";
    other.id = library.save(other);
    library.setSyncOffset(s.clip, model::SyncOffset{0.25, 0.001}); // no pair yet
    QVERIFY(!library.syncOffset(s.clip));
    library.setPair(s.clip, other.id);
    QVERIFY(!library.syncOffset(s.clip));
    library.setSyncOffset(s.clip, model::SyncOffset{0.25, 0.001});
    QCOMPARE(library.syncOffset(s.clip), std::optional(model::SyncOffset{0.25, 0.001}));
    QCOMPARE(library.syncOffset(other.id), std::optional(model::SyncOffset{-0.25, 0.001}));
    library.setSyncOffset(other.id, std::nullopt);
    QVERIFY(!library.syncOffset(s.clip));
    library.setSyncOffset(other.id, model::SyncOffset{1.0, 0.002});
    library.setPair(s.clip, std::nullopt);
    QVERIFY(!library.syncOffset(other.id));
}

void TestLibrary::everythingReadsBackAfterReopening() {
    Stored s;
    model::Rep rep;
    const model::GroundMarks ground{"rectangle",
                                    12,
                                    model::Metres(2.5),
                                    model::Metres(1.25),
                                    {{"rear_left", {10.5, 20.25}}, {"front_left", {30.0, 7.5}}},
                                    {{{1.0, 2.0}, {3.0, 2.5}, {5.25, 3.0}}, {{7.0, 8.0}}}};
    {
        records::Library library(folder("one"));
        s = store(library);
        rep = *library.rep(s.rep);
        rep.variant = "stretch";
        rep.positions = {{"set", 12}, {"release", 210}};
        rep.landmarks[12][model::Landmark::leftKnee] = {
            {100.25, 200.5}, 1.5, model::Source::placed, false};
        rep.landmarks[210][model::Landmark::head] = {{0, 0}, 1.5, model::Source::placed, true};
        rep.observations = {{"eyes_on_target", model::Seen::notVisible}};
        rep.bodyTurns = {{7, {-12.5, std::nullopt}}, {8, {3.25, 40.0}}};
        rep.nearerEnds = {{"foot_plant", {{model::BodyLine::hips, model::Side::right}}}};
        rep.limbFolds = {{"foot_plant", {{model::Landmark::leftKnee, model::LimbFold::through}}},
                         {"release", {{model::Landmark::rightElbow, model::LimbFold::together}}}};
        rep.counts = {{"ball_spin", 7.5}};
        library.save(rep);
        library.setSetting("station", "bench");
        model::Clip clip = *library.clip(s.clip);
        clip.ground = ground;
        clip.foundView = model::FoundView{model::View::rear, model::Degrees(-12.5)};
        library.save(clip);
    }
    records::Library library(folder("one"));
    QCOMPARE(library.clip(s.clip)->ground, std::optional(ground));
    QCOMPARE(library.clip(s.clip)->foundView,
             std::optional(model::FoundView{model::View::rear, model::Degrees(-12.5)}));
    QCOMPARE(library.clips(s.player).front().ground, std::optional(ground));
    model::Clip bare = *library.clip(s.clip);
    bare.ground.reset();
    bare.foundView.reset();
    library.save(bare);
    QVERIFY(!library.clip(s.clip)->ground);
    QVERIFY(!library.clip(s.clip)->foundView);
    model::Player player = mika();
    player.id = s.player;
    QCOMPARE(library.players(), std::vector{player});
    QCOMPARE(library.clips(s.player).size(), std::size_t{1});
    QCOMPARE(library.clip(s.clip)->captureRate, std::optional(240.0));
    QCOMPARE(library.clip(s.clip)->view, std::optional(model::View::openSide));
    QCOMPARE(*library.rep(s.rep), rep);
    QCOMPARE(library.setting("station"), std::string("bench"));
    QCOMPARE(library.setting("never set"), std::string());
}

void TestLibrary::marksAreStoredOneByOne() {
    records::Library library(folder("marks"));
    const Stored s = store(library);
    library.setPosition(s.rep, "set", 5);
    library.setPosition(s.rep, "set", 6);
    const model::LandmarkPoint point{{1.5, 2.5}, 1.5, model::Source::placed, false};
    library.setLandmark(s.rep, 6, model::Landmark::ball, point);
    library.setObservation(s.rep, "eyes_on_target", model::Seen::no);
    model::Rep rep = *library.rep(s.rep);
    QCOMPARE(rep.positions.at("set"), 6);
    QCOMPARE(rep.landmarks.at(6).at(model::Landmark::ball), point);
    QCOMPARE(rep.observations.at("eyes_on_target"), model::Seen::no);
    library.setPosition(s.rep, "set", std::nullopt);
    library.setLandmark(s.rep, 6, model::Landmark::ball, std::nullopt);
    library.setObservation(s.rep, "eyes_on_target", std::nullopt);
    rep = *library.rep(s.rep);
    QVERIFY(rep.positions.empty() && rep.landmarks.empty() && rep.observations.empty());
}

void TestLibrary::folderIsForItsOwnerOnly() {
    const records::Library library(folder("private"));
    for (const fs::path& path :
         {folder("private"), library.clipFolder(), folder("private") / "library.sqlite"}) {
        const auto others = fs::perms::group_all | fs::perms::others_all;
        QVERIFY2((fs::status(path).permissions() & others) == fs::perms::none, path.c_str());
    }
}

void TestLibrary::killedAtAnyMomentLosesAtMostTheLastAction() {
    // A child places one landmark after the other and says when each call has returned; killed at
    // some moment, everything it said is there, and the file is sound.
    for (int round = 0; round < 6; ++round) {
        const fs::path where = folder(("killed" + std::to_string(round)).c_str());
        Stored s;
        {
            records::Library library(where);
            s = store(library);
        }
        int pipeEnds[2];
        QVERIFY(::pipe(pipeEnds) == 0);
        const pid_t child = ::fork();
        if (child == 0) {
            records::Library library(where);
            for (int frame = 0;; ++frame) {
                library.setLandmark(s.rep, frame, model::Landmark::head,
                                    model::LandmarkPoint{{1.0 * frame, 2.0}});
                if (::write(pipeEnds[1], &frame, sizeof frame) != sizeof frame) {
                    ::_exit(1);
                }
            }
        }
        ::close(pipeEnds[1]);
        int last = -1;
        int frame = 0;
        const int stopAfter = 5 + 13 * round;
        while (last < stopAfter && ::read(pipeEnds[0], &frame, sizeof frame) == sizeof frame) {
            last = frame;
        }
        ::kill(child, SIGKILL);
        int status = 0;
        ::waitpid(child, &status, 0);
        while (::read(pipeEnds[0], &frame, sizeof frame) == sizeof frame) {
            last = frame; // said before it died
        }
        ::close(pipeEnds[0]);
        const records::Library library(where);
        const model::Rep rep = *library.rep(s.rep);
        for (int i = 0; i <= last; ++i) {
            QVERIFY(model::find(rep.landmarks, i, model::Landmark::head) != nullptr);
        }
        QVERIFY(static_cast<int>(rep.landmarks.size()) <= last + 2); // at most one more in flight
        SQLite::Database database((where / "library.sqlite").string());
        QCOMPARE(database.execAndGet("PRAGMA integrity_check").getString(), std::string("ok"));
    }
}

void TestLibrary::togetherOrNotAtAll() {
    records::Library library(folder("atomic"));
    try {
        library.atomically([&] {
            library.save(mika());
            throw std::runtime_error("no");
        });
        QFAIL("it went through");
    } catch (const std::runtime_error&) {
    }
    QVERIFY(library.players().empty());
    library.atomically([&] { library.save(mika()); });
    QCOMPARE(library.players().size(), std::size_t{1});
}

void TestLibrary::newerLibraryIsNotTouched() {
    { const records::Library library(folder("newer")); }
    const fs::path file = folder("newer") / "library.sqlite";
    {
        SQLite::Database database(file.string(), SQLite::OPEN_READWRITE);
        database.exec("PRAGMA user_version = 99");
    }
    try {
        const records::Library library(folder("newer"));
        QFAIL("it was opened");
    } catch (const model::InputError& error) {
        QVERIFY(words::plain(error.happened()).find("newer") != std::string::npos);
    }
    SQLite::Database database(file.string());
    QCOMPARE(database.execAndGet("PRAGMA user_version").getInt(), 99);
}

void TestLibrary::unusableFolderIsAMessage() {
    std::ofstream(folder("file")) << "in the way";
    QVERIFY_EXCEPTION_THROWN(records::Library(folder("file")), model::InputError);
    fs::create_directories(folder("garbage") / "clips");
    std::ofstream(folder("garbage") / "library.sqlite")
        << "this is no database, but long enough to be read as one";
    QVERIFY_EXCEPTION_THROWN(records::Library(folder("garbage")), model::InputError);
}

void TestLibrary::filmIsCopiedUnderItsContent() {
    records::Library library(folder("film"));
    const model::PlayerId player = library.save(mika());
    const fs::path film = support::filmFile(support::rightHander());
    const auto stored = records::storeFilm(film, library.clipFolder());
    QVERIFY(stored);
    QCOMPARE(stored->sha256, film::contentHash(film));
    const model::Clip clip =
        records::addClip(library, player, *stored, "Pitch 1", "overhand_pitch");
    QCOMPARE(film::contentHash(library.clipFile(clip)), stored->sha256);
    QCOMPARE(library.reps(clip.id).size(), std::size_t{1});
    // The same film again is the same clip.
    const auto again = records::storeFilm(film, library.clipFolder());
    QCOMPARE(records::addClip(library, player, *again, "Pitch 1 again", "overhand_pitch").id,
             clip.id);
    QCOMPARE(library.clips(player).size(), std::size_t{1});
}

void TestLibrary::badFilmLeavesNothing() {
    records::Library library(folder("bad"));
    std::ofstream(folder("words.mp4")) << "no film";
    QVERIFY_EXCEPTION_THROWN(records::storeFilm(folder("words.mp4"), library.clipFolder()),
                             model::InputError);
    QVERIFY(fs::is_empty(library.clipFolder()));
}

void TestLibrary::cancelledCopyLeavesNothing() {
    records::Library library(folder("cancelled"));
    int calls = 0;
    const auto stored =
        records::storeFilm(support::filmFile(support::rightHander()), library.clipFolder(),
                           [&](auto, auto) { return ++calls < 2; });
    QVERIFY(!stored);
    QVERIFY(fs::is_empty(library.clipFolder()));
}

void TestLibrary::strayFilesAreRemovedOnOpening() {
    {
        records::Library library(folder("stray"));
        const Stored s = store(library);
        (void)s;
        std::ofstream(library.clipFolder() / "abc.mp4") << "belongs to the clip";
        std::ofstream(library.clipFolder() / "xyz.part") << "half";
        std::ofstream(library.clipFolder() / "taken-back.mp4") << "of no clip";
    }
    const records::Library library(folder("stray"));
    QVERIFY(fs::exists(library.clipFolder() / "abc.mp4"));
    QVERIFY(!fs::exists(library.clipFolder() / "xyz.part"));
    QVERIFY(!fs::exists(library.clipFolder() / "taken-back.mp4"));
}

void TestLibrary::removedPlayerIsGoneButOnlyWithoutClips() {
    records::Library library(folder("remove"));
    const model::PlayerId alone = library.save(mika());
    library.removePlayer(alone);
    QVERIFY(!library.player(alone));
    const Stored s = store(library);
    QVERIFY_EXCEPTION_THROWN(library.removePlayer(s.player), std::logic_error);
    QVERIFY(library.player(s.player));
}

void TestLibrary::removedClipTakesItsMarksAlong() {
    records::Library library(folder("remove-clip"));
    const Stored s = store(library);
    library.setPosition(s.rep, "set", 3);
    library.removeClip(s.clip);
    QVERIFY(!library.clip(s.clip));
    QVERIFY(!library.rep(s.rep));
    SQLite::Database database((folder("remove-clip") / "library.sqlite").string());
    QCOMPARE(database.execAndGet("SELECT count(*) FROM position").getInt(), 0);
}

void TestLibrary::editionsSchoolsAndHeightsReadBack() {
    Stored s;
    model::EditionId edition;
    {
        records::Library library(folder("editions"));
        s = store(library);
        edition = library.keepEdition("overhand_pitch", "{\"text\": 1}");
        QCOMPARE(library.keepEdition("overhand_pitch", "{\"text\": 1}"), edition); // kept once
        QVERIFY(library.keepEdition("overhand_pitch", "{\"text\": 2}") != edition);
        library.setEdition(s.rep, edition);
        library.setSchools(s.rep, {"tall"});
        model::Clip clip = *library.clip(s.clip);
        clip.schools = {"drive", "fold"};
        library.save(clip);
        model::Player player = *library.player(s.player);
        player.sex = model::Sex::girl;
        library.save(player);
        library.setHeight(s.player, "2026-01-10"_day, model::Metres(1.51));
        library.setHeight(s.player, "2026-11-20"_day, model::Metres(1.58));
        library.setHeight(s.player, "2026-06-01"_day, model::Metres(1.55));
        library.setHeight(s.player, "2026-06-01"_day, std::nullopt);
    }
    records::Library library(folder("editions"));
    const model::Rep rep = *library.rep(s.rep);
    QCOMPARE(rep.packEdition, edition);
    QCOMPARE(library.edition(rep.packEdition), std::string("{\"text\": 1}"));
    QVERIFY(library.edition({}).empty());
    QCOMPARE(rep.schools, std::set<std::string>{"tall"});
    QCOMPARE(library.clip(s.clip)->schools, (std::set<std::string>{"drive", "fold"}));
    QCOMPARE(library.player(s.player)->sex, std::optional(model::Sex::girl));
    const auto heights = library.heights(s.player);
    QCOMPARE(heights.size(), std::size_t{2});
    QCOMPARE(heights.at("2026-11-20"_day).value, 1.58);
    library.save(rep); // saving the whole rep keeps both
    QCOMPARE(library.rep(s.rep)->schools, rep.schools);
    QCOMPARE(library.rep(s.rep)->packEdition, edition);
    library.setEdition(s.rep, {});
    QCOMPARE(library.rep(s.rep)->packEdition, model::EditionId());
}

void TestLibrary::foreignKeysHold() {
    records::Library library(folder("keys"));
    QVERIFY_EXCEPTION_THROWN(library.setPosition(model::RepId(4711), "set", 3), SQLite::Exception);
}

void TestLibrary::whatWasDecidedReadsBack() {
    Stored s;
    const model::PlanChoice choice{
        "late_arm",
        {"rhythm_throws", "freeze_at_plant"},
        "Well done",
        {{"runs_through", {true, "he slipped", false, false, "", ""}},
         {"late_arm", {false, "", true, true, "Hand late", "It hurts"}}}};
    model::PlanWish wish;
    wish.weekdays = {1, 4};
    wish.minutes = 12;
    wish.fieldDrills = false;
    wish.lacks = {"resistance band"};
    wish.nextVisit = "2026-12-18"_day;
    wish.throwsOn = {{6, 45}};
    wish.moved = {{"2026-12-03"_day, "2026-12-04"_day}};
    const model::Homework homework{
        {"2026-11-23"_day, "b_drill", 5, "3 sets of 6", model::Stage::learn, "2026-11-24"_day},
        {"2026-11-23"_day, "a_drill", 6, "10 throws", model::Stage::settle, {}},
        {"2026-11-26"_day, "a_drill", 6, "10 throws", model::Stage::play, {}}};
    model::ScriptStep stop;
    stop.first = 40;
    stop.seconds = 4.5;
    stop.caption = "Look & see";
    stop.positionId = "release";
    stop.measureId = "release_trunk_lean";
    stop.pointer = model::Point2{12.5, 90.25};
    stop.besideRep = model::RepId(3);
    stop.voice = "abc.wav";
    model::ScriptStep run;
    run.kind = model::ScriptStep::Kind::run;
    run.first = 10;
    run.last = 40;
    run.speed = 0.25;
    model::VisitKey visit;
    {
        records::Library library(folder("decided"));
        s = store(library);
        visit = {s.player, "2026-11-20"_day, "overhand_pitch"};
        QVERIFY(!library.planWish(visit));
        library.save(visit, choice);
        library.save(visit, std::optional(wish));
        library.save(visit, homework);
        library.save(s.rep, model::ReviewScript{run, stop});
    }
    records::Library library(folder("decided"));
    QCOMPARE(library.planChoice(visit), choice);
    QCOMPARE(*library.planWish(visit), wish);
    QCOMPARE(library.homework(visit), homework);
    QCOMPARE(library.reviewScript(s.rep), (model::ReviewScript{run, stop}));
    QCOMPARE(library.plannedVisits(s.player), std::vector{visit});
    const model::VisitKey other{s.player, "2026-11-21"_day, "overhand_pitch"};
    QCOMPARE(library.planChoice(other), model::PlanChoice());
    QVERIFY(library.homework(other).empty());
    library.save(visit, std::optional<model::PlanWish>());
    QVERIFY(!library.planWish(visit));
    QCOMPARE(library.planChoice(visit), choice); // the rest stays
    library.removeRep(s.rep);
    QVERIFY(library.reviewScript(s.rep).empty());
}

void TestLibrary::decisionsFollowTheDayOfTheLastClip() {
    records::Library library(folder("days"));
    const Stored s = store(library);
    model::Clip second = *library.clip(s.clip);
    second.id = {};
    second.sha256 = "def";
    second.fileName = "def.mp4";
    second.id = library.save(second);
    model::PlanChoice choice;
    choice.note = "kept";
    const model::VisitKey before{s.player, "2026-11-20"_day, "overhand_pitch"};
    const model::VisitKey after{s.player, "2026-11-19"_day, "overhand_pitch"};
    library.save(before, choice);
    model::Clip clip = *library.clip(s.clip);
    clip.filmed = "2026-11-19"_day;
    library.save(clip); // the other clip is still of that day
    QCOMPARE(library.planChoice(before), choice);
    QCOMPARE(library.planChoice(after), model::PlanChoice());
    second.filmed = "2026-11-19"_day;
    library.save(second);
    QCOMPARE(library.planChoice(before), model::PlanChoice());
    QCOMPARE(library.planChoice(after), choice);
}

/// Until format 8 a plan belonged to a rep; the newest of a day's becomes the visit's.
void TestLibrary::aBodyIsKeptWithItsRep() {
    records::Library library(folder("body"));
    const Stored s = store(library);
    QVERIFY(library.body(s.rep).key.empty());
    library.setBody(s.rep, {"of these landmarks", {1, 2, 3}});
    QCOMPARE(library.body(s.rep).key, std::string("of these landmarks"));
    QCOMPARE(library.body(s.rep).bytes, (std::vector<std::uint8_t>{1, 2, 3}));
    library.setBody(s.rep, {"of others", {}}); // which make none
    QCOMPARE(library.body(s.rep).key, std::string("of others"));
    QVERIFY(library.body(s.rep).bytes.empty());
    model::Rep marked = *library.rep(s.rep);
    marked.variant = "stretch";
    library.save(marked);
    QCOMPARE(library.body(s.rep).key, std::string("of others"));
    library.removeClip(s.clip);
    QVERIFY(library.body(s.rep).key.empty());
}

void TestLibrary::decisionsOfEarlierFormatsAreKept() {
    Stored s;
    const fs::path file = folder("old") / "library.sqlite";
    {
        records::Library library(folder("old"));
        s = store(library);
        model::Rep rep = *library.rep(s.rep);
        rep.id = {};
        library.save(rep);
    }
    {
        SQLite::Database database(file.string(), SQLite::OPEN_READWRITE);
        for (const char* table : {"homework", "visit_wish", "visit_finding", "visit_drill", "visit",
                                  "review_step", "limb_fold", "clip_ground_edge", "rep_body"}) {
            database.exec(std::string("DROP TABLE ") + table);
        }
        database.exec("CREATE TABLE plan_choice (rep_id INTEGER PRIMARY KEY REFERENCES rep(id) ON "
                      "DELETE CASCADE, focus TEXT NOT NULL DEFAULT '', note TEXT NOT NULL DEFAULT "
                      "'') STRICT");
        database.exec("CREATE TABLE plan_drill (rep_id INTEGER NOT NULL, place INTEGER NOT NULL, "
                      "drill TEXT NOT NULL, PRIMARY KEY (rep_id, place)) STRICT, WITHOUT ROWID");
        database.exec("INSERT INTO plan_choice VALUES (1, 'wide_set', 'older'), (2, 'late_arm', "
                      "'newer')");
        database.exec("INSERT INTO plan_drill VALUES (1, 0, 'old_drill'), (2, 0, 'first'), (2, 1, "
                      "'second')");
        database.exec("ALTER TABLE clip_pair DROP COLUMN heard_later");
        database.exec("ALTER TABLE clip_pair DROP COLUMN heard_sd");
        database.exec("ALTER TABLE clip DROP COLUMN found_view");
        database.exec("ALTER TABLE clip DROP COLUMN found_view_off");
        for (const char* column : {"inside_left", "inside_top", "inside_width", "inside_height",
                                   "repeated", "breaks", "graphics"}) {
            database.exec(std::string("ALTER TABLE clip_study DROP COLUMN ") + column);
        }
        database.exec("PRAGMA user_version = 8");
    }
    records::Library library(folder("old"));
    const model::PlanChoice choice =
        library.planChoice({s.player, "2026-11-20"_day, "overhand_pitch"});
    QCOMPARE(choice.focusFaultId, std::string("late_arm"));
    QCOMPARE(choice.note, std::string("newer"));
    QCOMPARE(choice.drillIds, (std::vector<std::string>{"first", "second"}));
    QVERIFY(fs::exists(folder("old") / "library.before-v9.sqlite"));
}

QTEST_GUILESS_MAIN(TestLibrary)
#include "test_library.moc"
