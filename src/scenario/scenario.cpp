#include "scenario/scenario.h"

#include "coaching/growth.h"
#include "coaching/schedule.h"
#include "film/film_index.h"
#include "model/landmark.h"
#include "prepare/judged_rep.h"
#include "records/clip_store.h"
#include "records/library.h"
#include "synth/truth.h"
#include "technique/pack/pack_directory.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <fstream>
#include <future>
#include <mutex>
#include <random>
#include <thread>

namespace kestrel::scenario {
namespace {

namespace fs = std::filesystem;

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

/// What the body in space is of each marked rep, kept as a coach's library keeps it.
void keepBody(records::Library& library, const technique::Pack& pack, const model::Player& player,
              const model::Clip& clip, const model::Rep& rep) {
    const film::FilmIndex index = film::buildIndex(library.clipFile(clip));
    const prepare::JudgeSources sources{
        library, [&](const model::Rep&) -> const technique::Pack& { return pack; },
        [&](const model::Clip&) -> prepare::KnownFilm { return &index; },
        [&] { return clip.filmed; }};
    if (const auto work = prepare::bodyToWorkOut(sources, player, clip, rep)) {
        library.setBody(rep.id, {work->key, *prepare::fittedBody(*work)});
    }
}

/// Renders the scenario's films that `folder` lacks, as many at once as there are cores: a film
/// waits much of the time for its encoder, which has one thread so that clips are reproducible.
void renderMissing(const fs::path& folder, const Report& report, double filmScale) {
    std::vector<std::pair<std::string, ScenarioFilm>> missing;
    for (const ScenarioPlayer& player : scenario(filmScale)) {
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
            const std::string& what = missing[index].first;
            const ScenarioFilm& film = missing[index].second;
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

void makeDemoLibrary(const fs::path& folder, const Report& report, double filmScale) {
    const fs::path films = folder / "film";
    records::Library library(folder);
    if (library.setting("demo") == "complete") {
        return;
    }
    renderMissing(films, report, filmScale);
    takeOwnPacks(library);
    // One transaction: an interrupted run leaves an empty library that the next one fills.
    library.atomically([&] {
        std::uint32_t seed = 100;
        for (const ScenarioPlayer& player : scenario(filmScale)) {
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
                    if (pack.id == "overhand_pitch" && film.spec.width > 1000 * filmScale) {
                        clip.ground = rubberMarked(pack, synth::FilmScene(film.spec), seed);
                    }
                }
                library.save(clip);
                model::Rep rep = library.reps(clip.id).front();
                rep.variant = pack.variants.front().id;
                if (film.marked) {
                    const synth::FilmScene scene(film.spec);
                    rep.positions = synth::truePositions(scene);
                    rep.landmarks =
                        synth::placedLandmarks(scene, rep.positions, model::placedPointSd, ++seed);
                    rep.observations = film.observations;
                }
                rep.id = library.save(rep);
                if (film.marked) {
                    keepBody(library, pack, *library.player(playerId), clip, rep);
                }
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
