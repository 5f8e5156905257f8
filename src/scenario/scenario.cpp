#include "scenario/scenario.h"

#include "coaching/growth.h"
#include "coaching/schedule.h"
#include "model/landmark.h"
#include "records/clip_store.h"
#include "records/library.h"
#include "synth/outfits.h"
#include "synth/truth.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack_directory.h"

#include <nlohmann/json.hpp>

#include <atomic>
#include <fstream>
#include <future>
#include <mutex>
#include <random>
#include <thread>

namespace kestrel::scenario {
namespace {

namespace fs = std::filesystem;
using model::Seen;

synth::FilmSpec phoneAt120(const synth::PlayerSpec& player, const synth::Outfit& outfit) {
    synth::FilmSpec spec;
    spec.player = player;
    spec.outfit = outfit;
    return spec;
}

/// An older phone: smaller, 60 frames a second.
synth::FilmSpec phoneAt60(const synth::PlayerSpec& player, const synth::Outfit& outfit) {
    synth::FilmSpec spec = phoneAt120(player, outfit);
    spec.width = 848;
    spec.height = 480;
    spec.captureRate = 60.0;
    spec.fileRate = {60, 1};
    spec.noise = 3.0;
    return spec;
}

/// Cut to the rep itself, seconds from its anchor.
synth::FilmSpec cut(synth::FilmSpec spec, double from, double to) {
    spec.fromS = from;
    spec.toS = to;
    return spec;
}

/// The same from a smaller camera.
synth::FilmSpec smallerFrom(synth::FilmSpec spec, double from, double to) {
    spec.width = 640;
    spec.height = 360;
    return cut(std::move(spec), from, to);
}

/// A phone's slow motion: seen at 240 frames a second, stored to play at 30.
synth::FilmSpec slowMotionAt240(const synth::PlayerSpec& player, const synth::Outfit& outfit) {
    synth::FilmSpec spec = phoneAt120(player, outfit);
    spec.width = 848;
    spec.height = 480;
    spec.camera.distanceM = 10.0;
    spec.camera.bodyFraction = 0.60;
    spec.captureRate = 240.0;
    spec.fileRate = {30, 1};
    spec.exposureS = 1.0 / 1000.0;
    spec.noise = 2.6;
    return spec;
}

/// A player with consent to be filmed, without films yet.
ScenarioPlayer filmedPlayer(const char* name, const char* born, model::Hand hand, double heightM) {
    ScenarioPlayer player;
    player.player.name = name;
    player.player.born = born;
    player.player.hand = hand;
    player.player.height = model::Metres(heightM);
    player.player.consentGiven = "2026-10-01";
    return player;
}

std::vector<ScenarioPlayer> made() {
    synth::Outfit blue;
    synth::Outfit red;
    red.skin = {0.30F, 0.17F, 0.11F};
    red.hair = {0.03F, 0.025F, 0.02F};
    red.cap = {0.32F, 0.05F, 0.05F};
    red.shirt = {0.62F, 0.60F, 0.55F};
    red.socks = {0.32F, 0.05F, 0.05F};

    const auto doing = [](const char* technique, synth::Build build, model::Hand hand,
                          std::uint32_t seed, std::map<std::string, double> dials) {
        synth::PlayerSpec player;
        player.technique = technique;
        player.build = build;
        player.hand = hand;
        player.seed = seed;
        player.dials = std::move(dials);
        return player;
    };
    const auto pitcher = [&](double heightM, synth::AgeBand band, synth::Sex sex, model::Hand hand,
                             std::uint32_t seed, std::map<std::string, double> dials) {
        return doing("overhand_pitch", {heightM, band, sex}, hand, seed, std::move(dials));
    };
    const auto mikaWith = [&](std::uint32_t seed, std::map<std::string, double> dials) {
        return pitcher(1.58, synth::AgeBand::under13, synth::Sex::male, model::Hand::right, seed,
                       std::move(dials));
    };
    const auto junoWith = [&](std::uint32_t seed, std::map<std::string, double> dials) {
        return pitcher(1.38, synth::AgeBand::under13, synth::Sex::female, model::Hand::left, seed,
                       std::move(dials));
    };
    const synth::PlayerSpec mikaGood = mikaWith(11, {});
    const synth::PlayerSpec mikaFaulty =
        mikaWith(12, {{"late_arm", 65.0}, {"back_leg_collapse", 0.06}, {"upright_finish", 24.0}});
    const synth::PlayerSpec mikaTired =
        mikaWith(13, {{"late_arm", 25.0}, {"back_leg_collapse", 0.03}, {"upright_finish", 8.0}});
    // What the coach worked on from September on: the arm comes earlier, the back leg holds.
    const synth::PlayerSpec mikaInSeptember =
        mikaWith(14, {{"late_arm", 85.0}, {"back_leg_collapse", 0.08}, {"upright_finish", 26.0}});
    const synth::PlayerSpec mikaInOctober =
        mikaWith(15, {{"late_arm", 60.0}, {"back_leg_collapse", 0.045}, {"upright_finish", 16.0}});
    const synth::PlayerSpec junoFirst = junoWith(21, {{"upright_finish", 22.0}});
    const synth::PlayerSpec junoSecond = junoWith(22, {});

    const std::map<std::string, Seen> allSeen{{"eyes_on_target", Seen::yes},
                                              {"hand_passes_knee", Seen::yes}};
    const std::map<std::string, Seen> handShort{{"eyes_on_target", Seen::yes},
                                                {"hand_passes_knee", Seen::no}};
    ScenarioPlayer mika;
    mika.player.name = "Mika Sorrel";
    mika.player.born = "2014-03-18";
    mika.player.hand = model::Hand::right;
    mika.player.height = model::Metres(1.58);
    mika.player.consentGiven = "2026-09-01";
    mika.films = {
        {"mika-september", "First visit", phoneAt60(mikaInSeptember, blue), true, handShort,
         "2026-09-12"},
        {"mika-october", "Second visit", phoneAt60(mikaInOctober, blue), true, handShort,
         "2026-10-17"},
        {"mika-pitch-1", "Pitch 1", phoneAt120(mikaGood, blue), true, allSeen, "2026-11-20"},
        {"mika-pitch-2", "Pitch 2", phoneAt120(mikaFaulty, blue), true, handShort, "2026-11-20"},
        {.fileStem = "mika-three-pitches",
         .title = "Three pitches (not marked yet)",
         .spec = phoneAt60(mikaGood, blue),
         .filmed = "2026-11-13",
         .more = {phoneAt60(mikaTired, blue), phoneAt60(mikaFaulty, blue)},
         .stillS = 0.8}};

    mika.plan = {"2026-10-17", "2026-11-20", "back_leg_collapse", 3};

    ScenarioPlayer juno;
    juno.player.name = "Juno Tarn";
    juno.player.born = "2016-07-02";
    juno.player.hand = model::Hand::left;
    juno.player.height = model::Metres(1.38);
    juno.player.consentGiven = "2026-09-01";
    juno.films = {
        {"juno-pitch-1", "Pitch 1", slowMotionAt240(junoFirst, red), true, handShort, "2026-11-21"},
        {"juno-pitch-2",
         "Pitch 2 (not marked yet)",
         slowMotionAt240(junoSecond, red),
         false,
         {},
         "2026-11-21"}};

    // Near the spurt of growth: tall for the age, not yet used to the legs.
    ScenarioPlayer wren;
    wren.player.name = "Wren Alder";
    wren.player.born = "2013-02-09";
    wren.player.hand = model::Hand::right;
    wren.player.height = model::Metres(1.66);
    wren.player.sex = model::Sex::boy;
    wren.heights = {{"2026-01-17", model::Metres(1.58)}, {"2026-11-14", model::Metres(1.66)}};
    wren.player.consentGiven = "2026-10-01";
    synth::PlayerSpec growing =
        pitcher(1.66, synth::AgeBand::under16, synth::Sex::male, model::Hand::right, 31,
                {{"short_stride", 0.10}, {"soft_front_leg", 14.0}});
    growing.level = 0.7;
    synth::Outfit green = synth::outfitFor("overhand_pitch", 3);
    synth::PlayerSpec before = growing;
    before.seed = 32;
    before.dials = {{"short_stride", 0.14}, {"soft_front_leg", 18.0}};
    wren.films = {
        {"wren-october", "First visit", phoneAt60(before, green), true, allSeen, "2026-10-03"},
        {"wren-pitch-1", "Pitch 1", phoneAt60(growing, green), true, allSeen, "2026-11-14"}};
    wren.plan = {"2026-10-03", "2026-11-14", "short_stride", 1};

    ScenarioPlayer rowan = filmedPlayer("Rowan Teal", "2012-05-21", model::Hand::left, 1.61);
    const auto rowanWith = [&](std::uint32_t seed, double shoulder, double head) {
        return doing("bat_swing", {1.61, synth::AgeBand::under16, synth::Sex::female},
                     model::Hand::left, seed,
                     {{"front_shoulder_high", shoulder}, {"drifting_head", head}});
    };
    const std::map<std::string, Seen> rowanSeen{{"eyes_behind_barrel", Seen::yes},
                                                {"not_rolled", Seen::yes}};
    const synth::Outfit rowanWears = synth::outfitFor("bat_swing", 5);
    rowan.films = {{"rowan-october", "First visit",
                    smallerFrom(phoneAt60(rowanWith(42, 15.0, 0.75), rowanWears), -1.4, 0.5), true,
                    rowanSeen, "2026-10-10"},
                   {"rowan-swing-1", "Tee swing",
                    cut(phoneAt60(rowanWith(41, 14.0, 0.6), rowanWears), -1.4, 0.5), true,
                    rowanSeen, "2026-11-18"}};

    ScenarioPlayer isa = filmedPlayer("Isa Fennel", "2013-08-30", model::Hand::right, 1.63);
    const auto isaWith = [&](std::uint32_t seed, double entry) {
        return doing("tennis_serve", {1.63, synth::AgeBand::under16, synth::Sex::female},
                     model::Hand::right, seed, {{"no_entry", entry}, {"feet_undecided", 0.03}});
    };
    const std::map<std::string, Seen> isaSeen{{"head_up", Seen::yes}, {"foot_still", Seen::yes}};
    const synth::Outfit isaWears = synth::outfitFor("tennis_serve", 6);
    isa.films = {{"isa-october", "First visit",
                  smallerFrom(phoneAt60(isaWith(52, 0.5), isaWears), -2.2, 0.6), true, isaSeen,
                  "2026-10-08"},
                 {"isa-serve-1", "First serve",
                  cut(phoneAt60(isaWith(51, 0.45), isaWears), -2.2, 0.6), true, isaSeen,
                  "2026-11-19"}};

    ScenarioPlayer bo = filmedPlayer("Bo Linden", "2011-12-04", model::Hand::right, 1.72);
    const auto boWith = [&](std::uint32_t seed, double sway, double elbow) {
        return doing("jump_shot", {1.72, synth::AgeBand::under16, synth::Sex::male},
                     model::Hand::right, seed, {{"sways_back", sway}, {"elbow_drops", elbow}});
    };
    const std::map<std::string, Seen> boSeen{{"quiet_eye", Seen::yes},
                                             {"off_hand_quiet", Seen::yes}};
    const synth::Outfit boWears = synth::outfitFor("jump_shot", 7);
    bo.films = {{"bo-october", "First visit",
                 smallerFrom(phoneAt60(boWith(62, 17.0, 0.1), boWears), -1.1, 0.6), true, boSeen,
                 "2026-10-15"},
                {"bo-shot-1", "Catch and shoot",
                 cut(phoneAt60(boWith(61, 16.0, 0.09), boWears), -1.1, 0.6), true, boSeen,
                 "2026-11-22"}};

    // A sport that is not built in: the coach made its pack.
    ScenarioPlayer kit = filmedPlayer("Kit Sandoval", "2012-09-14", model::Hand::right, 1.66);
    const auto kitWith = [&](std::uint32_t seed, double turn, double elbow) {
        return smallerFrom(
            phoneAt60(doing("float_serve", {1.66, synth::AgeBand::under16, synth::Sex::female},
                            model::Hand::right, seed, {{"no_turn", turn}, {"low_elbow", elbow}}),
                      synth::outfitFor("float_serve", 8)),
            -1.6, 0.5);
    };
    const std::map<std::string, Seen> kitSeen{{"toss_low", Seen::yes}, {"palm_firm", Seen::yes}};
    kit.films = {
        {"kit-october", "First visit", kitWith(70, 50.0, 0.1), true, kitSeen, "2026-10-12"},
        {"kit-serve-1", "Float serve", kitWith(71, 45.0, 0.08), true, kitSeen, "2026-11-23"}};

    ScenarioPlayer ash = filmedPlayer("Ash Verran", "2013-01-30", model::Hand::left, 1.57);
    const auto ashWith = [&](std::uint32_t seed, double upright) {
        return smallerFrom(
            phoneAt60(doing("snap_shot", {1.57, synth::AgeBand::under16, synth::Sex::male},
                            model::Hand::left, seed,
                            {{"free_foot_stays", 0.05}, {"upright_trunk", upright}}),
                      synth::outfitFor("snap_shot", 9)),
            -1.1, 0.6);
    };
    const std::map<std::string, Seen> ashSeen{{"weight_over", Seen::no}, {"toe_net", Seen::yes}};
    ash.films = {{"ash-october", "First visit", ashWith(74, 18.0), true, ashSeen, "2026-10-09"},
                 {"ash-shot-1", "Snap shot", ashWith(72, 14.0), true, ashSeen, "2026-11-21"}};

    ScenarioPlayer lio = filmedPlayer("Lio Castane", "2015-04-11", model::Hand::right, 1.45);
    const auto lioWith = [&](std::uint32_t seed, double longer) {
        return smallerFrom(phoneAt60(doing("table_tennis_forehand",
                                           {1.45, synth::AgeBand::under13, synth::Sex::male},
                                           model::Hand::right, seed, {{"over_long_swing", longer}}),
                                     synth::outfitFor("table_tennis_forehand", 10)),
                           -1.2, 0.7);
    };
    const std::map<std::string, Seen> lioSeen{{"face_right", Seen::yes}};
    lio.films = {{"lio-october", "First visit", lioWith(75, 0.05), true, lioSeen, "2026-10-14"},
                 {"lio-loop-1", "Forehand loop", lioWith(73, 0.045), true, lioSeen, "2026-11-20"}};
    return {mika, juno, wren, rowan, isa, bo, kit, ash, lio};
}

/// The demo's own pack and drills, which are not built in.
fs::path demoPacks() {
    return technique::packDirectory() / "demo";
}

technique::Pack packOf(const std::string& technique) {
    const fs::path packs = technique::packDirectory();
    const fs::path own = demoPacks() / (technique + ".json");
    return technique::loadPack(fs::exists(own) ? own : packs / "techniques" / (technique + ".json"),
                               technique::packSchema(packs));
}

/// What the demo's coach made on the Packs station.
void takeOwnPacks(const records::Library& library) {
    fs::create_directories(library.packFolder());
    fs::permissions(library.packFolder(), fs::perms::owner_all);
    fs::copy_file(demoPacks() / "drills.json", library.drillFile(),
                  fs::copy_options::overwrite_existing);
    fs::copy_file(demoPacks() / "float_serve.json", library.packFolder() / "float_serve.json",
                  fs::copy_options::overwrite_existing);
}

/// The corners of the rubber, marked by hand: the one thing of known size that a camera beside the
/// mound sees.
model::GroundMarks rubberMarked(const technique::Pack& pack, const synth::FilmScene& scene,
                                std::uint32_t seed) {
    const technique::GroundPlace& place = pack.places.front();
    std::mt19937 random(seed);
    std::normal_distribution<double> error(0.0, model::placedPointSd);
    model::GroundMarks marks;
    marks.placeId = place.id;
    constexpr double rubberFront = -0.06; // of the rendered diamond, metres along the target line
    for (const technique::GroundPoint& point : place.points) {
        if (!point.id.starts_with("rubber")) {
            continue;
        }
        const auto px =
            scene.steadyCamera().project({point.at.x() + rubberFront, point.at.y(), 0.0});
        marks.points[point.id] = *px + model::Point2{error(random), error(random)};
    }
    return marks;
}

/// Only what a coach is asked to place: the landmarks that each position needs in this view.
model::LandmarkTrack askedFor(const technique::Pack& pack, model::Hand hand,
                              const std::optional<technique::Ground>& ground, const model::Rep& rep,
                              const model::LandmarkTrack& all) {
    technique::Circumstances circumstances;
    circumstances.hand = hand;
    circumstances.view = model::View::openSide;
    circumstances.ground = ground;
    model::LandmarkTrack asked;
    for (const technique::Position& position : pack.positions) {
        const int frame = rep.positions.at(position.id);
        for (const model::Landmark landmark :
             technique::landmarksToPlace(pack, position, circumstances)) {
            asked[frame][landmark] = all.at(frame).at(landmark);
        }
    }
    return asked;
}

/// Renders the scenario's films that `folder` lacks, as many at once as there are cores: a film
/// waits much of the time for its encoder, which has one thread so that clips are reproducible.
void renderMissing(const fs::path& folder, const Report& report) {
    std::vector<std::pair<std::string, ScenarioFilm>> missing;
    for (const ScenarioPlayer& player : scenario()) {
        for (const ScenarioFilm& film : player.films) {
            if (!fs::exists(folder / (film.fileStem + ".mp4"))) {
                missing.emplace_back("rendering " + player.player.name + ", " + film.title, film);
            }
        }
    }
    std::mutex reporting;
    const auto say = [&](const std::string& line) {
        const std::lock_guard lock(reporting);
        if (report) {
            report(line);
        }
    };
    std::atomic<std::size_t> next = 0;
    const auto work = [&] {
        for (std::size_t index = next++; index < missing.size(); index = next++) {
            const auto& [what, film] = missing[index];
            say(what);
            int told = 0;
            makeFilm(film, folder, [&](int done, int all) {
                constexpr int steps = 4; // a line at every quarter
                if (done * steps / all > told && done < all) {
                    told = done * steps / all;
                    say(what + ": " + std::to_string(100 * told / steps) + " %");
                }
                return true;
            });
        }
    };
    std::vector<std::future<void>> workers;
    for (unsigned worker = 0; worker < std::max(1U, std::thread::hardware_concurrency());
         ++worker) {
        workers.push_back(std::async(std::launch::async, work));
    }
    for (std::future<void>& worker : workers) {
        worker.get(); // hands on what a worker threw
    }
}

} // namespace

synth::Reel ScenarioFilm::reel() const {
    synth::Reel reel{{spec}, stillS};
    reel.reps.insert(reel.reps.end(), more.begin(), more.end());
    return reel;
}

std::vector<ScenarioPlayer> scenario() {
    return made();
}

bool makeFilm(const ScenarioFilm& film, const fs::path& folder,
              const synth::FrameProgress& progress) {
    fs::create_directories(folder);
    const fs::path target = folder / (film.fileStem + ".mp4");
    // Under another name until complete, so that an interrupted run is made anew.
    const fs::path part = folder / (film.fileStem + ".part.mp4");
    if (film.more.empty()) {
        const synth::FrameRenderer renderer(film.spec);
        if (!synth::renderFilm(renderer, part, progress)) {
            return false;
        }
        synth::writeTruth(renderer, target);
    } else {
        if (!synth::renderReel(film.reel(), part, progress)) {
            return false;
        }
        nlohmann::json reps = nlohmann::json::array();
        for (const auto& [first, last] : synth::framesOfReps(film.reel())) {
            reps.push_back({{"first_frame", first}, {"last_frame", last}});
        }
        std::ofstream(folder / (film.fileStem + ".reps.json")) << reps.dump(1) << '\n';
    }
    fs::rename(part, target);
    return true;
}

namespace {

/// The plan after an early visit, with its homework as it came back.
void takePlan(records::Library& library, const model::Player& player, const technique::Pack& pack,
              const ScenarioPlan& plan) {
    const fs::path data = technique::packDirectory();
    const coaching::DrillLibrary drills = coaching::loadDrills(data);
    const model::VisitKey visit{player.id, plan.filmed, pack.id};
    model::PlanChoice choice;
    choice.focusFaultId = plan.focusFaultId;
    choice.drillIds = technique::findFault(pack, plan.focusFaultId)->drills;
    model::PlanWish wish = coaching::usualWish();
    wish.nextVisit = plan.nextVisit;
    model::Homework homework =
        coaching::scheduleOf(
            drills, choice.drillIds, wish, coaching::exampleLoadRule(data),
            coaching::doseAge(model::ageInYears(player.born, plan.filmed),
                              coaching::growthOf(player.born, player.sex,
                                                 library.heights(player.id), plan.filmed)),
            plan.filmed, {})
            .homework;
    int number = 0;
    for (model::HomeworkItem& item : homework) {
        constexpr int outOf = 4;
        if (number++ % outOf < plan.doneOfFour) {
            item.doneOn = item.day;
        }
    }
    library.save(visit, choice);
    library.save(visit, std::optional(wish));
    library.save(visit, homework);
}

} // namespace

void makeDemoLibrary(const fs::path& folder, const Report& report) {
    const fs::path films = folder / "film";
    records::Library library(folder);
    if (library.setting("demo") == "complete") {
        return;
    }
    renderMissing(films, report);
    takeOwnPacks(library);
    // One transaction: an interrupted run leaves an empty library that the next one fills.
    library.atomically([&] {
        std::uint32_t seed = 100;
        for (const ScenarioPlayer& player : scenario()) {
            const model::PlayerId playerId = library.save(player.player);
            for (const auto& [day, height] : player.heights) {
                library.setHeight(playerId, day, height);
            }
            for (const ScenarioFilm& film : player.films) {
                const auto stored =
                    records::storeFilm(films / (film.fileStem + ".mp4"), library.clipFolder());
                const technique::Pack pack = packOf(film.spec.player.technique);
                model::Clip clip =
                    records::addClip(library, playerId, *stored, film.title, pack.id);
                clip.filmed = film.filmed;
                if (film.marked) {
                    clip.captureRate = film.spec.captureRate;
                    clip.view = model::View::openSide;
                    if (pack.id == "overhand_pitch" && film.spec.width > 1000) {
                        clip.ground = rubberMarked(pack, synth::FilmScene(film.spec), seed);
                    }
                }
                library.save(clip);
                model::Rep rep = library.reps(clip.id).front();
                rep.variant = pack.variants.front().id;
                if (film.marked) {
                    const synth::FilmScene scene(film.spec);
                    rep.positions = synth::truePositions(scene);
                    const auto ground =
                        clip.ground ? technique::groundOf(pack, *clip.ground, film.spec.width,
                                                          film.spec.height, clip.view)
                                          .ground
                                    : std::nullopt;
                    rep.landmarks = askedFor(
                        pack, player.player.hand, ground, rep,
                        synth::placedLandmarks(scene, rep.positions, model::placedPointSd, ++seed));
                    rep.observations = film.observations;
                }
                library.save(rep);
            }
            if (player.plan) {
                takePlan(library, *library.player(playerId),
                         packOf(player.films.front().spec.player.technique), *player.plan);
            }
        }
        library.setSetting("demo", "complete");
    });
    if (report) {
        report("demo library ready in " + folder.string());
    }
}

} // namespace kestrel::scenario
