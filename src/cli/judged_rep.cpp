#include "cli/judged_rep.h"

#include "cli/output.h"
#include "cli/pack_by_id.h"
#include "film/sound_sync.h"
#include "prepare/circumstances.h"
#include "prepare/second_view.h"
#include "technique/judge/reading_json.h"
#include "technique/pack/ground_json.h"
#include "technique/positions/find_positions.h"
#include "track/files/landmark_file.h"

#include <tuple>

namespace kestrel::cli {

void addRepOptions(CLI::App& command, RepOptions& o) {
    command.add_option("FILE", o.film, "Film")->required();
    command.add_option("-l,--landmarks", o.landmarks, "Landmarks, .csv or .trc")->required();
    command.add_option("-p,--positions", o.positions,
                       "Key positions, JSON; those missing are looked for in the landmarks");
    command.add_option("--pack", o.pack, "Technique pack id")->capture_default_str();
    command.add_option("--hand", o.hand, "Throwing or hitting hand")
        ->required()
        ->check(CLI::IsMember({"right", "left"}));
    command.add_option("--view", o.view, "Where the camera stood")
        ->check(CLI::IsMember({"open_side", "closed_side", "front", "rear", "overhead"}));
    command.add_option("--school", o.schools, "School id; one for each question");
    command.add_option("--variant", o.variant, "Variant id");
    command.add_option("--shot", o.shot, "Kind of pitch, stroke or shot, by its id");
    command.add_option("--ground", o.ground, "Marks on the ground, JSON");
    auto* second =
        command.add_option("--second", o.secondFilm, "Film of the same motion from another place");
    for (const auto& [name, value, help] :
         {std::tuple{"--second-landmarks", &o.secondLandmarks, "Its landmarks"},
          std::tuple{"--second-positions", &o.secondPositions, "Its key positions, JSON"},
          std::tuple{"--second-ground", &o.secondGround, "Marks on its ground, JSON"}}) {
        auto* option = command.add_option(name, *value, help);
        option->needs(second);
        second->needs(option);
    }
    command
        .add_option("--second-capture-rate", o.secondCaptureRate,
                    "Frames a second its camera saw; its file's rate when not given")
        ->check(CLI::PositiveNumber)
        ->needs(second);
    command
        .add_flag("--second-by-sound", o.secondBySound,
                  "Match the films by what both microphones heard, not by key positions")
        ->needs(second);
    command.add_option("--height-m", o.heightM, "Standing height in metres")
        ->check(CLI::PositiveNumber);
    command.add_option("--age", o.age, "Age in years")->check(CLI::NonNegativeNumber);
    command.add_option("--capture-rate", o.captureRate, "Frames a second the camera saw")
        ->check(CLI::PositiveNumber);
    command.add_option("--observation", o.observations,
                       "What the coach saw, ID=yes|no|not_visible");
    command.add_flag("--json", o.json, "Print JSON");
}

namespace {

void readObservations(const RepOptions& o, const technique::Pack& pack, model::Rep& rep) {
    for (const std::string& text : o.observations) {
        const std::size_t split = text.find('=');
        const std::string id = text.substr(0, split);
        const auto seen = split == std::string::npos
                              ? std::nullopt
                              : model::seenFromName(std::string_view(text).substr(split + 1));
        if (technique::findObservation(pack, id) == nullptr || !seen) {
            throw WrongUse("“" + text +
                           "” is no observation of this pack with yes, no or not_visible.");
        }
        rep.observations[id] = *seen;
    }
}

/// What is known of one film, as its clip would know it.
model::Clip clipOf(const technique::Pack& pack, const film::FilmIndex& index,
                   const std::optional<double>& captureRate, const std::string& ground) {
    model::Clip clip;
    clip.captureRate = captureRate.value_or(index.fileRate());
    if (!ground.empty()) {
        clip.ground = technique::readGroundMarks(pack, ground);
    }
    return clip;
}

void addSecondFilm(const RepOptions& o, Judged& j) {
    const film::FilmIndex index = film::buildIndex(o.secondFilm);
    model::Rep rep;
    rep.techniqueId = j.pack.id;
    rep.landmarks = track::readLandmarkFile(o.secondLandmarks);
    rep.positions = technique::readPositions(j.pack, o.secondPositions, index.frameCount());
    const model::Clip clip = clipOf(j.pack, index, o.secondCaptureRate, o.secondGround);
    std::optional<model::SyncOffset> heard;
    if (o.secondBySound) {
        heard = film::syncOffsetBySound(o.film, o.secondFilm);
        if (!heard || !j.circumstances.ground) {
            j.circumstances.secondReason = model::message("second.sounds_differ");
            return;
        }
    }
    prepare::addSecondView(
        j.circumstances, rep,
        prepare::circumstancesOf(j.pack, j.player, clip, rep, index, std::nullopt, {}), heard);
}

} // namespace

Judged judge(const RepOptions& o) {
    Judged j;
    j.index = film::buildIndex(o.film);
    j.pack = packById(o.pack);
    for (const std::string& school : o.schools) {
        if (technique::findSchool(j.pack, school) == nullptr) {
            throw WrongUse("The pack “" + j.pack.id + "” has no school “" + school + "”.");
        }
        j.player.schools.insert(school);
    }
    j.player.name = o.playerName;
    j.player.hand = *model::handFromName(o.hand);
    if (o.heightM) {
        j.player.height = model::Metres(*o.heightM);
    }
    j.clip.view = model::viewFromName(o.view);
    j.rep.techniqueId = j.pack.id;
    j.rep.variant = o.variant;
    j.rep.shotType = o.shot;
    j.rep.landmarks = track::readLandmarkFile(o.landmarks);
    if (!o.positions.empty()) {
        j.rep.positions = technique::readPositions(j.pack, o.positions, j.index.frameCount());
    }
    readObservations(o, j.pack, j.rep);
    const std::optional<model::View> view = j.clip.view;
    j.clip = clipOf(j.pack, j.index, o.captureRate, o.ground);
    j.clip.view = view;
    j.circumstances =
        prepare::circumstancesOf(j.pack, j.player, j.clip, j.rep, j.index, std::nullopt, {});
    j.circumstances.ageYears = o.age;
    if (!o.secondFilm.empty()) {
        addSecondFilm(o, j);
    }
    j.rep.found = technique::findPositions(j.pack, j.rep, j.circumstances);
    j.review = coaching::reviewOf(j.pack, j.rep, j.circumstances);
    return j;
}

} // namespace kestrel::cli
