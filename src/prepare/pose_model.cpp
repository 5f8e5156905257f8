#include "prepare/pose_model.h"

#include "prepare/circumstances.h"
#include "prepare/usual_motion.h"
#include "synth/outfits.h"
#include "synth/truth.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <stdexcept>

namespace kestrel::prepare {
namespace {

/// Axes of the level view of a camera, one a row: to the right, away, up.
Eigen::Matrix3d levelAxes(const synth::Camera& camera) {
    Eigen::Vector3d right = camera.right;
    right.z() = 0.0;
    right.normalize();
    Eigen::Matrix3d axes;
    axes.row(0) = right;
    axes.row(1) = Eigen::Vector3d::UnitZ().cross(right);
    axes.row(2) = Eigen::Vector3d::UnitZ();
    return axes;
}

/// Direction of the target, which is that of the scene's x axis, over away from the camera.
double targetAzimuth(const synth::FilmScene& scene) {
    const Eigen::Vector3d target = levelAxes(scene.steadyCamera()) * Eigen::Vector3d::UnitX();
    return std::atan2(target.y(), target.x());
}

/// Turns the camera about the player until it sees the target in that direction.
void lookFrom(synth::FilmScene& scene, double azimuth) {
    synth::CameraSpec camera = scene.spec().camera;
    const double rate = scene.spec().captureRate;
    const double before = targetAzimuth(scene);
    constexpr double oneDegree = 1.0;
    camera.aroundDeg = oneDegree;
    scene.refilm(camera, rate);
    const bool sameWay = std::remainder(targetAzimuth(scene) - before, 2.0 * std::numbers::pi) > 0;
    const double turn =
        model::degreesFromRadians(std::remainder(azimuth - before, 2.0 * std::numbers::pi)).value;
    camera.aroundDeg = sameWay ? turn : -turn;
    scene.refilm(camera, rate);
}

/// Standing height over picture height: how large the player is in the film.
double bodyFraction(const JudgedRep& rep, int height) {
    constexpr double usual = 0.62;
    constexpr double smallest = 0.3;
    constexpr double largest = 0.7; // room for raised arms and what they hold
    const auto tall = technique::bodyHeight(*rep.pack, rep.rep, rep.circumstances.hand);
    return tall ? std::clamp(tall->value / height, smallest, largest) : usual;
}

/// Nothing is shaken, blurred or noisy: it is there to be looked at.
synth::FilmSpec filmOf(const JudgedRep& rep, const synth::PlayerSpec& player, int width,
                       int height) {
    constexpr double pictureHeight = 480.0;
    constexpr double framesASecond = 120.0;
    constexpr std::uint32_t plainOutfit = 3;
    constexpr double instantS = 1.0 / 4000.0;
    synth::FilmSpec film;
    film.player = player;
    film.outfit = synth::outfitFor(player.technique, plainOutfit);
    film.height = static_cast<int>(pictureHeight);
    film.width = 2 * static_cast<int>(std::lround(0.5 * pictureHeight * width / height));
    film.captureRate = framesASecond;
    film.fileRate = {static_cast<int>(framesASecond), 1};
    film.exposureS = instantS;
    film.noise = 0.0;
    film.camera.bodyFraction = bodyFraction(rep, height);
    const technique::Circumstances& seen = rep.circumstances;
    film.camera.view = seen.view.value_or(seen.nearestView.value_or(rep.pack->filming.view));
    if (seen.body) {
        const double metres = seen.body->distanceBh() * player.build.heightM;
        constexpr double nearest = 3.0;
        constexpr double farthest = 40.0;
        film.camera.distanceM = std::clamp(metres, nearest, farthest);
    }
    return film;
}

} // namespace

body::FittedParts trueBody(const synth::FilmScene& scene) {
    const Eigen::Matrix3d axes = levelAxes(scene.steadyCamera());
    const double height = scene.motion().heightM();
    body::FittedParts parts;
    parts.distanceBh = scene.spec().camera.distanceM / height;
    for (int frame = 0; frame < scene.frameCount(); ++frame) {
        parts.times.emplace_back(scene.frameTime(frame) - scene.firstTime());
        const synth::Pose pose = scene.motion().pose(scene.frameTime(frame));
        for (const model::Landmark landmark : model::allLandmarks()) {
            if (!model::isOfBody(landmark)) {
                continue;
            }
            const Eigen::Vector3d place = axes * pose.at(landmark) / height;
            parts.places.insert(parts.places.end(),
                                {static_cast<float>(place.x()), static_cast<float>(place.y()),
                                 static_cast<float>(place.z())});
        }
    }
    return parts;
}

std::optional<PoseModel> poseModel(const JudgedRep& rep, int width, int height, model::Day today) {
    if (rep.notJudged) {
        return std::nullopt;
    }
    const auto player = usualPlayer(*rep.pack, rep.player, rep.circumstances);
    if (!player) {
        return std::nullopt;
    }
    synth::FilmScene scene(filmOf(rep, *player, width, height));
    if (rep.circumstances.body && rep.circumstances.body->target()) {
        synth::CameraSpec square = scene.spec().camera;
        square.view = model::View::openSide;
        scene.refilm(square, scene.spec().captureRate);
        lookFrom(scene, rep.circumstances.body->target()->radians);
    }
    PoseModel made;
    made.film = scene.spec();
    JudgedRep& judged = made.judged;
    judged.player = rep.player;
    judged.pack = rep.pack;
    judged.clip.playerId = rep.player.id;
    judged.clip.filmed = rep.clip.filmed; // so that it is judged at the same age
    judged.clip.captureRate = scene.spec().captureRate;
    judged.clip.view = rep.circumstances.view;
    judged.clip.foundView = rep.clip.foundView;
    judged.clip.schools = rep.circumstances.schools;
    judged.rep.id = poseModelRep;
    judged.rep.techniqueId = rep.rep.techniqueId;
    judged.rep.variant = rep.rep.variant;
    judged.rep.shotType = rep.rep.shotType;
    judged.rep.landmarks = synth::trueLandmarks(scene);
    judged.rep.positions = synth::truePositions(scene);
    for (const std::string& absent : scene.motion().eventsAtAnEnd()) {
        judged.rep.positions.erase(absent);
    }
    std::vector<model::Seconds> times;
    for (int frame = 0; frame < scene.frameCount(); ++frame) {
        times.emplace_back(scene.frameTime(frame) - scene.firstTime());
    }
    judged.circumstances = circumstancesOf(*rep.pack, rep.player, judged.clip, judged.rep,
                                           model::ClipTime(std::move(times)), scene.spec().width,
                                           scene.spec().height, std::nullopt, today);
    body::FittedParts body = trueBody(scene);
    body.target = body::TargetAzimuth{targetAzimuth(scene), 0.0};
    judged.circumstances.body = std::make_shared<const body::FittedBody>(std::move(body));
    judged.circumstances.bodyOutdated = false;
    judged.review = coaching::reviewOf(*rep.pack, judged.rep, judged.circumstances);
    return made;
}

PoseModelPictures::PoseModelPictures(const PoseModel& model) : renderer_(model.film) {}

film::Picture PoseModelPictures::frame(int number) const {
    if (number < 0 || number >= renderer_.scene().frameCount()) {
        throw std::out_of_range("the pose model has no such frame");
    }
    return renderer_.frame(number);
}

} // namespace kestrel::prepare
