#include "cli/commands.h"
#include "cli/judged_rep.h"
#include "cli/output.h"
#include "coaching/drill_library.h"
#include "coaching/drill_texts.h"
#include "coaching/review.h"
#include "model/input_error.h"
#include "report/film_images.h"
#include "report/review_film.h"
#include "report/review_proposal.h"
#include "report/sheet_material.h"
#include "report/take_home_files.h"
#include "technique/judge/reading_json.h"
#include "technique/kinds/sequence.h"
#include "technique/pack/pack_directory.h"
#include "technique/positions/doubt.h"
#include "words/language.h"
#include "words/measured.h"
#include "words/words.h"

#include <QDate>

#include <array>
#include <cmath>
#include <iostream>
#include <memory>

namespace kestrel::cli {
namespace {

void printReadings(const technique::Pack& pack, const std::vector<model::Reading>& readings) {
    for (const model::Reading& r : readings) {
        std::cout << technique::findPosition(pack, r.positionId)->name << " · "
                  << technique::findMeasure(pack, r.measureId)->name << ": "
                  << words::valueWithUncertainty(r).toStdString() << ", "
                  << words::verdictText(r.verdict).toStdString();
        if (r.range) {
            std::cout << " (" << words::rangeText(*r.range, r.unit).toStdString() << ")";
        }
        if (r.missing) {
            std::cout << ": " << words::plain(r.missing->why);
        }
        std::cout << '\n';
    }
}

void measure(const RepOptions& o) {
    const Judged j = judge(o);
    o.json ? printJson(technique::readingsToJson(j.pack, j.review.readings, words::plain,
                                                 j.player.height))
           : printReadings(j.pack, j.review.readings);
}

/// How fast each part of the chain moves and which follows which.
void sequence(const RepOptions& o) {
    const Judged j = judge(o);
    const technique::SequenceReading read = technique::readSequence(j.pack, j.rep, j.circumstances);
    if (o.json) {
        printJson(technique::sequenceToJson(read, words::plain));
        return;
    }
    if (read.missing) {
        std::cout << words::plain(read.missing->why) << '\n';
        return;
    }
    for (const technique::LinkCurve& link : read.links) {
        std::cout << link.name << ": "
                  << (link.peak ? "fastest at " + std::to_string(link.peak->time) + " s, " +
                                      words::valueText(link.peak->value, link.unit).toStdString()
                                : words::plain(link.refusal))
                  << '\n';
    }
    for (const technique::LinkStep& step : read.steps) {
        using Order = technique::LinkStep::Order;
        std::cout << step.later << (step.order == Order::leads ? " before " : " after ")
                  << step.earlier << ": ";
        if (step.order == Order::cannotTell) {
            std::cout << "can't be separated at " << std::lround(read.frameRate)
                      << " frames a second\n";
        } else {
            std::cout << std::lround(std::abs(step.gapMs)) << " ± " << std::lround(step.u95Ms)
                      << " ms\n";
        }
    }
}

/// Key positions as found in the landmarks, and as given.
void positions(const RepOptions& o) {
    const Judged j = judge(o);
    nlohmann::json all = nlohmann::json::object();
    for (const technique::Position& position : j.pack.positions) {
        const auto frame = model::frameOf(j.rep, position.id);
        if (!frame) {
            continue;
        }
        nlohmann::json& entry = all[position.id];
        entry = {{"frame", *frame},
                 {"time_s", j.index.seconds(*frame).value},
                 {"source", j.rep.positions.contains(position.id) ? "given" : "found"}};
        if (const model::FoundInstant* found = model::onlyFound(j.rep, position.id)) {
            constexpr double perSecond = 1000.0;
            entry["sd_ms"] = perSecond * found->sd.value;
            entry["confidence"] = found->confidence;
            entry["doubtful"] = technique::isDoubtful(position, *found, j.circumstances);
        }
    }
    if (o.json) {
        printJson({{"positions", all}});
        return;
    }
    for (const technique::Position& position : j.pack.positions) {
        std::cout << position.name << ": ";
        const auto entry = all.find(position.id);
        if (entry == all.end()) {
            std::cout << "not found\n";
            continue;
        }
        std::cout << "frame " << entry->at("frame") << ", " << entry->at("time_s") << " s, "
                  << entry->at("source").get<std::string>();
        if (entry->contains("sd_ms")) {
            std::cout << ", ± " << std::lround(model::coverage95 * entry->at("sd_ms").get<double>())
                      << " ms, confidence "
                      << std::lround(100.0 * entry->at("confidence").get<double>()) << " %"
                      << (entry->at("doubtful").get<bool>() ? ", doubtful" : "");
        }
        std::cout << '\n';
    }
}

/// The rep as the only one of a visit.
report::SheetMaterial materialOf(const Judged& j, const RepOptions& o) {
    const coaching::DrillLibrary drills =
        coaching::loadDrillsIn(technique::packDirectory(), words::languageCode());
    coaching::checkDrills(j.pack, drills);
    report::SheetMaterial material{
        j.pack,
        drills,
        j.player,
        {j.clip, j.rep, j.review.readings, report::filmImages(j.index)},
        j.circumstances,
        j.circumstances.ageYears,
        {},
        {{model::RepId(), j.review.readings, j.rep.observations, j.circumstances.schools}},
        {},
        {},
        {},
        std::nullopt,
        std::nullopt,
        o.today,
        o.blurFaces};
    material.visit = coaching::visitReviewOf(j.pack, drills, material.reps, material.choice);
    return material;
}

/// Writes the review film; its path.
std::string writeFilm(const Judged& j, const report::SheetMaterial& material,
                      const std::filesystem::path& folder) {
    report::ReviewFilm film;
    film.script = report::proposedScript(j.pack, j.rep, j.circumstances.time, j.review.readings,
                                         material.visit, material.choice, {});
    if (film.script.empty()) {
        throw WrongUse("A review film needs key positions.");
    }
    film.time = j.circumstances.time;
    film.shown = {j.rep, j.review.readings, material.shown.images,
                  report::filmImages(j.index, report::reviewWidth)};
    film.blurFaces = material.blurFaces;
    const std::filesystem::path file = folder / "review.mp4";
    report::exportReviewFilm(film, file, {});
    return file.string();
}

/// Files of a rep's review in `folder`; their paths.
nlohmann::json writeFiles(const Judged& j, const RepOptions& o) {
    const std::filesystem::path folder = o.outFolder;
    std::error_code problem;
    std::filesystem::create_directories(folder, problem);
    const report::SheetMaterial material = materialOf(j, o);
    const report::Paper paper = o.paper == "letter" ? report::Paper::letter : report::Paper::a4;
    nlohmann::json files = nlohmann::json::array();
    const auto name = [&](const char* file) {
        files.push_back((folder / file).string());
        return folder / file;
    };
    const report::TakeHome sheet = report::takeHomeOf(material);
    report::writeHtml(sheet, name("take-home.html"));
    report::writePdf(sheet, paper, name("take-home.pdf"));
    const report::CoachReport full = report::coachReportOf(material);
    report::writeHtml(full, name("coach-report.html"));
    report::writePdf(full, paper, name("coach-report.pdf"));
    if (o.reviewFilm) {
        files.push_back(writeFilm(j, material, folder));
    }
    return files;
}

void review(const RepOptions& o) {
    const Judged j = judge(o);
    nlohmann::json result = coaching::reviewToJson(j.pack, j.review, words::plain);
    if (!o.outFolder.empty()) {
        result["files"] = writeFiles(j, o);
    }
    if (o.json) {
        printJson(result);
        return;
    }
    const model::Plan& plan = j.review.plan;
    std::cout << "Focus: "
              << (plan.focusFaultId.empty() ? "none; the film shows no fault for certain"
                                            : technique::findFault(j.pack, plan.focusFaultId)->name)
              << '\n';
    if (!j.review.findings.whyFirst.empty()) {
        std::cout << words::plain(j.review.findings.whyFirst) << '\n';
    }
    for (const std::string& cue : plan.cueTexts) {
        std::cout << "Cue: " << cue << '\n';
    }
    for (const std::string& drill : plan.drillIds) {
        std::cout << "Drill: " << drill << '\n';
    }
    for (const model::Fault& fault : j.review.findings.faults) {
        std::cout << "Fault: " << technique::findFault(j.pack, fault.faultId)->name << " ("
                  << name(fault.confidence) << ")\n";
    }
    for (const std::string& id : plan.strengthIds) {
        std::cout << "Strength: " << technique::findMeasure(j.pack, id)->name << '\n';
    }
    for (const auto& file : result.value("files", nlohmann::json::array())) {
        std::cout << "Written: " << file.get<std::string>() << '\n';
    }
}

} // namespace

void addMeasureCommands(CLI::App& program, const Today& today, const UsePictures& usePictures) {
    auto* measureCommand =
        program.add_subcommand("measure", "Film, landmarks and positions → readings");
    auto m = std::make_shared<RepOptions>();
    addRepOptions(*measureCommand, *m);
    measureCommand->callback([m] { measure(*m); });

    auto* sequenceCommand = program.add_subcommand(
        "sequence", "Film, landmarks and positions → which part is fastest when");
    auto s = std::make_shared<RepOptions>();
    addRepOptions(*sequenceCommand, *s);
    sequenceCommand->callback([s] { sequence(*s); });

    auto* positionsCommand =
        program.add_subcommand("positions", "Film and landmarks → key positions found in them");
    auto p = std::make_shared<RepOptions>();
    addRepOptions(*positionsCommand, *p);
    positionsCommand->callback([p] { positions(*p); });

    auto* reviewCommand =
        program.add_subcommand("review", "Film, landmarks and positions → findings, plan, sheet");
    auto r = std::make_shared<RepOptions>();
    addRepOptions(*reviewCommand, *r);
    reviewCommand->add_option("-o,--out", r->outFolder,
                              "Folder for take-home and coach-report, .html and .pdf");
    reviewCommand->add_flag("--film", r->reviewFilm, "Write review.mp4, .srt and .vtt there, too");
    reviewCommand->add_option("--paper", r->paper, "Paper of the PDF files")
        ->check(CLI::IsMember({"a4", "letter"}))
        ->capture_default_str();
    reviewCommand->add_flag("--blur-faces", r->blurFaces, "Blot out the player's face");
    reviewCommand->add_option("--player", r->playerName, "Name on the sheet");
    reviewCommand->callback([r, today, usePictures] {
        r->today = today();
        usePictures();
        review(*r);
    });
}

} // namespace kestrel::cli
