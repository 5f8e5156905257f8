#include "cli/commands.h"
#include "cli/output.h"
#include "demo/scenario.h"

#include <iostream>
#include <memory>

namespace kestrel::cli {
namespace {

struct DemoOptions {
    std::string folder;
    std::string stem;
    bool json = false;
};

void make(const DemoOptions& o) {
    demo::makeDemoLibrary(o.folder, [](const std::string& line) { std::cerr << line << '\n'; });
    if (o.json) {
        printJson({{"library", o.folder}});
    }
}

void render(const DemoOptions& o) {
    nlohmann::json made = nlohmann::json::array();
    bool known = o.stem.empty();
    for (const demo::ScenarioPlayer& player : demo::scenario()) {
        for (const demo::ScenarioFilm& film : player.films) {
            if (!o.stem.empty() && film.fileStem != o.stem) {
                continue;
            }
            known = true;
            demo::makeFilm(film, o.folder, [&](int done, int all) {
                std::cerr << '\r' << film.fileStem << ": frame " << done << " of " << all
                          << (done == all ? "\n" : "") << std::flush;
                return true;
            });
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

} // namespace

void addDemoCommands(CLI::App& program) {
    auto* demo =
        program.add_subcommand("demo", "Made-up players, their films and the truth beside them");
    demo->require_subcommand(1);
    auto o = std::make_shared<DemoOptions>();
    const auto add = [&](const char* name, const char* help, void (*work)(const DemoOptions&)) {
        auto* command = demo->add_subcommand(name, help);
        command->add_option("FOLDER", o->folder, "Where to")->required();
        command->add_flag("--json", o->json, "Print JSON");
        command->callback([o, work] { work(*o); });
        return command;
    };
    add("make", "Make the demo library", make);
    add("render", "Render the demo films with landmarks and truth beside them", render)
        ->add_option("--film", o->stem, "Only this one, such as mika-pitch-1");
}

} // namespace kestrel::cli
