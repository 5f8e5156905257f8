#include "cli/commands.h"
#include "cli/output.h"
#include "cli/progress_line.h"
#include "report/picture_image.h"
#include "scenario/scenario.h"
#include "study/body_study.h"
#include "study/dial_study.h"
#include "study/messy_study.h"
#include "study/motion_study.h"
#include "study/position_lessons.h"
#include "study/position_study.h"
#include "study/tracking_page.h"
#include "synth/contact_sheet.h"
#include "synth/film_edit.h"
#include "synth/outfits.h"
#include "synth/truth.h"
#include "technique/pack/pack.h"
#include "technique/pack/pack_directory.h"

#include <cstdio>
#include <iostream>
#include <memory>

namespace kestrel::cli {
namespace {

struct FilmsOptions {
    std::string folder;
    std::string stem;
    bool json = false;
};

struct AccuracyOptions {
    std::vector<std::string> films;
    std::string size = "heavy";
};

void studyAccuracy(const AccuracyOptions& o) {
    const pose::PoseSize size = *pose::poseSizeFromName(o.size);
    std::vector<study::TrackingResult> results;
    for (const std::string& film : o.films) {
        std::cerr << film << '\n';
        results.push_back(study::studyTracking(film, size));
    }
    std::cout << study::trackingPage(results, size);
}

struct BodyAccuracyOptions {
    std::uint32_t firstSeed = study::firstMeasuringSeed;
    int films = 6;
    std::string landmarks;        ///< only such; empty: all
    std::filesystem::path folder; ///< of rendered films
};

void studyBodies(const BodyAccuracyOptions& o) {
    std::vector<study::BodyFilm> films;
    for (const auto& [landmarks, around] : study::allBodyConditions()) {
        // Films that are rendered take half a minute each, so they are measured when asked for.
        const bool wanted = o.landmarks.empty() ? !study::isOfRenderedFilm(landmarks)
                                                : study::name(landmarks) == o.landmarks;
        if (!wanted) {
            continue;
        }
        for (int i = 0; i < o.films; ++i) {
            films.push_back(study::studyBody(o.firstSeed + static_cast<std::uint32_t>(i), around,
                                             landmarks, o.folder));
            std::cerr << study::name(landmarks) << ", " << study::name(around) << ": "
                      << films.back().technique << '\n';
        }
    }
    std::cout << study::bodyPage(films, o.firstSeed);
}

struct FilmAccuracyOptions {
    std::uint32_t firstSeed = 1100; ///< nothing was set on these and those after
    int films = 4;
    std::filesystem::path folder = std::filesystem::temp_directory_path() / "kestrel-messy-films";
};

void studyFilms(const FilmAccuracyOptions& o) {
    std::filesystem::create_directories(o.folder);
    const std::uint32_t last = o.firstSeed + static_cast<std::uint32_t>(o.films) - 1;
    ProgressLine line;
    std::cout << study::messyPage(o.firstSeed, last, o.folder, [&](int done, int all) {
        line.show("film " + std::to_string(done) + " of " + std::to_string(all));
    });
}

struct PositionAccuracyOptions {
    std::uint32_t firstSeed = study::firstMeasuringSeed;
    int players = 12;
};

void studyPositions(const PositionAccuracyOptions& o) {
    const std::uint32_t last = o.firstSeed + static_cast<std::uint32_t>(o.players) - 1;
    ProgressLine line;
    std::cout << study::positionPage(technique::loadPacks(technique::packDirectory()), o.firstSeed,
                                     last, [&](int done, int all) {
                                         line.show("player and place " + std::to_string(done) +
                                                   " of " + std::to_string(all));
                                     });
}

struct LessonOptions {
    std::filesystem::path folder;
    int players = 100;
    std::uint32_t seed = study::firstLesson;
};

void writeLessons(const LessonOptions& o) {
    ProgressLine line;
    study::writeLessons(technique::loadPacks(technique::packDirectory()), o.seed, o.players,
                        o.folder, [&](int done, int all) {
                            line.show("player " + std::to_string(done) + " of " +
                                      std::to_string(all));
                        });
}

void studyMotion(int draws) {
    const auto packs = technique::loadPacks(technique::packDirectory());
    const auto measures = study::studyMeasures(packs, draws);
    std::vector<study::SequenceStudy> sequences;
    for (const double rate : {30.0, 60.0, 120.0, 240.0}) {
        sequences.push_back(study::studySequence(packs, rate, draws));
    }
    std::cout << study::motionPage(measures, sequences, draws);
}

synth::FrameProgress counting(const std::string& what) {
    return [what, line = std::make_shared<ProgressLine>()](int done, int all) {
        line->show(what + ": frame " + std::to_string(done) + " of " + std::to_string(all));
        return true;
    };
}

void films(const FilmsOptions& o) {
    nlohmann::json made = nlohmann::json::array();
    bool known = o.stem.empty();
    for (const scenario::ScenarioPlayer& player : scenario::scenario()) {
        for (const scenario::ScenarioFilm& film : player.films) {
            if (!o.stem.empty() && film.fileStem != o.stem) {
                continue;
            }
            known = true;
            scenario::makeFilm(film, o.folder, counting(film.fileStem));
            const std::filesystem::path file =
                std::filesystem::path(o.folder) / (film.fileStem + ".mp4");
            made.push_back({{"film", file.string()}, {"title", film.title}});
        }
    }
    if (!known) {
        throw WrongUse("The demo has no film “" + o.stem + "”.");
    }
    if (o.json) {
        printJson(made);
    }
}

/// What a player and a film may be told on the command line.
struct RenderOptions {
    std::string out;
    std::string hand = "right";
    std::string band = "adult";
    std::string sex = "male";
    std::string view = "open_side";
    std::string size = "1280x720";
    double fileRate = 0.0; ///< 0 for the capture rate
    std::vector<std::string> dials;
    synth::FilmSpec film;
    double fromS = 0.0;
    double toS = 0.0;
    CLI::Option* from = nullptr;
    CLI::Option* to = nullptr;
    bool json = false;
};

template <class Value> Value understood(std::optional<Value> value, const std::string& text) {
    if (!value) {
        throw WrongUse("“" + text + "” is not known here; --help tells what is.");
    }
    return *value;
}

void takeDials(const std::vector<std::string>& from, std::map<std::string, double>& into) {
    for (const std::string& text : from) {
        const auto equals = text.find('=');
        try {
            into[text.substr(0, equals)] = std::stod(text.substr(equals + 1));
        } catch (const std::exception&) {
            throw WrongUse("A dial is written as name=amount, not “" + text + "”.");
        }
    }
}

synth::FilmSpec filmOf(const RenderOptions& o) {
    synth::FilmSpec film = o.film;
    film.player.hand = understood(model::handFromName(o.hand), o.hand);
    film.player.build.band = understood(synth::ageBandFromName(o.band), o.band);
    film.player.build.sex = understood(synth::sexFromName(o.sex), o.sex);
    film.camera.view = understood(model::viewFromName(o.view), o.view);
    if (std::sscanf(o.size.c_str(), "%dx%d", &film.width, &film.height) != 2 || film.width < 64 ||
        film.height < 64 || film.width % 2 != 0 || film.height % 2 != 0) {
        throw WrongUse("A size is written as 1280x720, both even and at least 64.");
    }
    const double rate = o.fileRate > 0.0 ? o.fileRate : film.captureRate;
    film.fileRate = {std::llround(rate * 1000.0), 1000};
    takeDials(o.dials, film.player.dials);
    if (o.from->count() > 0) {
        film.fromS = o.fromS;
    }
    if (o.to->count() > 0) {
        film.toS = o.toS;
    }
    film.outfit = synth::outfitFor(film.player.technique, film.player.seed);
    return film;
}

/// What the player is asked for that is not in the sheet is the user's mistake, not the program's.
template <class Work> void asUse(const Work& work) {
    try {
        work();
    } catch (const std::invalid_argument& e) {
        throw WrongUse(e.what());
    }
}

void render(const RenderOptions& o) {
    asUse([&] {
        const synth::FrameRenderer renderer(filmOf(o));
        synth::renderFilm(renderer, o.out, counting(o.out));
        synth::writeTruth(renderer, o.out);
        if (o.json) {
            printJson({{"film", o.out}, {"frames", renderer.scene().frameCount()}});
        }
    });
}

void motion(const RenderOptions& o) {
    asUse([&] {
        const synth::PlayerMotion motion(filmOf(o).player);
        nlohmann::json result{{"technique", motion.sheet().technique}};
        result["events_s"] = motion.events();
        for (const auto& [id, value] : motion.quantities()) {
            const synth::TrueQuantity& quantity = motion.sheet().quantities.at(id);
            result["quantities"][id] = {
                {"name", quantity.name}, {"value", value}, {"unit", quantity.unit}};
        }
        double worst = 0.0;
        for (double t = motion.begin(); t <= motion.end(); t += 0.005) {
            if (const double missed = motion.outOfReach(t); missed > worst) {
                worst = missed;
                result["out_of_reach"] = {{"time_s", t}, {"m", missed}};
            }
        }
        for (const auto& [id, dial] : motion.sheet().dials) {
            result["dials"][id] = {
                {"name", dial.name}, {"quantity", dial.quantity}, {"most", dial.most}};
        }
        if (o.json) {
            printJson(result);
            return;
        }
        for (const auto& [id, time] : motion.events()) {
            std::cout << id << "  " << time << " s\n";
        }
        for (const auto& [id, quantity] : result.at("quantities").items()) {
            std::cout << id << "  " << quantity.at("value").get<double>() << ' '
                      << quantity.at("unit").get<std::string>() << '\n';
        }
        std::cout << "out of reach at most " << worst * 100.0 << " cm";
        if (worst > 0.0) {
            std::cout << ", at " << result["out_of_reach"]["time_s"].get<double>() << " s";
        }
        std::cout << '\n';
    });
}

void sheet(const RenderOptions& o) {
    asUse([&] {
        const synth::FilmSpec film = filmOf(o);
        const auto picture = std::make_shared<const film::Picture>(synth::contactSheet(
            film.player, film.outfit,
            {film.camera.view,
             film.camera.view == model::View::front ? model::View::rear : model::View::front},
            film.width, film.height));
        if (!report::imageOf(picture).save(QString::fromStdString(o.out))) {
            throw std::runtime_error("cannot write " + o.out);
        }
    });
}

void addPlayerOptions(CLI::App* command, RenderOptions& o) {
    synth::PlayerSpec& player = o.film.player;
    command->add_option("technique", player.technique, "Such as overhand_pitch; see demo list")
        ->required();
    command->add_option("--variant", player.variant, "Of the motion sheet");
    command->add_option("--hand", o.hand, "right, left");
    command->add_option("--height-m", player.build.heightM, "Standing height")
        ->check(CLI::Range(0.9, 2.3));
    command->add_option("--age-band", o.band, "u10, u13, u16, adult");
    command->add_option("--sex", o.sex, "female, male");
    command->add_option("--level", player.level, "1 skilled … 0 beginner")
        ->check(CLI::Range(0.0, 1.0));
    command->add_option("--seed", player.seed, "Rep-to-rep variation, 0 for none");
    command->add_option("--manner", player.manner, "Draws an own way of moving, 0 for none");
    command->add_option("--dial", o.dials, "A fault as name=amount, such as late_arm=60");
    command->add_option("--view", o.view, "open_side, closed_side, front, rear, overhead");
    command
        ->add_option("--size", o.size, "Picture size; of a contact sheet, of each of its pictures")
        ->capture_default_str();
}

void addFilmOptions(CLI::App* command, RenderOptions& o) {
    synth::FilmSpec& film = o.film;
    command->add_option("--around-deg", film.camera.aroundDeg, "From the square view to the front");
    command->add_option("--distance-m", film.camera.distanceM, "Camera to player")
        ->check(CLI::Range(1.0, 100.0));
    command->add_option("--lens-height-m", film.camera.heightM, "0 for chest height");
    command
        ->add_option("--body-fraction", film.camera.bodyFraction,
                     "Standing height over picture height")
        ->check(CLI::Range(0.02, 2.0));
    command->add_option("--roll-deg", film.camera.rollDeg);
    command->add_option("--distortion", film.camera.distortion, "Radial, such as -0.05")
        ->check(CLI::Range(-0.3, 0.3));
    command->add_option("--shake-px", film.camera.shakePx, "Standard deviation")
        ->check(CLI::Range(0.0, 200.0));
    command->add_flag("--pan", film.camera.pans, "The camera turns with the player");
    command->add_option("--place", film.place, "Other than the technique's own");
    command->add_option("--capture-rate", film.captureRate, "Frames a second on the field")
        ->check(CLI::Range(1.0, 2000.0));
    command->add_option("--file-rate", o.fileRate, "Frames a second of the file, if other")
        ->check(CLI::Range(1.0, 2000.0));
    command->add_option("--exposure-s", film.exposureS)->check(CLI::Range(0.0, 0.2));
    command->add_option("--brightness", film.brightness, "1 is well exposed")
        ->check(CLI::Range(0.05, 20.0));
    command->add_flag("--interlaced", film.interlaced, "Two fields a frame, top field first");
    command->add_option("--noise", film.noise, "Standard deviation, 8-bit steps")
        ->check(CLI::Range(0.0, 60.0));
    command->add_option("--quality", film.quality, "As x264's rate factor, 18 … 40")
        ->check(CLI::Range(0, 51));
    command->add_flag("--netting", film.nettingInFront, "Filmed through a net");
    command->add_flag("--passer-by", film.passerBy, "Somebody walks through the picture");
    command->add_option("--bystanders", film.bystanders, "People standing behind")
        ->check(CLI::Range(0, 12));
    o.from = command->add_option("--from-s", o.fromS, "First frame, seconds from the anchor");
    o.to = command->add_option("--to-s", o.toS, "Last frame");
}

} // namespace

void addDemoCommands(CLI::App& program) {
    auto* demo =
        program.add_subcommand("demo", "Made-up players, their films and the truth beside them");
    demo->require_subcommand(1);
    auto chosen = std::make_shared<FilmsOptions>();
    auto* rendered = demo->add_subcommand(
        "films", "Render the demo library's films with landmarks and truth beside them");
    rendered->add_option("FOLDER", chosen->folder, "Where to")->required();
    rendered->add_flag("--json", chosen->json, "Print JSON");
    rendered->add_option("--film", chosen->stem, "Only this one, such as mika-pitch-1");
    rendered->callback([chosen] { films(*chosen); });

    const auto addRender = [&](const char* name, const char* help,
                               void (*work)(const RenderOptions&), bool writes,
                               const char* size = "1280x720") {
        auto o = std::make_shared<RenderOptions>();
        o->size = size;
        auto* command = demo->add_subcommand(name, help);
        addPlayerOptions(command, *o);
        addFilmOptions(command, *o);
        if (writes) {
            command->add_option("-o", o->out, "File to write")->required();
        }
        command->add_flag("--json", o->json, "Print JSON");
        command->callback([o, work] { work(*o); });
    };
    addRender(
        "render",
        "Render one film of a technique (.mp4, .mov, .mkv, .webm, .avi) with its truth beside it",
        render, true);
    addRender("motion", "Print the events and true quantities of a motion", motion, false);
    addRender("sheet", "Draw the key positions from two views as one picture", sheet, true,
              "280x360");
    auto draws = std::make_shared<int>(60);
    auto* motion = demo->add_subcommand(
        "reading-accuracy",
        "How right readings are when the landmarks are placed by hand, as Markdown");
    motion->add_option("--draws", *draws, "Of placing errors, for each player and view")
        ->check(CLI::Range(12, 10000));
    motion->callback([draws] { studyMotion(*draws); });

    auto bodies = std::make_shared<BodyAccuracyOptions>();
    auto* body = demo->add_subcommand(
        "body-accuracy",
        "How right the body in space is on made-up players and cameras, as Markdown");
    body->add_option("--films", bodies->films, "Of each place and kind of landmarks")
        ->check(CLI::Range(1, 1000))
        ->capture_default_str();
    body->add_option("--seed", bodies->firstSeed, "Of the first film")->capture_default_str();
    body->add_option("--landmarks", bodies->landmarks,
                     "Only films with such landmarks; followed and confirmed are rendered")
        ->check(CLI::IsMember({"placed", "tracked", "positions", "followed", "confirmed"}));
    bodies->folder = std::filesystem::temp_directory_path() / "kestrel-body-films";
    body->add_option("--folder", bodies->folder,
                     "Where rendered films are kept and looked for; some 20 s each to make")
        ->capture_default_str();
    body->callback([bodies] { studyBodies(*bodies); });

    auto messy = std::make_shared<FilmAccuracyOptions>();
    auto* film = demo->add_subcommand(
        "film-accuracy",
        "How well edited and messy films are understood on the first pass, as Markdown");
    film->add_option("--films", messy->films, "Of each kind")
        ->check(CLI::Range(1, 1000))
        ->capture_default_str();
    film->add_option("--seed", messy->firstSeed, "Of the first film")->capture_default_str();
    film->add_option("--folder", messy->folder,
                     "Where the films are kept and looked for; some 8 s each to make")
        ->capture_default_str();
    film->callback([messy] { studyFilms(*messy); });

    auto played = std::make_shared<PositionAccuracyOptions>();
    auto* positions = demo->add_subcommand(
        "position-accuracy",
        "How right key positions are in reps as players really do them, as Markdown");
    positions->add_option("--players", played->players, "Each from four places")
        ->check(CLI::Range(1, 1000))
        ->capture_default_str();
    positions->add_option("--seed", played->firstSeed, "Of the first player")
        ->capture_default_str();
    positions->callback([played] { studyPositions(*played); });

    auto lessons = std::make_shared<LessonOptions>();
    auto* learn = demo->add_subcommand(
        "position-lessons", "Write reps that the position network learns from to FOLDER");
    learn->add_option("FOLDER", lessons->folder, "Where to")->required();
    learn->add_option("--players", lessons->players, "With ten reps each")
        ->check(CLI::Range(1, 1000000))
        ->capture_default_str();
    learn->add_option("--seed", lessons->seed, "Of the first player")->capture_default_str();
    learn->callback([lessons] { writeLessons(*lessons); });

    auto* accuracy = demo->add_subcommand(
        "accuracy", "How right the machine's landmarks are on films with a truth beside them, as "
                    "Markdown");
    auto a = std::make_shared<AccuracyOptions>();
    accuracy->add_option("FILMS", a->films, "As demo render writes them")->required();
    accuracy->add_option("--model", a->size, "Size of the pose network")
        ->check(CLI::IsMember({"lite", "full", "heavy"}))
        ->capture_default_str();
    accuracy->callback([a] { studyAccuracy(*a); });

    demo->add_subcommand("dials", "What each fault dial does to each technique, as Markdown")
        ->callback([] { std::cout << study::dialsDocument(); });
    demo->add_subcommand("list", "The techniques the synthetic player knows")->callback([] {
        for (const std::string& technique : synth::techniquesWithMotion()) {
            std::cout << technique << '\n';
        }
    });
}

} // namespace kestrel::cli
