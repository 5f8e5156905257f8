#include "study/followed_film.h"

#include "pose/pose_files.h"
#include "prepare/circumstances.h"
#include "prepare/machine_marks.h"
#include "prepare/rep_body.h"
#include "synth/film_edit.h"
#include "synth/outfits.h"
#include "synth/truth.h"
#include "technique/pack/pack_directory.h"
#include "track/camera/film_study.h"
#include "track/files/evidence_file.h"

#include <algorithm>
#include <fstream>
#include <iterator>
#include <random>
#include <stdexcept>
#include <string>
#include <vector>

namespace kestrel::study {
namespace {

using model::Landmark;

synth::FilmSpec filmedSpec(std::uint32_t seed, Around around) {
    synth::FilmSpec spec = drawnFilm(seed, around);
    spec.width = 960;
    spec.height = 540;
    constexpr double mostRate = 60.0;
    spec.captureRate = std::min(spec.captureRate, mostRate);
    spec.fileRate = {static_cast<int>(spec.captureRate), 1};
    spec.outfit = synth::outfitFor(spec.player.technique, seed);
    return spec;
}

void write(const std::filesystem::path& file, const std::vector<std::uint8_t>& bytes) {
    std::ofstream stream(file, std::ios::binary);
    std::copy(bytes.begin(), bytes.end(), std::ostreambuf_iterator<char>(stream));
    stream.close();
    if (!stream) {
        throw std::runtime_error("cannot write " + file.string());
    }
}

std::optional<track::Evidence> keptEvidence(const std::filesystem::path& file) {
    std::ifstream stream(file, std::ios::binary);
    const std::vector<std::uint8_t> bytes{std::istreambuf_iterator<char>(stream), {}};
    return track::evidenceFromBytes(bytes);
}

/// The coach clicks the player's hips once.
track::SubjectSeed clickOn(const synth::FilmScene& scene) {
    track::SubjectSeed seed;
    seed.frame = scene.frameCount() / 3;
    const double time = scene.frameTime(seed.frame);
    const synth::Pose pose = scene.motion().pose(time);
    const synth::Camera camera = scene.camera(time);
    const synth::Vector hips = 0.5 * (pose.at(Landmark::leftHip) + pose.at(Landmark::rightHip));
    seed.point = camera.project(hips);
    return seed;
}

/// That of the technique; one that the player knows and no pack is shipped for comes with the demo.
technique::Pack packOf(const std::string& technique) {
    const auto directory = technique::packDirectory();
    const std::string file = technique + ".json";
    const auto shipped = directory / "techniques" / file;
    return technique::loadPack(std::filesystem::exists(shipped) ? shipped
                                                                : directory / "demo" / file,
                               technique::packSchema(directory));
}

/// What a coach knows of such a player.
model::Player playerOf(const synth::PlayerSpec& spec) {
    model::Player player;
    player.hand = spec.hand;
    player.sex = spec.build.sex == synth::Sex::male ? model::Sex::boy : model::Sex::girl;
    return player;
}

/// Landmarks of the body as a coach places them at the key positions: those that something covers
/// by guess.
void placeAtPositions(model::Rep& rep, const synth::FilmScene& scene, std::uint32_t seed) {
    constexpr double guess = 3.0;
    std::mt19937 random(seed);
    std::normal_distribution<double> normal;
    const synth::FrameRenderer renderer(scene.spec());
    const model::LandmarkTrack truth = synth::trueLandmarks(scene);
    for (const auto& [id, frame] : rep.positions) {
        const auto hidden = renderer.hidden(frame);
        for (const auto& [landmark, point] : truth.at(frame)) {
            if (!model::isOfBody(landmark)) {
                continue;
            }
            const double sd = model::placedPointSd *
                              (hidden.test(static_cast<std::size_t>(landmark)) ? guess : 1.0);
            const double x = sd * normal(random);
            const double y = sd * normal(random);
            rep.landmarks[frame][landmark] = {point.px + model::Point2{x, y}, sd,
                                              model::Source::placed, false};
        }
    }
}

} // namespace

FollowedFilm followedFilm(std::uint32_t seed, Around around, const std::filesystem::path& folder) {
    const synth::FilmSpec spec = filmedSpec(seed, around);
    std::filesystem::create_directories(folder);
    const std::string stem = std::to_string(seed) + "-" + std::string(name(around));
    const std::filesystem::path file = folder / (stem + ".mp4");
    const std::filesystem::path beside = folder / (stem + ".evidence");
    const synth::FrameRenderer renderer(spec);
    if (!std::filesystem::exists(file)) {
        const std::filesystem::path part = folder / (stem + ".part.mp4");
        synth::renderFilm(renderer, part);
        std::filesystem::rename(part, file); // what is there is whole
    }
    FollowedFilm followed{around, spec, film::buildIndex(file), {}, {}};
    followed.study = track::studyFilm(followed.index).value();
    if (auto kept = keptEvidence(beside)) {
        followed.evidence = std::move(*kept);
        return followed;
    }
    followed.evidence = track::gatherEvidence(followed.index, {0, followed.index.frameCount() - 1},
                                              clickOn(renderer.scene()), pose::poseDirectory(),
                                              pose::PoseSize::heavy)
                            .value();
    write(beside, track::toBytes(followed.evidence));
    return followed;
}

std::optional<body::SeenRep> seenRep(const FollowedFilm& film, Landmarks landmarks,
                                     std::uint32_t seed) {
    const synth::FilmSpec& spec = film.spec;
    const synth::FilmScene scene(spec);
    const technique::Pack pack = packOf(spec.player.technique);
    const model::Player player = playerOf(spec.player);
    model::Clip clip;
    if (film.around != Around::between) {
        clip.view = spec.camera.view; // of a camera that is square to nothing a coach says none
    }
    clip.captureRate = spec.captureRate;
    model::Rep rep;
    rep.techniqueId = spec.player.technique;
    rep.positions = synth::truePositions(scene);
    technique::Circumstances circumstances =
        prepare::circumstancesOf(pack, player, clip, rep, film.index, film.study, model::Day());
    circumstances.ageYears = yearsOf(spec.player.build.band);
    track::Evidence evidence = film.evidence;
    if (landmarks == Landmarks::confirmed) {
        placeAtPositions(rep, scene, seed);
        prepare::followPlaced(evidence, film.index, pack, rep, circumstances, film.study.camera);
    }
    rep.landmarks = prepare::marksFrom(evidence, pack, rep, circumstances).landmarks;
    const auto work = prepare::bodyWork(pack, player, rep, circumstances, film.index.width,
                                        film.index.height, &evidence);
    if (!work) {
        return std::nullopt;
    }
    body::SeenRep seen = work->seen;
    if (work->usual) {
        prepare::addUsualPoses(seen, *work->usual);
    }
    return seen;
}

} // namespace kestrel::study
