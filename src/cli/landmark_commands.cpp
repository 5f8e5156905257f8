#include "cli/commands.h"
#include "cli/output.h"
#include "cli/pack_by_id.h"
#include "cli/progress_line.h"
#include "film/film_index.h"
#include "technique/pack/roles.h"
#include "track/camera/film_study.h"
#include "track/equipment/equipment.h"
#include "track/files/landmark_file.h"
#include "track/person/evidence.h"
#include "track/person/fuse.h"
#include "track/person/placed_points.h"
#include "track/person/sides.h"

#include <cmath>
#include <cstdio>
#include <iostream>
#include <memory>
#include <unistd.h>

namespace kestrel::cli {
namespace {

/// What both commands need: a film, a player in it, networks.
struct LookOptions {
    std::string film;
    std::string out;
    std::string size = "heavy";
    std::vector<double> box;
    std::vector<double> player;
    int at = -1;
    std::string frames;
    std::optional<double> captureRate;
};

struct TrackOptions : LookOptions {
    std::string landmarks;
    std::string pack = "overhand_pitch";
    std::string view;
};

void addLookOptions(CLI::App& command, LookOptions& o) {
    command.add_option("FILE", o.film, "Film")->required();
    command.add_option("-o", o.out, "Landmarks to write, .csv or .trc")->required();
    command.add_option("--model", o.size, "Size of the pose network")
        ->check(CLI::IsMember({"lite", "full", "heavy"}))
        ->capture_default_str();
    auto* box = command.add_option("--box", o.box, "Around the player, x,y,w,h in pixels")
                    ->delimiter(',')
                    ->expected(4);
    command.add_option("--player", o.player, "A spot on the player, x,y in pixels")
        ->delimiter(',')
        ->expected(2)
        ->excludes(box);
    command.add_option("--at", o.at, "Frame that --box or --player speaks of; else the middle one")
        ->check(CLI::NonNegativeNumber);
    command.add_option("--frames", o.frames, "Only these, FIRST-LAST");
    command.add_option("--capture-rate", o.captureRate, "Frames a second the camera saw")
        ->check(CLI::PositiveNumber);
}

model::FrameSpan spanOf(const LookOptions& o, int frameCount) {
    model::FrameSpan span{0, frameCount - 1};
    if (o.frames.empty()) {
        return span;
    }
    char rest = '\0';
    if (std::sscanf(o.frames.c_str(), "%d-%d%c", &span.first, &span.last, &rest) != 2 ||
        span.first < 0 || span.last < span.first || span.last >= frameCount) {
        throw WrongUse("“" + o.frames + "” is no stretch of this film; its frames are 0-" +
                       std::to_string(frameCount - 1) + ".");
    }
    return span;
}

track::SubjectSeed seedOf(const LookOptions& o, const film::FilmIndex& index,
                          model::FrameSpan span) {
    track::SubjectSeed seed;
    seed.frame = o.at >= 0 ? o.at : (span.first + span.last) / 2;
    if (!span.contains(seed.frame)) {
        throw WrongUse("Frame " + std::to_string(seed.frame) + " is not one of those looked at.");
    }
    if (o.box.size() == 4) {
        seed.box = model::PixelBox{o.box[0], o.box[1], o.box[2], o.box[3]};
    } else if (o.player.size() == 2) {
        seed.point = model::Point2{o.player[0], o.player[1]};
    } else {
        seed.mover = track::studyFilm(index).value().mover;
    }
    return seed;
}

track::Evidence lookAt(const LookOptions& o, const film::FilmIndex& index) {
    const model::FrameSpan span = spanOf(o, index.frameCount());
    ProgressLine line;
    const auto progress = [&](int done, int all) {
        line.show("looking at frame " + std::to_string(done) + " of " + std::to_string(all));
        return true;
    };
    return *track::gatherEvidence(index, span, seedOf(o, index, span), pose::poseDirectory(),
                                  *pose::poseSizeFromName(o.size), progress);
}

model::ClipTime clockOf(const LookOptions& o, const film::FilmIndex& index) {
    return model::ClipTime(
        index.fileTimes(),
        model::slowdown(index.fileRate(), o.captureRate.value_or(index.fileRate())));
}

/// What the network saw, frame by frame, unweighed.
void pose(const LookOptions& o) {
    const film::FilmIndex index = film::buildIndex(o.film);
    const track::Evidence evidence = lookAt(o, index);
    model::LandmarkTrack seen;
    for (const auto& [frame, here] : evidence.frames) {
        for (const auto& [landmark, proposal] : here.proposals) {
            seen[frame][landmark] = {proposal.px,
                                     std::hypot(proposal.scatterPx, proposal.lastingPx),
                                     model::Source::proposed};
        }
    }
    track::writeLandmarkFile(o.out, seen, clockOf(o, index));
}

void trackThrough(const TrackOptions& o) {
    const film::FilmIndex index = film::buildIndex(o.film);
    const technique::Pack pack = packById(o.pack);
    const model::LandmarkTrack placed =
        o.landmarks.empty() ? model::LandmarkTrack{} : track::readLandmarkFile(o.landmarks);
    track::Evidence evidence = lookAt(o, index);
    track::settleSides(evidence, placed,
                       technique::chestToCamera(pack, model::viewFromName(o.view)));
    const model::ClipTime time = clockOf(o, index);
    track::followPlacedPoints(evidence, index, placed, time);
    if (track::anyEquipmentPlaced(placed)) {
        const model::FilmStudy study = track::studyFilm(index).value();
        track::followEquipment(evidence, index, placed, track::fuse(evidence, placed, time),
                               study.camera, time);
    }
    track::writeLandmarkFile(o.out, track::fuse(evidence, placed, time), time);
}

} // namespace

void addLandmarkCommands(CLI::App& program) {
    auto* poseCommand = program.add_subcommand(
        "pose", "Landmarks of one player as the pose network sees them, frame by frame");
    auto p = std::make_shared<LookOptions>();
    addLookOptions(*poseCommand, *p);
    poseCommand->callback([p] { pose(*p); });

    auto* trackCommand = program.add_subcommand(
        "track", "Landmarks of one player through a film: networks, movement and placed points "
                 "weighed together");
    auto t = std::make_shared<TrackOptions>();
    addLookOptions(*trackCommand, *t);
    trackCommand->add_option("-l,--landmarks", t->landmarks,
                             "Placed landmarks, .csv: kept as they are");
    trackCommand->add_option("--pack", t->pack, "Technique pack id")->capture_default_str();
    trackCommand->add_option("--view", t->view, "Where the camera stood")
        ->check(CLI::IsMember({"open_side", "closed_side", "front", "rear", "overhead"}));
    trackCommand->callback([t] { trackThrough(*t); });
}

} // namespace kestrel::cli
