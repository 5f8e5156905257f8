#include "study/body_population.h"

#include "prepare/usual_motion.h"
#include "study/machine_error.h"
#include "synth/motion_sheet.h"
#include "synth/truth.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <random>
#include <set>

namespace kestrel::study {
namespace {

using model::Landmark;

bool isPossible(const synth::PlayerSpec& player) {
    try {
        const synth::PlayerMotion motion(player);
        return true;
    } catch (const std::runtime_error&) {
        return false; // not with this dial, or in this manner, on this body
    }
}

/// Until the motion comes about.
synth::PlayerSpec drawnPlayer(std::mt19937& random) {
    const DrawnPlayer drawn = drawPlayer(random);
    synth::PlayerSpec player =
        drawn.turned && isPossible(*drawn.turned) ? *drawn.turned : drawn.plain;
    constexpr int manners = 20;
    for (int tries = 0; !isPossible(player); ++tries) {
        player.manner = tries < manners ? random() | 1U : 0;
        player.level = std::min(1.0, player.level + 0.1);
        if (player.manner == 0) {
            player.build.individual = 0;
        }
    }
    return player;
}

/// As the program knows it: nothing of the player's own manner, level and dials.
prepare::UsualMotion usualMotion(const synth::FilmScene& scene) {
    const synth::PlayerSpec& player = scene.spec().player;
    prepare::UsualMotion motion;
    motion.player.technique = player.technique;
    motion.player.variant = player.variant;
    motion.player.hand = player.hand;
    motion.player.build = player.build;
    motion.player.build.individual = 0;
    for (const auto& [id, frame] : synth::truePositions(scene)) {
        motion.positions[id] = model::Seconds(scene.frameTime(frame));
    }
    return motion;
}

} // namespace

DrawnPlayer drawPlayer(std::mt19937& random) {
    std::uniform_real_distribution<double> share;
    const auto techniques = synth::techniquesWithMotion();
    synth::PlayerSpec player;
    player.technique = techniques[random() % techniques.size()];
    player.level = share(random);
    player.seed = random() | 1U;
    player.manner = random() | 1U;
    player.hand = share(random) < 0.3 ? model::Hand::left : model::Hand::right;
    struct Grown {
        synth::AgeBand band;
        double least;
        double most;
    };
    constexpr std::array bands{
        Grown{synth::AgeBand::under10, 1.15, 1.38}, Grown{synth::AgeBand::under13, 1.35, 1.58},
        Grown{synth::AgeBand::under16, 1.50, 1.78}, Grown{synth::AgeBand::adult, 1.58, 1.95}};
    const Grown& grown = bands[random() % bands.size()];
    player.build = {grown.least + (grown.most - grown.least) * share(random), grown.band,
                    share(random) < 0.5 ? synth::Sex::female : synth::Sex::male,
                    static_cast<std::uint32_t>(random() | 1U)};
    const auto& dials = synth::loadMotionSheet(player.technique).dials;
    if (share(random) < 0.5 && !dials.empty()) {
        synth::PlayerSpec turned = player;
        const auto dial = std::next(dials.begin(), static_cast<long>(random() % dials.size()));
        turned.dials[dial->first] = dial->second.most * share(random);
        return {player, turned};
    }
    return {player, std::nullopt};
}

std::string_view name(Around around) {
    constexpr std::array names{std::string_view("side"), std::string_view("front"),
                               std::string_view("rear"), std::string_view("between")};
    return names[static_cast<std::size_t>(around)];
}

std::string_view name(Landmarks landmarks) {
    constexpr std::array names{std::string_view("placed"), std::string_view("tracked"),
                               std::string_view("positions"), std::string_view("followed"),
                               std::string_view("confirmed")};
    return names[static_cast<std::size_t>(landmarks)];
}

bool isOfRenderedFilm(Landmarks landmarks) {
    return landmarks == Landmarks::followed || landmarks == Landmarks::confirmed;
}

int yearsOf(synth::AgeBand band) {
    switch (band) {
    case synth::AgeBand::under10:
        return 8;
    case synth::AgeBand::under13:
        return 11;
    case synth::AgeBand::under16:
        return 15;
    case synth::AgeBand::adult:
        break;
    }
    return 25;
}

synth::FilmSpec drawnFilm(std::uint32_t seed, Around around) {
    std::mt19937 random(seed);
    synth::FilmSpec film;
    film.player = drawnPlayer(random);
    film.width = 1920;
    film.height = 1080;
    drawCamera(film, around, random);
    return film;
}

void drawCamera(synth::FilmSpec& film, Around around, std::mt19937& random) {
    std::uniform_real_distribution<double> share;
    std::normal_distribution<double> normal;
    constexpr std::array rates{30, 60, 120, 240};
    const int rate = rates[random() % rates.size()];
    film.captureRate = rate;
    film.fileRate = {rate, 1};
    constexpr double square = 5.0;
    film.camera.aroundDeg = square * (2.0 * share(random) - 1.0);
    switch (around) {
    case Around::side:
        film.camera.view = share(random) < 0.5 ? model::View::openSide : model::View::closedSide;
        break;
    case Around::front:
        film.camera.view = model::View::front;
        break;
    case Around::rear:
        film.camera.view = model::View::rear;
        break;
    case Around::between:
        film.camera.view = share(random) < 0.5 ? model::View::openSide : model::View::closedSide;
        film.camera.aroundDeg =
            (share(random) < 0.5 ? -1.0 : 1.0) * (square + (90.0 - 2.0 * square) * share(random));
        break;
    }
    film.camera.distanceM = 3.0 * std::pow(5.0, share(random));
    film.camera.heightM = 0.5 + 2.5 * share(random) * share(random);
    film.camera.rollDeg = normal(random);
    film.camera.distortion = -0.03 * share(random);
}

body::SeenRep seenRep(const synth::FilmScene& scene, Landmarks landmarks, std::uint32_t seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal;
    const synth::FilmSpec& spec = scene.spec();
    const synth::Build& build = spec.player.build;
    body::SeenRep rep;
    rep.width = spec.width;
    rep.height = spec.height;
    rep.lengths = body::partLengths(
        yearsOf(build.band), build.sex == synth::Sex::male ? model::Sex::boy : model::Sex::girl);
    rep.nearerErrorLasts = model::Seconds(depthErrorLastsS);
    rep.feetGlide = spec.player.technique == "snap_shot";
    const double bodyPx = spec.camera.bodyFraction * spec.height;
    constexpr double placedPx = 1.5;

    const auto truth = synth::trueLandmarks(scene);
    std::set<int> positions;
    for (const auto& [id, frame] : synth::truePositions(scene)) {
        positions.insert(frame);
    }
    std::map<Landmark, LastingError> depthErrors;
    std::map<Landmark, std::array<LastingError, 2>> picture;
    constexpr double mostRate = 60.0;
    const int every = std::max(1, static_cast<int>(spec.captureRate / mostRate + 0.01));
    double before = 0.0;
    for (const auto& [frame, points] : truth) {
        const bool onTheWay = frame % every == 0 && landmarks != Landmarks::atPositions;
        if (!onTheWay && !positions.contains(frame)) {
            continue;
        }
        const double time = scene.frameTime(frame);
        const synth::Pose pose = scene.motion().pose(time);
        const synth::Camera camera = scene.camera(time);
        const auto depth = [&](Landmark l) { return camera.inCamera(pose.at(l)).z(); };
        const double hips = 0.5 * (depth(Landmark::leftHip) + depth(Landmark::rightHip));
        body::SeenInstant instant;
        instant.time = model::Seconds(time);
        instant.wanted = positions.contains(frame);
        for (const auto& [landmark, point] : points) {
            if (!model::isOfBody(landmark)) {
                continue;
            }
            body::Seen seen;
            seen.trusted = landmarks != Landmarks::tracked;
            if (seen.trusted) {
                seen.sdPx = placedPx;
                seen.px = point.px + model::Point2{normal(random), normal(random)} * placedPx;
            } else {
                const MachineError error = machineError(landmark, bodyPx);
                auto& lasting = picture[landmark];
                const auto axis = [&](LastingError& e) {
                    return error.scatterPx * normal(random) +
                           error.lastingPx * e.next(time - before, machineErrorLastsS, random);
                };
                const double x = axis(lasting[0]);
                const double y = axis(lasting[1]);
                seen.px = point.px + model::Point2{x, y};
                seen.sdPx = error.scatterPx;
                seen.fadingPx = error.lastingPx;
            }
            if (landmarks != Landmarks::atPositions) {
                const double error = depthErrorBh * depthErrors[landmark].next(
                                                        time - before, depthErrorLastsS, random);
                seen.nearer = body::NearerThanHips{(hips - depth(landmark)) / build.heightM + error,
                                                   depthErrorBh};
            }
            instant.points[landmark] = seen;
        }
        before = time;
        rep.instants.push_back(std::move(instant));
    }
    prepare::addUsualPoses(rep, usualMotion(scene));
    return rep;
}

} // namespace kestrel::study
