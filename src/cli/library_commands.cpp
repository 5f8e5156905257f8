#include "cli/commands.h"
#include "cli/output.h"
#include "cli/pack_by_id.h"
#include "cli/progress_line.h"
#include "model/input_error.h"
#include "pose/pose_files.h"
#include "prepare/prepare_clip.h"
#include "records/clip_store.h"
#include "records/library.h"
#include "words/words.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <ctime>
#include <iostream>
#include <memory>
#include <unistd.h>

namespace kestrel::cli {
namespace {

struct LibraryOptions {
    std::string folder;
    std::vector<std::string> films;
    std::string player;
    std::string hand = "right";
    std::string view;
    std::string pack = "overhand_pitch";
    std::string size = "heavy";
    std::optional<double> captureRate;
    bool json = false;
};

/// Opens a library that is there; a mistyped name must not make a new one.
records::Library openLibrary(const std::string& folder) {
    if (!std::filesystem::exists(std::filesystem::path(folder) / "library.sqlite")) {
        throw model::InputError(model::message("library.none", folder),
                                model::message("safe.nothing_changed"),
                                model::message("todo.name_library_folder"));
    }
    return records::Library(folder);
}

nlohmann::json repAsJson(const records::Library& library, const model::Rep& rep) {
    return {{"title", rep.title},
            {"technique", rep.techniqueId},
            {"first_frame", rep.span ? nlohmann::json(rep.span->first) : nlohmann::json()},
            {"last_frame", rep.span ? nlohmann::json(rep.span->last) : nlohmann::json()},
            {"positions_set", rep.positions.size()},
            {"positions_proposed", std::count_if(rep.found.begin(), rep.found.end(),
                                                 [&](const auto& found) {
                                                     return !rep.positions.contains(found.first);
                                                 })},
            {"prepared", !library.evidence(rep.id).empty()}};
}

/// What the coach has yet to say of the camera; without it no key positions are proposed.
nlohmann::json notSaidOf(const model::Clip& clip) {
    nlohmann::json missing = nlohmann::json::array();
    if (!clip.captureRate && clip.speeds.empty()) {
        missing.push_back("frames a second the camera saw");
    }
    if (!clip.view && !clip.foundView) {
        missing.push_back("where the camera stood");
    }
    return missing;
}

void list(const LibraryOptions& o) {
    const records::Library library = openLibrary(o.folder);
    nlohmann::json players = nlohmann::json::array();
    for (const model::Player& player : library.players()) {
        nlohmann::json clips = nlohmann::json::array();
        for (const model::Clip& clip : library.clips(player.id)) {
            nlohmann::json reps = nlohmann::json::array();
            for (const model::Rep& rep : library.reps(clip.id)) {
                reps.push_back(repAsJson(library, rep));
            }
            clips.push_back({{"id", clip.id.value},
                             {"title", clip.title},
                             {"filmed", clip.filmed.iso()},
                             {"file", library.clipFile(clip).string()},
                             {"not_said", notSaidOf(clip)},
                             {"reps", std::move(reps)}});
        }
        players.push_back({{"name", player.name},
                           {"hand", model::name(player.hand)},
                           {"clips", std::move(clips)}});
    }
    if (o.json) {
        printJson(players);
        return;
    }
    for (const auto& player : players) {
        std::cout << player.at("name").get<std::string>() << '\n';
        for (const auto& clip : player.at("clips")) {
            std::cout << "  " << clip.at("title").get<std::string>() << '\n';
            for (const auto& rep : clip.at("reps")) {
                std::cout << "    " << rep.at("title").get<std::string>() << ": "
                          << rep.at("positions_set") << " positions set, "
                          << rep.at("positions_proposed") << " proposed\n";
            }
            const auto& reps = clip.at("reps");
            if (std::none_of(reps.begin(), reps.end(), [](const nlohmann::json& rep) {
                    return rep.at("prepared").get<bool>();
                })) {
                continue; // preparing finds out itself what the file tells
            }
            for (const auto& missing : clip.at("not_said")) {
                std::cout << "    not said, so no positions are proposed: "
                          << missing.get<std::string>() << '\n';
            }
        }
    }
}

/// The films named, and those in folders named, in the order of their names.
std::vector<std::filesystem::path> filmsOf(const std::vector<std::string>& named) {
    std::vector<std::filesystem::path> films;
    for (const std::string& name : named) {
        if (!std::filesystem::is_directory(name)) {
            films.emplace_back(name);
            continue;
        }
        std::vector<std::filesystem::path> inside;
        for (const auto& entry : std::filesystem::directory_iterator(name)) {
            if (entry.is_regular_file()) {
                inside.push_back(entry.path());
            }
        }
        std::sort(inside.begin(), inside.end());
        films.insert(films.end(), inside.begin(), inside.end());
    }
    return films;
}

model::Player playerNamed(records::Library& library, const LibraryOptions& o) {
    for (const model::Player& player : library.players()) {
        if (player.name == o.player) {
            return player;
        }
    }
    model::Player player;
    player.name = o.player;
    player.hand = *model::handFromName(o.hand);
    player.id = library.save(player);
    return player;
}

/// What was not taken is said, and the rest is taken all the same; then the input was at fault.
void add(const LibraryOptions& o) {
    const technique::Pack pack = packById(o.pack);
    records::Library library(o.folder);
    const model::Player player = playerNamed(library, o);
    std::string refused;
    for (const std::filesystem::path& film : filmsOf(o.films)) {
        try {
            const auto stored = records::storeFilm(film, library.clipFolder());
            model::Clip clip =
                records::addClip(library, player.id, *stored, film.stem().string(), pack.id);
            if (const auto view = model::viewFromName(o.view)) {
                clip.view = view;
            }
            if (o.captureRate) {
                clip.captureRate = o.captureRate;
            }
            library.save(clip);
            std::cout << "Added: " << clip.title << '\n';
        } catch (const model::InputError& error) {
            refused += "\n" + film.string() + ": " + words::plain(error.happened());
        }
    }
    if (!refused.empty()) {
        throw model::InputError(model::message("library.some_not_taken", refused),
                                model::message("safe.others_taken"), {});
    }
}

void prepareAll(const LibraryOptions& o, model::Day today) {
    records::Library library = openLibrary(o.folder);
    std::string refused;
    int prepared = 0;
    for (const model::ClipId id : library.clipsNotLookedAt()) {
        const model::Clip clip = *library.clip(id);
        const auto work = prepare::workOn(library, clip);
        if (!work) {
            continue;
        }
        ProgressLine line;
        const auto progress = [&](double share) {
            line.show(clip.title + ": " + std::to_string(std::lround(100.0 * share)) + " %");
            return true;
        };
        try {
            auto done = prepare::prepareClip(*work, packById(work->reps.front().techniqueId),
                                             pose::poseDirectory(), *pose::poseSizeFromName(o.size),
                                             today, progress);
            prepare::store(library, *done);
            ++prepared;
        } catch (const model::InputError& error) {
            refused += "\n" + clip.title + ": " + words::plain(error.happened());
        }
    }
    std::cout << "Prepared: " << prepared << '\n';
    if (!refused.empty()) {
        throw model::InputError(model::message("library.some_not_prepared", refused),
                                model::message("safe.others_prepared"), {});
    }
}

} // namespace

void addLibraryCommands(CLI::App& program, const Today& today) {
    auto* library = program.add_subcommand("library", "A library without its window");
    library->require_subcommand(1);
    auto o = std::make_shared<LibraryOptions>();

    auto* listCommand = library->add_subcommand("list", "Players, clips and reps");
    listCommand->add_option("LIBRARY", o->folder, "Its folder")->required();
    listCommand->add_flag("--json", o->json, "Print JSON");
    listCommand->callback([o] { list(*o); });

    auto* addCommand =
        library->add_subcommand("add", "Bring films in; a library or player not there is made");
    addCommand->add_option("LIBRARY", o->folder, "Its folder")->required();
    addCommand->add_option("FILM", o->films, "Films, or folders of films")->required();
    addCommand->add_option("--player", o->player, "Name")->required();
    addCommand->add_option("--hand", o->hand, "Throwing or hitting hand of a new player")
        ->check(CLI::IsMember({"right", "left"}))
        ->capture_default_str();
    addCommand->add_option("--view", o->view, "Where the camera stood")
        ->check(CLI::IsMember({"open_side", "closed_side", "front", "rear", "overhead"}));
    addCommand->add_option("--pack", o->pack, "Technique pack id")->capture_default_str();
    addCommand->add_option("--capture-rate", o->captureRate, "Frames a second the camera saw")
        ->check(CLI::PositiveNumber);
    addCommand->callback([o] { add(*o); });

    auto* prepareCommand = library->add_subcommand(
        "prepare", "Reps, landmarks and key positions of all clips that nobody has looked at");
    prepareCommand->add_option("LIBRARY", o->folder, "Its folder")->required();
    prepareCommand->add_option("--model", o->size, "Size of the pose network")
        ->check(CLI::IsMember({"lite", "full", "heavy"}))
        ->capture_default_str();
    prepareCommand->callback([o, today] { prepareAll(*o, today()); });
}

} // namespace kestrel::cli
