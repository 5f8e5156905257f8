#include "support/commands.h"
#include "support/test_films.h"
#include "synth/film_edit.h"
#include "synth/truth.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <fstream>
#include <map>
#include <set>
#include <tuple>

using namespace kestrel;
using nlohmann::json;

namespace {

support::Outcome cli(const QStringList& arguments) {
    return support::run(KESTREL_CLI, arguments);
}

QString filmOf(const support::TestFilm& film, const char* ending = ".mp4") {
    std::filesystem::path path = support::filmFile(film);
    return QString::fromStdString(path.replace_extension(ending).string());
}

QStringList repArguments(const char* command, const support::TestFilm& film) {
    return {command,  filmOf(film),
            "-l",     filmOf(film, ".landmarks.csv"),
            "-p",     filmOf(film, ".truth.json"),
            "--pack", "overhand_pitch",
            "--hand", QString::fromUtf8(name(film.spec.player.hand).data()),
            "--view", "open_side",
            "--age",  "12",
            "--json"};
}

json parsed(const support::Outcome& outcome) {
    return json::parse(outcome.out.toStdString());
}

} // namespace

/// The program without a window, run as a script runs it.
class TestCommandLine : public QObject {
    Q_OBJECT
  private slots:
    void probeSaysWhatTheFilmIs();
    void captureRateIsNotGuessed();
    void framesHashIsFfmpegs();
    void randomFramesHaveTheSameHashes();
    void framePictureIsWritten();
    void measureReadsTheTruth();
    void heightGivesMetres();
    void groundGivesMetres();
    void aSecondFilmInSlowMotionIsReadAtItsCaptureRate();
    void logsHaveNoProgressLines();
    void theDayCanBeSaid();
    void measureSaysWhyNot();
    void schoolsAreFollowed();
    void reviewWritesTheSheet();
    void positionsAreFoundAndFitOtherCommands();
    void aLibraryIsFilledAndPrepared();
    void aMistypedLibraryIsNotMade();
    void packsAreListedShownChecked();
    void badPackNamesThePlace();
    void badFilmIsExitOne_data();
    void badFilmIsExitOne();
    void wrongUseIsExitTwo_data();
    void wrongUseIsExitTwo();

  private:
    QString path(const char* name) const { return folder_.path() + "/" + name; }
    QTemporaryDir folder_;
};

void TestCommandLine::probeSaysWhatTheFilmIs() {
    const support::Outcome outcome = cli({"probe", filmOf(support::rightHander()), "--json"});
    QCOMPARE(outcome.exitCode, 0);
    const json j = parsed(outcome);
    for (const char* key : {"frames", "width", "height", "file_rate", "capture_rate", "duration_s",
                            "codec", "rotation", "variable_rate", "first_time_s"}) {
        QVERIFY2(j.contains(key), key);
    }
    QCOMPARE(j.at("frames").get<int>(), 361);
    QCOMPARE(j.at("capture_rate").get<double>(), 120.0);
    QVERIFY(cli({"probe", filmOf(support::rightHander())}).out.contains("frames: 361"));
}

void TestCommandLine::captureRateIsNotGuessed() {
    const QString file = path("thirty.mp4");
    support::makeFilm(
        {"-f", "lavfi", "-i", "testsrc2=size=64x48:rate=30:duration=1", "-c:v", "libx264"},
        file.toStdString());
    QVERIFY(parsed(cli({"probe", file, "--json"})).at("capture_rate").is_null());
    QCOMPARE(parsed(cli({"probe", file, "--json", "--capture-rate", "240"}))
                 .at("capture_rate")
                 .get<double>(),
             240.0);
}

void TestCommandLine::framesHashIsFfmpegs() {
    for (const support::TestFilm& film : support::allFilms()) {
        const auto expected = support::framehash(support::filmFile(film));
        const support::Outcome outcome = cli({"frames", filmOf(film), "--hash"});
        QCOMPARE(outcome.exitCode, 0);
        const QList<QByteArray> lines = outcome.out.trimmed().split('\n');
        QCOMPARE(lines.front(), QByteArray("index,time_s,md5"));
        QCOMPARE(static_cast<std::size_t>(lines.size()), expected.size() + 1);
        for (std::size_t i = 0; i < expected.size(); ++i) {
            QCOMPARE(lines[static_cast<int>(i) + 1].split(',')[2].toStdString(), expected[i]);
        }
    }
}

void TestCommandLine::randomFramesHaveTheSameHashes() {
    const auto expected = support::framehash(support::filmFile(support::rightHander()));
    const json rows = parsed(cli({"frames", filmOf(support::rightHander()), "--hash", "--random",
                                  "25", "--seed", "3", "--json"}));
    QCOMPARE(rows.size(), std::size_t{25});
    for (const json& row : rows) {
        QCOMPARE(row.at("md5").get<std::string>(), expected.at(row.at("index").get<std::size_t>()));
    }
}

void TestCommandLine::framePictureIsWritten() {
    QCOMPARE(
        cli({"frames", filmOf(support::rightHander()), "--png", "210", "-o", path("frame.png")})
            .exitCode,
        0);
    const support::Outcome probe =
        support::run("ffprobe", {"-v", "error", "-show_entries", "stream=width,height", "-of",
                                 "csv=p=0", path("frame.png")});
    QCOMPARE(probe.out.trimmed(), QByteArray("640,360"));
    QCOMPARE(cli({"frames", filmOf(support::rightHander()), "--png", "9999", "-o", path("no.png")})
                 .exitCode,
             2);
}

void TestCommandLine::measureReadsTheTruth() {
    const support::TestFilm& film = support::faulty();
    const support::Outcome outcome = cli(repArguments("measure", film));
    QCOMPARE(outcome.exitCode, 0);
    const json readings = parsed(outcome);
    const auto truth = synth::trueMeasures(synth::FilmScene(film.spec));
    int compared = 0;
    for (const json& r : readings) {
        for (const char* key :
             {"id", "position", "value", "unit", "u95", "verdict", "missing_reason"}) {
            QVERIFY2(r.contains(key), key);
        }
        const auto want = truth.find(r.at("id").get<std::string>());
        if (!r.at("value").is_null() && want != truth.end()) {
            ++compared;
            QVERIFY(std::abs(r.at("value").get<double>() - want->second) <=
                    r.at("u95").get<double>());
        }
    }
    QVERIFY(compared > 20);
}

void TestCommandLine::heightGivesMetres() {
    const synth::FilmSpec& spec = support::rightHander().spec;
    const synth::PlayerMotion motion(spec.player);
    const synth::Pose plant = motion.pose(motion.events().at("foot_plant"));
    const double stride =
        (plant.at(model::Landmark::leftAnkle) - plant.at(model::Landmark::rightAnkle)).norm();
    for (const json& r : parsed(cli(repArguments("measure", support::rightHander()) +
                                    QStringList{"--height-m", "1.58"}))) {
        QCOMPARE(r.at("value_m").is_null(), r.at("unit") != "BH" || r.at("value").is_null());
        if (r.at("id") == "plant_stride_length") {
            QVERIFY(std::abs(r.at("value_m").get<double>() - stride) < 0.05);
        }
    }
}

void TestCommandLine::groundGivesMetres() {
    const support::TestFilm& film = support::rightHander();
    const synth::FilmScene scene(film.spec);
    json marks{{"place", "rectangle"}, {"along_m", 2.4}, {"across_m", 2.0}, {"frame", 0}};
    const auto seen = [&](double x, double y) {
        const auto px = scene.steadyCamera().project({x, y, 0.0});
        return json{px->x, px->y};
    };
    marks["points"] = {{"rear_right", seen(-0.6, -1.0)},
                       {"rear_left", seen(-0.6, 1.0)},
                       {"front_left", seen(1.8, 1.0)},
                       {"front_right", seen(1.8, -1.0)}};
    std::ofstream(path("ground.json").toStdString()) << marks;
    QStringList arguments{"ground", filmOf(film), "--ground", path("ground.json"),
                          "--view", "open_side",  "--json",   "--between"};
    for (const double x : {0.0, 1.5}) {
        const auto px = scene.steadyCamera().project({x, 0.3, 0.0});
        arguments << QString::number(px->x, 'f', 3) << QString::number(px->y, 'f', 3);
    }
    const json camera = parsed(cli(arguments));
    QVERIFY(std::abs(camera.at("camera_height_m").get<double>() -
                     scene.steadyCamera().position.z()) < 0.15);
    QVERIFY(std::abs(camera.at("between_m").get<double>() - 1.5) < 0.02);
    QVERIFY(camera.at("between_u95_m").get<double>() < 0.2);

    // The stride in metres, against the feet in space.
    QStringList measure = repArguments("measure", film);
    measure << "--ground" << path("ground.json") << "--height-m"
            << "1.58";
    double stride = 0.0;
    double doubt = 0.0;
    for (const json& r : parsed(cli(measure))) {
        if (r.at("id") == "plant_stride_metres") {
            QVERIFY2(!r.at("value").is_null(), r.dump().c_str());
            QVERIFY(r.at("unit") == "m");
            stride = r.at("value").get<double>();
            doubt = r.at("u95").get<double>();
        }
    }
    const auto frames = synth::truePositions(scene);
    const synth::Pose set = scene.motion().pose(scene.frameTime(frames.at("set")));
    const synth::Pose plant = scene.motion().pose(scene.frameTime(frames.at("foot_plant")));
    using model::Landmark;
    const synth::Vector way = 0.5 * (plant.at(Landmark::leftHeel) + plant.at(Landmark::leftToe) -
                                     set.at(Landmark::rightHeel) - set.at(Landmark::rightToe));
    const double truth = std::hypot(way.x(), way.y());
    QVERIFY2(std::abs(stride - truth) <= doubt, qPrintable(QString::number(stride - truth)));

    // A file with a mistake names the place.
    marks["points"]["roof"] = {1, 2};
    std::ofstream(path("wrong.json").toStdString()) << marks;
    const auto wrong = cli({"ground", filmOf(film), "--ground", path("wrong.json")});
    QCOMPARE(wrong.exitCode, 1);
    QVERIFY2(wrong.err.contains("/points/roof"), wrong.err.constData());
}

void TestCommandLine::aSecondFilmInSlowMotionIsReadAtItsCaptureRate() {
    synth::FilmSpec front = support::rightHander().spec;
    front.camera.view = model::View::front;
    front.camera.heightM = 2.0;
    front.camera.distanceM = 9.0;
    const synth::FrameRenderer renderer(front);
    QVERIFY(synth::renderFilm(renderer, path("front.mp4").toStdString()));
    synth::writeTruth(renderer, path("front.mp4").toStdString());
    support::makeFilm({"-itsscale", "4", "-i", path("front.mp4"), "-c", "copy"},
                      path("slow.mp4").toStdString());
    const auto ground = [&](const synth::FilmSpec& spec, const char* name) {
        const synth::FilmScene scene(spec);
        json marks{{"place", "rectangle"}, {"along_m", 2.4}, {"across_m", 2.0}, {"frame", 0}};
        for (const auto& [id, x, y] : {std::tuple{"rear_right", -0.6, -1.0},
                                       {"rear_left", -0.6, 1.0},
                                       {"front_left", 1.8, 1.0},
                                       {"front_right", 1.8, -1.0}}) {
            const auto px = scene.steadyCamera().project({x, y, 0.0});
            marks["points"][id] = {px->x, px->y};
        }
        std::ofstream(path(name).toStdString()) << marks;
        return path(name);
    };
    QStringList first = repArguments("measure", support::rightHander());
    first << "--ground" << ground(support::rightHander().spec, "side.json") << "--second-landmarks"
          << path("front.landmarks.csv") << "--second-positions" << path("front.truth.json")
          << "--second-ground" << ground(front, "front.json");
    const auto readings = [&](const QStringList& more) {
        std::map<std::string, std::pair<double, double>> read; // value and u95
        for (const json& r : parsed(cli(first + more))) {
            if (!r.at("value").is_null()) {
                read[r.at("id")] = {r.at("value").get<double>(), r.at("u95").get<double>()};
            }
        }
        return read;
    };
    const auto real = readings({"--second", path("front.mp4")});
    const auto said = readings({"--second", path("slow.mp4"), "--second-capture-rate", "120"});
    QVERIFY(real.size() > 20);
    QCOMPARE(said.size(), real.size());
    for (const auto& [id, value] : real) {
        QVERIFY2(std::abs(said.at(id).first - value.first) < 1e-6 &&
                     std::abs(said.at(id).second - value.second) < 1e-6,
                 id.c_str());
    }
    // Both films say the positions here; tests/prepare holds how time runs in the second one.
}

void TestCommandLine::logsHaveNoProgressLines() {
    const support::Outcome made = cli({"demo", "render", "snap_shot", "--size", "96x64",
                                       "--capture-rate", "30", "-o", path("made.mp4")});
    QCOMPARE(made.exitCode, 0);
    QVERIFY2(!made.err.contains('\r') && made.err.count('\n') < 5, made.err.constData());
    const support::Outcome looked = cli({"pose", path("made.mp4"), "--frames", "0-2", "--box",
                                         "0,0,96,64", "-o", path("made.csv")});
    QVERIFY2(!looked.err.contains('\r'), looked.err.constData());
}

void TestCommandLine::theDayCanBeSaid() {
    const auto written = [&](const QStringList& before) {
        const QString folder = path("sheets");
        QDir(folder).removeRecursively();
        const support::Outcome outcome =
            cli(before + repArguments("review", support::faulty()) + QStringList{"-o", folder});
        QFile report(folder + "/coach-report.html");
        return outcome.exitCode == 0 && report.open(QIODevice::ReadOnly) ? report.readAll()
                                                                         : outcome.err;
    };
    QVERIFY(written({"--today", "2027-02-28"}).contains("28 February 2027") ||
            written({"--today", "2027-02-28"}).contains("28 Feb 2027"));
    QVERIFY(!written({}).contains("2027-02-28"));
    QCOMPARE(
        cli({"--today", "someday", "review", "x.mp4", "-l", "x.csv", "--hand", "right"}).exitCode,
        2);
}

void TestCommandLine::measureSaysWhyNot() {
    QStringList arguments = repArguments("measure", support::rightHander());
    arguments[arguments.indexOf("open_side")] = "front";
    for (const json& r : parsed(cli(arguments))) {
        QVERIFY(r.at("value").is_null() == !r.at("missing_reason").is_null());
        if (r.at("id") == "plant_lead_knee") {
            QVERIFY(r.at("missing_reason").get<std::string>().find("open side") !=
                    std::string::npos);
        }
    }
}

void TestCommandLine::schoolsAreFollowed() {
    const auto range = [](const QStringList& more) {
        for (const json& r : parsed(cli(repArguments("measure", support::rightHander()) + more))) {
            if (r.at("id") == "stride_head_drop") {
                return r.at("range").at(1).get<double>();
            }
        }
        return 0.0;
    };
    QCOMPARE(range({}), 0.06);
    QCOMPARE(range({"--school", "drive"}), 0.13);
}

void TestCommandLine::reviewWritesTheSheet() {
    const support::Outcome outcome = cli(
        repArguments("review", support::faulty()) +
        QStringList{"-o", path("out"), "--player", "Mika Sorrel", "--film", "--paper", "letter"});
    QCOMPARE(outcome.exitCode, 0);
    const json j = parsed(outcome);
    QCOMPARE(j.at("plan").at("focus").get<std::string>(), std::string("back_leg_collapse"));
    QCOMPARE(j.at("files").size(), std::size_t{5});
    for (const json& file : j.at("files")) {
        QVERIFY(QFile::exists(QString::fromStdString(file.get<std::string>())));
    }
    QVERIFY(support::run("pdfinfo", {path("out/coach-report.pdf")}).out.contains("letter"));
    QVERIFY(QFile::exists(path("out/review.srt")) && QFile::exists(path("out/review.vtt")));
    QFile pdf(path("out/take-home.pdf"));
    QVERIFY(pdf.open(QIODevice::ReadOnly));
    QVERIFY(pdf.readAll().startsWith("%PDF"));
    QFile html(path("out/take-home.html"));
    QVERIFY(html.open(QIODevice::ReadOnly));
    QVERIFY(html.readAll().contains("Mika Sorrel"));
}

void TestCommandLine::positionsAreFoundAndFitOtherCommands() {
    const support::TestFilm& film = support::rightHander();
    const QString landmarks = path("tracked.csv");
    QCOMPARE(cli({"track", filmOf(film), "-o", landmarks, "--model", "lite", "--view", "open_side"})
                 .exitCode,
             0);
    const QStringList rest{filmOf(film), "-l",     landmarks,   "--hand",
                           "right",      "--view", "open_side", "--json"};
    const support::Outcome found = cli(QStringList{"positions"} + rest);
    QCOMPARE(found.exitCode, 0);
    const json positions = parsed(found).at("positions");
    const auto truth = support::trueRep(film.spec).positions;
    for (const char* id : {"foot_plant", "release"}) {
        QVERIFY2(positions.contains(id), id);
        QCOMPARE(positions.at(id).at("source").get<std::string>(), std::string("found"));
        const int miss = std::abs(positions.at(id).at("frame").get<int>() - truth.at(id));
        QVERIFY2(miss <= 4, qPrintable(QString("%1: %2 frames").arg(id).arg(miss)));
        QVERIFY(positions.at(id).at("confidence").get<double>() > 0.5);
    }
    // Given to another command, the same positions count as said, and readings are surer.
    const QString file = path("positions.json");
    QFile out(file);
    QVERIFY(out.open(QIODevice::WriteOnly));
    out.write(found.out);
    out.close();
    const json unsure = parsed(cli(QStringList{"measure"} + rest));
    const json sure = parsed(cli(QStringList{"measure"} + rest + QStringList{"-p", file}));
    bool surer = false;
    for (std::size_t i = 0; i < sure.size(); ++i) {
        QVERIFY(sure[i].at("value") == unsure[i].at("value"));
        if (!sure[i].at("value").is_null()) {
            QVERIFY(sure[i].at("u95").get<double>() <= unsure[i].at("u95").get<double>());
            surer = surer || sure[i].at("u95").get<double>() < unsure[i].at("u95").get<double>();
        }
    }
    QVERIFY(surer);
}

void TestCommandLine::aLibraryIsFilledAndPrepared() {
    const QString library = path("library");
    const QString films = path("films");
    QVERIFY(QDir().mkpath(films));
    QVERIFY(QFile::copy(filmOf(support::rightHander()), films + "/pitch.mp4"));
    QFile words(films + "/read me.txt");
    QVERIFY(words.open(QIODevice::WriteOnly));
    words.write("no film");
    words.close();
    const QStringList add{"library",  "add",       library,  films,
                          "--player", "Sela Wren", "--view", "open_side"};
    const support::Outcome added = cli(add);
    QCOMPARE(added.exitCode, 1); // one of the files is no film, the other is in
    QVERIFY(added.err.contains("read me.txt"));
    QVERIFY(added.out.contains("Added: pitch"));
    const auto clip = [&] {
        const json players = parsed(cli({"library", "list", library, "--json"}));
        return players.at(0).at("clips").at(0);
    };
    const auto rep = [&] { return clip().at("reps").at(0); };
    QCOMPARE(rep().at("prepared").get<bool>(), false);
    QCOMPARE(clip().at("not_said").size(), std::size_t{1}); // the rate, which the file tells
    const support::Outcome prepared = cli({"library", "prepare", library, "--model", "lite"});
    QCOMPARE(prepared.exitCode, 0);
    QVERIFY(prepared.out.contains("Prepared: 1"));
    QCOMPARE(rep().at("prepared").get<bool>(), true);
    QCOMPARE(rep().at("positions_set").get<int>(), 0);
    QVERIFY(rep().at("positions_proposed").get<int>() >= 8);
    QVERIFY(clip().at("not_said").empty());
    QVERIFY(!cli({"library", "list", library}).out.contains("not said"));
    QVERIFY(cli({"library", "prepare", library}).out.contains("Prepared: 0"));
}

void TestCommandLine::aMistypedLibraryIsNotMade() {
    for (const char* command : {"list", "prepare"}) {
        const support::Outcome outcome = cli({"library", command, path("nowhere")});
        QCOMPARE(outcome.exitCode, 1);
        QVERIFY(outcome.err.contains("nowhere"));
        QVERIFY(!QDir(path("nowhere")).exists());
    }
}

void TestCommandLine::packsAreListedShownChecked() {
    std::set<std::string> ids;
    for (const json& pack : parsed(cli({"packs", "list", "--json"}))) {
        ids.insert(pack.at("id").get<std::string>());
    }
    for (const char* id : {"overhand_pitch", "bat_swing", "tennis_serve", "jump_shot"}) {
        QVERIFY2(ids.contains(id), id);
    }
    QVERIFY(parsed(cli({"packs", "show", "overhand_pitch", "--json"})).at("measures").size() > 20);
    QCOMPARE(cli({"packs", "check"}).exitCode, 0);
    QVERIFY(cli({"packs", "show", "overhand_pitch"}).out.contains("Foot plant"));
}

void TestCommandLine::badPackNamesThePlace() {
    std::ifstream in(std::filesystem::path(KESTREL_PACKS) / "techniques" / "overhand_pitch.json");
    json pack = json::parse(in);
    pack["measures"][3]["kind"] = "vibe";
    std::ofstream(path("own.json").toStdString()) << pack.dump();
    const support::Outcome outcome = cli({"packs", "check", path("own.json")});
    QCOMPARE(outcome.exitCode, 1);
    QVERIFY(outcome.err.contains("own.json, /measures/3/kind"));
}

void TestCommandLine::badFilmIsExitOne_data() {
    QTest::addColumn<QString>("file");
    std::ofstream(path("empty.mp4").toStdString()).close();
    std::ofstream(path("words.mp4").toStdString()) << "no film";
    QTest::newRow("empty") << path("empty.mp4");
    QTest::newRow("words") << path("words.mp4");
    QTest::newRow("missing") << path("nowhere.mp4");
}

void TestCommandLine::badFilmIsExitOne() {
    QFETCH(QString, file);
    for (const QStringList& command :
         {QStringList{"probe", file}, QStringList{"frames", file, "--hash"}}) {
        const support::Outcome outcome = cli(command);
        QCOMPARE(outcome.exitCode, 1);
        QVERIFY(outcome.out.isEmpty());
        QVERIFY(outcome.err.contains(QFileInfo(file).fileName().toUtf8()));
    }
}

void TestCommandLine::wrongUseIsExitTwo_data() {
    QTest::addColumn<QStringList>("arguments");
    QTest::newRow("nothing") << QStringList{};
    QTest::newRow("unknown command") << QStringList{"fly"};
    QTest::newRow("missing file") << QStringList{"probe"};
    QTest::newRow("unknown pack") << QStringList{"packs", "show", "curling"};
    QTest::newRow("unknown hand") << QStringList{"measure", "x", "-l",     "y",
                                                 "-p",      "z", "--hand", "third"};
    QTest::newRow("unknown school")
        << repArguments("measure", support::rightHander()) + QStringList{"--school", "night"};
    QTest::newRow("odd observation") << repArguments("measure", support::rightHander()) +
                                            QStringList{"--observation", "eyes_on_target=maybe"};
    QTest::newRow("unknown demo film") << QStringList{"demo", "films", "/tmp", "--film", "nobody"};
}

void TestCommandLine::wrongUseIsExitTwo() {
    QFETCH(QStringList, arguments);
    const support::Outcome outcome = cli(arguments);
    QCOMPARE(outcome.exitCode, 2);
    QVERIFY(!outcome.err.isEmpty() || !outcome.out.isEmpty());
}

QTEST_GUILESS_MAIN(TestCommandLine)
#include "test_command_line.moc"
