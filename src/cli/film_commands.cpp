#include "cli/commands.h"
#include "cli/output.h"
#include "film/film_index.h"
#include "film/frame_hash.h"
#include "film/frame_reader.h"
#include "film/picture_reader.h"
#include "model/input_error.h"
#include "report/picture_image.h"

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
    bool json = false;
};

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
    if (options.captureRate) {
        result["capture_rate"] = *options.captureRate;
    } else if (!film::captureRateInDoubt(index)) {
        result["capture_rate"] = index.fileRate();
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
};

void writePng(const film::FilmIndex& index, const FramesOptions& options) {
    if (*options.png < 0 || *options.png >= index.frameCount()) {
        throw WrongUse("There is no frame " + std::to_string(*options.png) + "; the last is " +
                       std::to_string(index.frameCount() - 1) + ".");
    }
    film::PictureReader reader(index);
    const auto picture = std::make_shared<const film::Picture>(reader.read(*options.png));
    if (!report::imageOf(picture).save(QString::fromStdString(options.out), "PNG")) {
        throw model::InputError("“" + options.out + "” cannot be written.", "Nothing was changed.",
                                "Choose another place with -o.");
    }
}

void frames(const FramesOptions& options) {
    const film::FilmIndex index = film::buildIndex(options.file);
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
    probeCommand->add_flag("--json", p->json, "Print JSON");
    probeCommand->callback([p] { probe(*p); });

    auto* framesCommand =
        program.add_subcommand("frames", "The frames of a film in presentation order");
    auto f = std::make_shared<FramesOptions>();
    framesCommand->add_option("FILE", f->file, "Film")->required();
    framesCommand->add_flag("--hash", f->hash,
                            "MD5 of every decoded frame in its own pixel format");
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
