#include "model/input_error.h"
#include "scenario/scenario.h"
#include "synth/outfits.h"
#include "technique/pack/json_file.h"
#include "technique/pack/pack_directory.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

/// The scenario out of packs/demo/scenario.json.
namespace kestrel::scenario {
namespace {

model::Day dayAt(const nlohmann::json& object, const char* key) {
    return model::dayFromIso(object.at(key).get<std::string>()).value_or(model::Day());
}

using nlohmann::json;

synth::Colour colourFrom(const json& rgb) {
    return {rgb.at(0).get<float>(), rgb.at(1).get<float>(), rgb.at(2).get<float>()};
}

/// An outfit by its name in the file, or by its number among those of a technique.
synth::Outfit outfitFrom(const json& which, const json& outfits, const std::string& technique) {
    if (which.is_number()) {
        return synth::outfitFor(technique, which.get<std::uint32_t>());
    }
    synth::Outfit outfit;
    const json& colours = outfits.at(which.get<std::string>());
    for (const auto& [part, colour] : {std::pair{"skin", &outfit.skin},
                                       {"hair", &outfit.hair},
                                       {"cap", &outfit.cap},
                                       {"shirt", &outfit.shirt},
                                       {"socks", &outfit.socks}}) {
        if (colours.contains(part)) {
            *colour = colourFrom(colours.at(part));
        }
    }
    return outfit;
}

void aim(synth::FilmSpec& spec, const json& camera) {
    spec.width = camera.at("size").at(0);
    spec.height = camera.at("size").at(1);
    spec.captureRate = camera.at("capture_rate");
    spec.fileRate = {camera.at("file_rate").get<std::int64_t>(), 1};
    spec.noise = camera.at("noise");
    spec.exposureS = camera.value("exposure_s", spec.exposureS);
    spec.camera.distanceM = camera.value("distance_m", spec.camera.distanceM);
    spec.camera.bodyFraction = camera.value("body_fraction", spec.camera.bodyFraction);
}

/// What all films of a player have in common.
synth::FilmSpec usualFilm(const json& player, const json& outfits) {
    synth::FilmSpec spec;
    spec.player.technique = player.at("technique");
    spec.player.hand = *model::handFromName(player.at("hand").get<std::string>());
    spec.player.build = {player.at("height_m").get<double>(),
                         *synth::ageBandFromName(player.at("build").at("band").get<std::string>()),
                         *synth::sexFromName(player.at("build").at("sex").get<std::string>())};
    spec.player.level = player.value("level", spec.player.level);
    spec.outfit = outfitFrom(player.at("outfit"), outfits, spec.player.technique);
    return spec;
}

synth::FilmSpec withRep(synth::FilmSpec spec, const json& rep) {
    spec.player.seed = rep.at("seed");
    spec.player.dials = rep.at("dials").get<std::map<std::string, double>>();
    return spec;
}

ScenarioFilm filmFrom(const json& film, synth::FilmSpec usual, const json& cameras) {
    aim(usual, cameras.at(film.at("camera").get<std::string>()));
    if (film.contains("size")) {
        usual.width = film.at("size").at(0);
        usual.height = film.at("size").at(1);
    }
    if (film.contains("cut_s")) {
        usual.fromS = film.at("cut_s").at(0).get<double>();
        usual.toS = film.at("cut_s").at(1).get<double>();
    }
    ScenarioFilm made;
    made.fileStem = film.at("file");
    made.title = film.at("title");
    made.filmed = dayAt(film, "filmed");
    made.spec = withRep(usual, film.at("rep"));
    made.marked = film.contains("seen");
    const json answers = film.value("seen", json::object());
    for (const auto& [observation, seen] : answers.items()) {
        made.observations[observation] = *model::seenFromName(seen.get<std::string>());
    }
    const json more = film.value("more", json::array());
    for (const json& rep : more) {
        made.more.push_back(withRep(usual, rep));
    }
    made.stillS = film.value("still_s", 0.0);
    return made;
}

ScenarioPlayer playerFrom(const json& data, const json& all) {
    ScenarioPlayer made;
    made.player.name = data.at("name");
    made.player.born = dayAt(data, "born");
    made.player.hand = *model::handFromName(data.at("hand").get<std::string>());
    made.player.height = model::Metres(data.at("height_m").get<double>());
    made.player.consentGiven = dayAt(data, "consent");
    if (data.contains("sex")) {
        made.player.sex = model::sexFromName(data.at("sex").get<std::string>());
    }
    const json heights = data.value("heights", json::object());
    for (const auto& [day, metres] : heights.items()) {
        made.heights.emplace(model::dayFromIso(day).value_or(model::Day()),
                             model::Metres(metres.get<double>()));
    }
    const synth::FilmSpec usual = usualFilm(data, all.at("outfits"));
    for (const json& film : data.at("films")) {
        made.films.push_back(filmFrom(film, usual, all.at("cameras")));
    }
    if (data.contains("plan")) {
        const json& plan = data.at("plan");
        made.plan = {dayAt(plan, "filmed"), dayAt(plan, "next_visit"), plan.at("focus"),
                     plan.at("done_of_four")};
    }
    return made;
}

void shrink(synth::FilmSpec& spec, double scale) {
    const auto even = [&](int pixels) {
        return std::max(2, 2 * static_cast<int>(std::lround(scale * pixels / 2.0)));
    };
    spec.width = even(spec.width);
    spec.height = even(spec.height);
}

} // namespace

std::vector<ScenarioPlayer> scenario(double filmScale) {
    const auto file = technique::packDirectory() / "demo" / "scenario.json";
    const json all = technique::parseJson(technique::readText(file), file);
    std::vector<ScenarioPlayer> players;
    try {
        for (const json& player : all.at("players")) {
            players.push_back(playerFrom(player, all));
        }
    } catch (const json::exception& error) {
        throw technique::dataError(file, "", model::asItIs(error.what()));
    }
    for (ScenarioPlayer& player : players) {
        for (ScenarioFilm& film : player.films) {
            shrink(film.spec, filmScale);
            for (synth::FilmSpec& rep : film.more) {
                shrink(rep, filmScale);
            }
        }
    }
    return players;
}

synth::Reel ScenarioFilm::reel() const {
    synth::Reel reel{{spec}, stillS};
    reel.reps.insert(reel.reps.end(), more.begin(), more.end());
    return reel;
}

} // namespace kestrel::scenario
