#include "synth/truth.h"

#include "model/clip_time.h"
#include "track/files/landmark_csv.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <array>
#include <cmath>
#include <fstream>
#include <functional>
#include <future>
#include <random>
#include <stdexcept>
#include <thread>

namespace kestrel::synth {
namespace {

using model::Landmark;
using nlohmann::json;

double degrees(double radians) {
    return model::degreesFromRadians(radians).value;
}

double interior(const Pose& pose, Landmark a, Landmark joint, Landmark b) {
    const Vector u = pose.at(a) - pose.at(joint);
    const Vector v = pose.at(b) - pose.at(joint);
    return degrees(std::atan2(u.cross(v).norm(), u.dot(v)));
}

/// Level heading of a direction: 0 to the target, 90 to +y.
double heading(const Vector& v) {
    return degrees(std::atan2(v.y(), v.x()));
}

/// Numbers rounded for the file: hundredths of a millimetre, thousandths of a pixel or degree.
double rounded(double value, double step) {
    return std::round(value / step) * step;
}

json list(const Vector& v) {
    constexpr double step = 1e-5;
    return {rounded(v.x(), step), rounded(v.y(), step), rounded(v.z(), step)};
}

json cameraJson(const Camera& camera) {
    const auto exact = [](const Vector& v) { return json{v.x(), v.y(), v.z()}; };
    const model::Point2 centre = camera.principalPoint();
    return {{"position_m", exact(camera.position)},
            {"right", exact(camera.right)},
            {"down", exact(camera.down)},
            {"forward", exact(camera.forward)},
            {"focal_px", camera.focalPx},
            {"principal_px", {centre.x, centre.y}},
            {"radial_distortion", camera.distortion}};
}

json frameJson(const FrameRenderer& renderer, int frame) {
    const FilmScene& scene = renderer.scene();
    const double time = scene.frameTime(frame);
    const Pose pose = scene.motion().pose(time);
    const Camera camera = scene.camera(time);
    const auto hidden = renderer.hidden(frame);
    constexpr double step = 1e-3;
    json points;
    for (const Landmark landmark : model::allLandmarks()) {
        if (!pose.has(landmark)) {
            continue;
        }
        json point{{"m", list(pose.at(landmark))},
                   {"hidden", static_cast<bool>(hidden[static_cast<std::size_t>(landmark)])}};
        if (const auto px = camera.project(pose.at(landmark))) {
            point["px"] = {rounded(px->x, step), rounded(px->y, step)};
        }
        points[std::string(name(landmark))] = std::move(point);
    }
    const Vector hips = 0.5 * (pose.at(Landmark::leftHip) + pose.at(Landmark::rightHip));
    const Vector neck = 0.5 * (pose.at(Landmark::leftShoulder) + pose.at(Landmark::rightShoulder));
    const Vector trunk = neck - hips;
    const auto angle = [&](Landmark a, Landmark joint, Landmark b) {
        return rounded(interior(pose, a, joint, b), step);
    };
    json result{
        {"frame", frame},
        {"time_s", rounded(time, 1e-6)},
        {"points", points},
        {"centre_of_mass_m", list(centreOfMass(pose))},
        {"headings_deg",
         {{"pelvis", rounded(heading(pose.pelvisFront), step)},
          {"shoulders",
           rounded(heading(pose.at(Landmark::leftShoulder) - pose.at(Landmark::rightShoulder)),
                   step)},
          {"chest", rounded(heading(pose.chest), step)},
          {"look", rounded(heading(pose.face), step)}}},
        {"trunk_lean_deg",
         {{"to_target", rounded(degrees(std::atan2(trunk.x(), trunk.z())), step)},
          {"to_side", rounded(degrees(std::atan2(trunk.y(), trunk.z())), step)}}},
        {"interior_deg",
         {{"left_elbow", angle(Landmark::leftShoulder, Landmark::leftElbow, Landmark::leftWrist)},
          {"right_elbow",
           angle(Landmark::rightShoulder, Landmark::rightElbow, Landmark::rightWrist)},
          {"left_knee", angle(Landmark::leftHip, Landmark::leftKnee, Landmark::leftAnkle)},
          {"right_knee", angle(Landmark::rightHip, Landmark::rightKnee, Landmark::rightAnkle)},
          {"left_hip", angle(Landmark::leftShoulder, Landmark::leftHip, Landmark::leftKnee)},
          {"right_hip", angle(Landmark::rightShoulder, Landmark::rightHip, Landmark::rightKnee)},
          {"left_shoulder", angle(Landmark::leftHip, Landmark::leftShoulder, Landmark::leftElbow)},
          {"right_shoulder",
           angle(Landmark::rightHip, Landmark::rightShoulder, Landmark::rightElbow)}}}};
    if (scene.cameraMoves()) {
        result["camera"] = cameraJson(camera);
    }
    return result;
}

} // namespace

model::LandmarkTrack trueLandmarks(const FilmScene& scene) {
    model::LandmarkTrack track;
    for (int frame = 0; frame < scene.frameCount(); ++frame) {
        const double time = scene.frameTime(frame);
        const Pose pose = scene.motion().pose(time);
        const Camera camera = scene.camera(time);
        for (const Landmark landmark : model::allLandmarks()) {
            if (!pose.has(landmark)) {
                continue;
            }
            if (const auto px = camera.project(pose.at(landmark))) {
                track[frame][landmark] = {*px, 0.0, model::Source::placed, false};
            }
        }
    }
    return track;
}

model::LandmarkTrack placedLandmarks(const FilmScene& scene,
                                     const std::map<std::string, int>& positions, double sdPx,
                                     std::uint32_t seed) {
    const model::LandmarkTrack all = trueLandmarks(scene);
    std::mt19937 random(seed);
    std::normal_distribution<double> error(0.0, sdPx);
    model::LandmarkTrack placed;
    for (const auto& [id, frame] : positions) {
        if (!all.contains(frame) || placed.contains(frame)) {
            continue;
        }
        for (const auto& [landmark, point] : all.at(frame)) {
            model::LandmarkPoint shifted = point;
            shifted.px = {point.px.x + error(random), point.px.y + error(random)};
            shifted.sdPx = sdPx;
            placed[frame][landmark] = shifted;
        }
    }
    return placed;
}

std::map<std::string, int> truePositions(const FilmScene& scene) {
    std::map<std::string, int> frames;
    for (const std::string& id : scene.motion().sheet().positions) {
        frames[id] = scene.frameAt(scene.motion().events().at(id));
    }
    return frames;
}

std::map<std::string, double> trueMeasures(const FilmScene& scene) {
    const PlayerMotion& motion = scene.motion();
    Events atFrames;
    for (const auto& [id, time] : motion.events()) {
        atFrames[id] = scene.frameTime(scene.frameAt(time));
    }
    std::map<std::string, double> values;
    for (const auto& [id, quantity] : motion.sheet().quantities) {
        const bool isTime = quantity.unit == "ms" || quantity.unit == "s";
        values[id] = quantity.reading(motion, isTime ? motion.events() : atFrames);
    }
    return values;
}

json truthJson(const FrameRenderer& renderer) {
    const FilmScene& scene = renderer.scene();
    const FilmSpec& spec = scene.spec();
    const PlayerMotion& motion = scene.motion();
    const MotionSheet& sheet = motion.sheet();
    json truth{
        {"format", 2},
        {"technique", sheet.technique},
        {"variant", spec.player.variant},
        {"player",
         {{"height_m", spec.player.build.heightM},
          {"age_band", name(spec.player.build.band)},
          {"sex", name(spec.player.build.sex)},
          {"hand", name(spec.player.hand)},
          {"level", spec.player.level},
          {"seed", spec.player.seed},
          {"manner", spec.player.manner}}},
        {"dials", spec.player.dials},
        {"place", spec.place.empty() ? sheet.place : spec.place},
        {"film",
         {{"view", name(spec.camera.view)},
          {"width", spec.width},
          {"height", spec.height},
          {"frames", scene.frameCount()},
          {"capture_rate", spec.captureRate},
          {"file_rate", spec.fileRate.toDouble()},
          {"exposure_s", spec.exposureS},
          {"interlaced", spec.interlaced}}},
        {"camera", cameraJson(scene.steadyCamera())},
        {"anchor", sheet.anchor},
    };
    if (motion.ball() != nullptr) {
        truth["ball_radius_m"] = motion.ball()->radiusM;
    }
    if (motion.implement().kind != ImplementKind::none) {
        truth["implement_length_m"] = motion.implement().lengthM;
    }
    for (const auto& [id, time] : motion.events()) {
        const bool position =
            std::find(sheet.positions.begin(), sheet.positions.end(), id) != sheet.positions.end();
        truth[position ? "positions" : "events"][id] = {
            {"time_s", time},
            {"frame", scene.frameAt(time)},
            {"exact_frame", (time - scene.firstTime()) * spec.captureRate}};
    }
    const auto exact = motion.quantities();
    const auto atFrames = trueMeasures(scene);
    for (const auto& [id, quantity] : sheet.quantities) {
        truth["quantities"][id] = {{"name", quantity.name},
                                   {"unit", quantity.unit},
                                   {"value", exact.at(id)},
                                   {"at_frames", atFrames.at(id)}};
    }
    const int count = scene.frameCount();
    const int atOnce = static_cast<int>(std::max(1U, std::thread::hardware_concurrency()));
    for (int next = 0; next < count; next += atOnce) {
        std::vector<std::future<json>> frames;
        for (int frame = next; frame < std::min(count, next + atOnce); ++frame) {
            frames.push_back(std::async(std::launch::async, frameJson, std::cref(renderer), frame));
        }
        for (auto& frame : frames) {
            truth["frames"].push_back(frame.get());
        }
    }
    return truth;
}

void writeTruth(const FrameRenderer& renderer, const std::filesystem::path& film) {
    const FilmScene& scene = renderer.scene();
    const auto beside = [&](const char* ending) {
        std::filesystem::path path = film;
        return path.replace_extension(ending);
    };
    std::vector<model::Seconds> times;
    times.reserve(static_cast<std::size_t>(scene.frameCount()));
    for (int frame = 0; frame < scene.frameCount(); ++frame) {
        times.emplace_back(frame / scene.spec().captureRate);
    }
    std::ofstream landmarks(beside(".landmarks.csv"));
    track::writeLandmarks(landmarks, trueLandmarks(scene), model::ClipTime(std::move(times)));
    std::ofstream truth(beside(".truth.json"));
    truth << truthJson(renderer).dump() << '\n';
    if (!landmarks.flush() || !truth.flush()) {
        throw std::runtime_error("the truth beside " + film.string() + " cannot be written");
    }
}

} // namespace kestrel::synth
