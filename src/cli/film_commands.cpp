#include "cli/commands.h"
#include "cli/output.h"
#include "cli/pack_by_id.h"
#include "film/film_index.h"
#include "film/frame_hash.h"
#include "film/frame_reader.h"
#include "film/picture_reader.h"
#include "film/rep_finder.h"
#include "model/input_error.h"
#include "report/picture_image.h"
#include "technique/judge/film_remarks.h"
#include "track/camera/camera_motion.h"
#include "track/camera/film_study.h"
#include "words/words.h"

#include <cstdio>
#include <iostream>
#include <memory>
#include <optional>
#include <random>

namespace kestrel::cli {
namespace {

struct ProbeOptions {
    std::string file;
    std::optional<double> captureRate;
    std::string packId;
    bool json = false;
};

/// The film check as JSON, with the same words as the Film station.
nlohmann::json filmCheck(const film::FilmIndex& index, const model::FilmStudy& study,
                         const std::string& packId, const nlohmann::json& captureRate) {
    const technique::Pack pack = packById(packId);
    technique::FilmFacts facts;
    facts.frameInterval = captureRate.is_null() ? 0.0 : 1.0 / captureRate.get<double>();
    facts.playerHeightPx = study.mover ? study.mover->height : 0.0;
    const double rate = captureRate.is_null() ? index.fileRate() : captureRate.get<double>();
    const model::ClipTime time(index.fileTimes(), model::slowdown(index.fileRate(), rate));
    const track::CameraSteadiness camera =
        track::steadiness(study.camera, time, index.width, index.height);
    const technique::FilmCheck check = technique::checkFilm(pack, facts);
    nlohmann::json json{{"player_height_px", facts.playerHeightPx},
                        {"brightness", study.brightness},
                        {"too_bright", study.tooBright},
                        {"too_dark", study.tooDark},
                        {"camera_followed", !study.camera.empty()},
                        {"shake_px", camera.shakePx},
                        {"camera_drift_px", camera.driftPx},
                        {"placing_deg", check.placingDegrees}};
    if (check.blurOpen) {
        json["blur_px"] = check.blurOpen->px;
        json["blur_deg"] = check.blurOpen->degrees;
    }
    const technique::PictureFacts picture{
        study.brightness,
        study.tooBright,
        study.tooDark,
        !study.camera.empty(),
        camera.shakePx,
        camera.driftPx,
        technique::editFacts(study, index.fileTimes(), index.width, index.height)};
    for (const technique::FilmRemark& remark : technique::filmRemarks(pack, facts, picture)) {
        json["remarks"].push_back(words::plain(remark.says));
    }
    for (const technique::PositionShown& position : check.positions) {
        json["positions"].push_back({{"id", position.positionId},
                                     {"frames", position.frames},
                                     {"shown", words::plain(technique::nameOf(position.shown))}});
    }
    for (const technique::TimingShown& timing : check.timings) {
        json["timings"].push_back({{"id", timing.measureId},
                                   {"u95", timing.u95},
                                   {"shown", words::plain(technique::nameOf(timing.shown))}});
    }
    return json;
}

struct RepsOptions {
    std::string file;
    std::optional<double> captureRate;
    bool json = false;
};

void reps(const RepsOptions& options) {
    const film::FilmIndex index = film::buildIndex(options.file);
    const model::ClipTime time(
        index.fileTimes(),
        model::slowdown(index.fileRate(), options.captureRate.value_or(index.fileRate())));
    const model::FilmStudy study = track::studyFilm(index).value();
    nlohmann::json rows = nlohmann::json::array();
    for (const model::FrameSpan& rep : film::findReps(study, time)) {
        rows.push_back({{"first", rep.first},
                        {"last", rep.last},
                        {"start_s", index.seconds(rep.first).value},
                        {"seconds", model::elapsed(time, rep.first, rep.last).value}});
    }
    if (options.json) {
        printJson(rows);
        return;
    }
    std::cout << "rep,first,last,start_s,seconds\n";
    int number = 0;
    for (const auto& row : rows) {
        std::printf("%d,%d,%d,%.3f,%.3f\n", ++number, row["first"].get<int>(),
                    row["last"].get<int>(), row["start_s"].get<double>(),
                    row["seconds"].get<double>());
    }
}

void probe(const ProbeOptions& options) {
    const film::FilmIndex index = film::buildIndex(options.file);
    nlohmann::json result{
        {"frames", index.frameCount()},
        {"width", index.width},
        {"height", index.height},
        {"file_rate", index.fileRate()},
        {"capture_rate", nullptr},
        {"duration_s", index.duration().value},
        {"codec", index.codec},
        {"rotation", index.rotation},
        {"variable_rate", index.variableRate},
        {"first_time_s", index.seconds(0).value},
    };
    if (const auto stretches = film::speedStretches(index); !stretches.empty()) {
        for (const model::SpeedStretch& stretch : stretches) {
            result["speed_changes"].push_back(
                {{"from_frame", stretch.fromFrame}, {"slowdown", stretch.slowdown}});
        }
    }
    if (index.interlaced != film::Fields::none) {
        result["fields"] =
            index.interlaced == film::Fields::topFirst ? "top first" : "bottom first";
    }
    if (index.cutOff) {
        result["cut_off"] = true;
        result["promised_frames"] = index.promisedFrames;
    }
    if (options.captureRate) {
        result["capture_rate"] = *options.captureRate;
    } else if (!film::captureRateInDoubt(index)) {
        result["capture_rate"] = index.fileRate();
    }
    const model::FilmStudy study =
        options.packId.empty() ? model::FilmStudy{} : track::studyFilm(index).value();
    if (!options.packId.empty()) {
        result.update(filmCheck(index, study, options.packId, result["capture_rate"]));
    }
    options.json ? printJson(result) : printFields(result);
}

struct FramesOptions {
    std::string file;
    bool hash = false;
    bool json = false;
    std::optional<int> random;
    std::uint32_t seed = 0;
    std::optional<int> png;
    std::string out;
    bool fields = false;
};

void writePng(const film::FilmIndex& index, const FramesOptions& options) {
    if (*options.png < 0 || *options.png >= index.frameCount()) {
        throw WrongUse("There is no frame " + std::to_string(*options.png) + "; the last is " +
                       std::to_string(index.frameCount() - 1) + ".");
    }
    film::PictureReader reader(index);
    const auto picture = std::make_shared<const film::Picture>(reader.read(*options.png));
    if (!report::imageOf(picture).save(QString::fromStdString(options.out), "PNG")) {
        throw model::InputError(model::message("file.unwritable", options.out),
                                model::message("safe.nothing_changed"),
                                model::message("todo.other_place_with_o"));
    }
}

void frames(const FramesOptions& options) {
    film::FilmIndex index = film::buildIndex(options.file);
    if (options.fields) {
        if (options.hash) {
            throw WrongUse("--hash is of the file's own frames; leave --fields away.");
        }
        if (index.interlaced == film::Fields::none) {
            throw model::InputError(
                model::message("film.not_interlaced", index.file.filename().string()),
                model::message("safe.nothing_changed"), model::message("todo.leave_fields"));
        }
        index = film::asFields(index, index.interlaced);
    }
    if (options.png) {
        writePng(index, options);
        return;
    }
    std::vector<int> order;
    if (options.random) {
        std::mt19937 random(options.seed);
        std::uniform_int_distribution<int> any(0, index.frameCount() - 1);
        for (int i = 0; i < *options.random; ++i) {
            order.push_back(any(random));
        }
    } else {
        for (int i = 0; i < index.frameCount(); ++i) {
            order.push_back(i);
        }
    }
    std::unique_ptr<film::FrameReader> reader;
    if (options.hash) {
        reader = std::make_unique<film::FrameReader>(index);
    }
    nlohmann::json rows = nlohmann::json::array();
    if (!options.json) {
        std::cout << (options.hash ? "index,time_s,md5\n" : "index,time_s,key\n");
    }
    for (const int frame : order) {
        const std::string hash =
            options.hash ? film::frameHash(reader->read(frame)) : std::string();
        const bool key = index.frames[static_cast<std::size_t>(frame)].key;
        if (options.json) {
            nlohmann::json row{{"index", frame}, {"time_s", index.seconds(frame).value}};
            options.hash ? row["md5"] = hash : row["key"] = key;
            rows.push_back(row);
        } else {
            std::printf("%d,%.6f,%s\n", frame, index.seconds(frame).value,
                        options.hash ? hash.c_str() : (key ? "1" : "0"));
        }
    }
    if (options.json) {
        printJson(rows);
    }
}

} // namespace

void addFilmCommands(CLI::App& program) {
    auto* probeCommand = program.add_subcommand("probe", "What a film is: size, rates, frames");
    auto p = std::make_shared<ProbeOptions>();
    probeCommand->add_option("FILE", p->file, "Film")->required();
    probeCommand->add_option("--capture-rate", p->captureRate, "Frames a second the camera saw")
        ->check(CLI::PositiveNumber);
    probeCommand->add_option(
        "--pack", p->packId,
        "Technique: looks at all frames and says what this film can show of it");
    probeCommand->add_flag("--json", p->json, "Print JSON");
    probeCommand->callback([p] { probe(*p); });

    auto* repsCommand =
        program.add_subcommand("reps", "Repetitions in a film, proposed from what moves when");
    auto r = std::make_shared<RepsOptions>();
    repsCommand->add_option("FILE", r->file, "Film")->required();
    repsCommand->add_option("--capture-rate", r->captureRate, "Frames a second the camera saw")
        ->check(CLI::PositiveNumber);
    repsCommand->add_flag("--json", r->json, "Print JSON");
    repsCommand->callback([r] { reps(*r); });

    auto* framesCommand =
        program.add_subcommand("frames", "The frames of a film in presentation order");
    auto f = std::make_shared<FramesOptions>();
    framesCommand->add_option("FILE", f->file, "Film")->required();
    framesCommand->add_flag("--hash", f->hash,
                            "MD5 of every decoded frame in its own pixel format");
    framesCommand->add_flag("--fields", f->fields,
                            "Read interlaced film as fields, twice as many as frames");
    auto* random =
        framesCommand->add_option("--random", f->random, "Visit N frames in random order");
    random->check(CLI::PositiveNumber);
    framesCommand->add_option("--seed", f->seed, "Seed of the random order")->needs(random);
    auto* png = framesCommand->add_option("--png", f->png, "Write frame N as a PNG picture");
    auto* out = framesCommand->add_option("-o", f->out, "Where to write the picture")->needs(png);
    png->needs(out);
    framesCommand->add_flag("--json", f->json, "Print JSON");
    framesCommand->callback([f] { frames(*f); });
}

} // namespace kestrel::cli
