#include "cli/commands.h"
#include "cli/output.h"
#include "cli/pack_by_id.h"
#include "coaching/drill_library.h"
#include "report/filming_card.h"
#include "technique/kinds/measure_kind.h"
#include "technique/pack/pack.h"
#include "technique/pack/pack_directory.h"

#include <iostream>
#include <memory>
#include <optional>

namespace kestrel::cli {
namespace {

struct PackOptions {
    std::vector<std::string> files;
    std::string id;
    std::string out;
    std::optional<double> heightM;
    bool json = false;
};

std::filesystem::path techniqueSchema() {
    return technique::packDirectory() / "schema" / "technique.schema.json";
}

nlohmann::json summary(const technique::Pack& pack) {
    return {{"id", pack.id},
            {"name", pack.name},
            {"sport", pack.sport},
            {"version", pack.version},
            {"file", pack.file.string()},
            {"positions", pack.positions.size()},
            {"measures", pack.measures.size()},
            {"faults", pack.faults.size()}};
}

void listPacks(const PackOptions& o) {
    nlohmann::json packs = nlohmann::json::array();
    for (const technique::Pack& pack : technique::loadPacks(technique::packDirectory())) {
        packs.push_back(summary(pack));
    }
    if (o.json) {
        printJson(packs);
        return;
    }
    for (const auto& pack : packs) {
        std::cout << pack.at("id").get<std::string>() << ": " << pack.at("name").get<std::string>()
                  << " (" << pack.at("sport").get<std::string>() << ")\n";
    }
}

void show(const PackOptions& o) {
    for (const technique::Pack& pack : technique::loadPacks(technique::packDirectory())) {
        if (pack.id != o.id) {
            continue;
        }
        nlohmann::json result = summary(pack);
        result["positions"] = nlohmann::json::array();
        for (const technique::Position& position : pack.positions) {
            result["positions"].push_back({{"id", position.id},
                                           {"name", position.name},
                                           {"definition", position.definition}});
        }
        result["measures"] = nlohmann::json::array();
        for (const technique::Measure& measure : pack.measures) {
            result["measures"].push_back({{"id", measure.id},
                                          {"name", measure.name},
                                          {"at", measure.at},
                                          {"kind", measure.kind->id},
                                          {"unit", name(measure.unit)}});
        }
        result["faults"] = nlohmann::json::array();
        for (const technique::FaultDefinition& fault : pack.faults) {
            result["faults"].push_back({{"id", fault.id}, {"name", fault.name}, {"at", fault.at}});
        }
        if (o.json) {
            printJson(result);
            return;
        }
        std::cout << pack.name << " (" << pack.sport << "), version " << pack.version << '\n';
        for (const technique::Position& position : pack.positions) {
            std::cout << position.name << ": " << position.definition << '\n';
            for (const technique::Measure& measure : pack.measures) {
                if (measure.at == position.id) {
                    std::cout << "    " << measure.name << '\n';
                }
            }
        }
        return;
    }
    throw WrongUse("There is no pack “" + o.id + "”; see packs list.");
}

/// Loads each file and checks its drills; the first fault ends it with an InputError.
void check(const PackOptions& o) {
    const coaching::DrillLibrary drills = coaching::loadDrills(technique::packDirectory());
    std::vector<technique::Pack> packs;
    if (o.files.empty()) {
        packs = technique::loadPacks(technique::packDirectory());
    }
    for (const std::string& file : o.files) {
        packs.push_back(technique::loadPack(file, techniqueSchema()));
    }
    nlohmann::json checked = nlohmann::json::array();
    for (const technique::Pack& pack : packs) {
        coaching::checkDrills(pack, drills);
        checked.push_back(summary(pack));
    }
    if (o.json) {
        printJson(checked);
        return;
    }
    for (const technique::Pack& pack : packs) {
        std::cout << pack.file.string() << ": good\n";
    }
}

/// The page that says how to film a technique, as PDF.
void card(const PackOptions& o) {
    const technique::Pack pack = packById(o.id);
    report::writeFilmingCard(
        pack, o.heightM ? std::optional(model::Metres(*o.heightM)) : std::nullopt, o.out);
    o.json ? printJson({{"file", o.out}}) : void(std::cout << o.out << '\n');
}

} // namespace

void addPackCommands(CLI::App& program, const UsePictures& usePictures) {
    auto* packs = program.add_subcommand("packs", "Technique packs");
    packs->require_subcommand(1);
    auto o = std::make_shared<PackOptions>();
    const auto add = [&](const char* name, const char* help,
                         const std::function<void(const PackOptions&)>& work) {
        auto* command = packs->add_subcommand(name, help);
        command->add_flag("--json", o->json, "Print JSON");
        command->callback([o, work] { work(*o); });
        return command;
    };
    add("list", "The packs that ship with the program", listPacks);
    add("show", "Positions, measures and faults of a pack", show)
        ->add_option("ID", o->id, "Pack id")
        ->required();
    auto* cardCommand = add("card", "How to film a technique, as a page to print",
                            [usePictures](const PackOptions& options) {
                                usePictures();
                                card(options);
                            });
    cardCommand->add_option("ID", o->id, "Pack id")->required();
    cardCommand->add_option("--height-m", o->heightM, "The player's height")
        ->check(CLI::PositiveNumber);
    cardCommand->add_option("-o", o->out, "PDF file")->required();
    add("check", "Check packs; all that ship when no file is named", check)
        ->add_option("FILE", o->files, "Pack files");
}

} // namespace kestrel::cli
