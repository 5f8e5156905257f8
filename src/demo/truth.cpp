#include "demo/truth.h"

#include "model/clip_time.h"
#include "track/landmark_csv.h"

#include <Eigen/Geometry>

#include <cmath>
#include <fstream>
#include <random>
#include <stdexcept>

namespace kestrel::demo {
namespace {

using model::Landmark;

double degrees(double radians) {
    return model::degreesFromRadians(radians).value;
}

double between(const Vector& u, const Vector& v) {
    return degrees(std::atan2(u.cross(v).norm(), u.dot(v)));
}

double interior(const Vector& a, const Vector& joint, const Vector& b) {
    return between(a - joint, b - joint);
}

double aboveLevel(const Vector& from, const Vector& to) {
    const Vector d = to - from;
    return degrees(std::atan2(d.z(), std::hypot(d.x(), d.y())));
}

/// Against the vertical, in the vertical plane through the target line; the target is at +x.
double forwardLean(const Vector& bottom, const Vector& top) {
    const Vector d = top - bottom;
    return degrees(std::atan2(d.x(), d.z()));
}

/// A pose by the pitcher's sides, as a right-hander: lead is left, throwing is right.
class Sided {
  public:
    Sided(const Pose& pose, model::Hand hand)
        : pose_(hand == model::Hand::right ? pose : mirrored(pose)) {}

    [[nodiscard]] const Vector& operator()(Landmark rightHanders) const {
        return pose_.at(rightHanders);
    }
    [[nodiscard]] Vector midHip() const {
        return 0.5 * (pose_.at(Landmark::leftHip) + pose_.at(Landmark::rightHip));
    }
    [[nodiscard]] Vector neck() const {
        return 0.5 * (pose_.at(Landmark::leftShoulder) + pose_.at(Landmark::rightShoulder));
    }

  private:
    Pose pose_;
};

double kneeFlexion(const Sided& p, bool lead) {
    return lead ? 180.0 -
                      interior(p(Landmark::leftHip), p(Landmark::leftKnee), p(Landmark::leftAnkle))
                : 180.0 - interior(p(Landmark::rightHip), p(Landmark::rightKnee),
                                   p(Landmark::rightAnkle));
}

double throwingElbow(const Sided& p) {
    return interior(p(Landmark::rightShoulder), p(Landmark::rightElbow), p(Landmark::rightWrist));
}

double gloveElbow(const Sided& p) {
    return interior(p(Landmark::leftShoulder), p(Landmark::leftElbow), p(Landmark::leftWrist));
}

double trunkLean(const Sided& p) {
    return forwardLean(p.midHip(), p.neck());
}

double abduction(const Sided& p) {
    return between(p(Landmark::rightElbow) - p(Landmark::rightShoulder), p.midHip() - p.neck());
}

/// Forearm against the trunk, 90° along it and 180° straight back from it, about the axis that a
/// side view looks along.
double layBack(const Sided& p) {
    const double turned =
        trunkLean(p) - forwardLean(p(Landmark::rightElbow), p(Landmark::rightWrist));
    return 90.0 + std::remainder(turned, 360.0);
}

} // namespace

model::LandmarkTrack trueLandmarks(const FilmSpec& spec) {
    const PitchMotion motion(spec.pitcher);
    const Camera camera = cameraOf(spec);
    model::LandmarkTrack track;
    for (int frame = 0; frame < frameCount(spec); ++frame) {
        const Pose pose = motion.pose(frameTime(spec, frame));
        for (const Landmark landmark : model::allLandmarks()) {
            if (const auto px = camera.project(pose.at(landmark))) {
                track[frame][landmark] = {*px, 0.0, model::Source::placed, false};
            }
        }
    }
    return track;
}

model::LandmarkTrack placedLandmarks(const FilmSpec& spec,
                                     const std::map<std::string, int>& positions, double sdPx,
                                     std::uint32_t seed) {
    const model::LandmarkTrack all = trueLandmarks(spec);
    std::mt19937 random(seed);
    std::normal_distribution<double> error(0.0, sdPx);
    model::LandmarkTrack placed;
    for (const auto& [position, frame] : positions) {
        if (placed.contains(frame)) {
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

std::map<std::string, int> truePositions(const FilmSpec& spec) {
    const PitchMotion motion(spec.pitcher);
    std::map<std::string, int> frames;
    for (const auto& [id, time] : motion.events()) {
        frames[id] = static_cast<int>(std::lround((time - spec.fromS) * spec.captureRate));
    }
    return frames;
}

std::map<std::string, double> trueMeasures(const FilmSpec& spec) {
    const PitchMotion motion(spec.pitcher);
    const double height = spec.pitcher.heightM;
    const auto frames = truePositions(spec);
    const auto at = [&](const char* id) {
        return Sided(motion.pose(frameTime(spec, frames.at(id))), spec.pitcher.hand);
    };
    const Sided set = at("set");
    const Sided lift = at("lift_top");
    const Sided stride = at("stride");
    const Sided plant = at("foot_plant");
    const Sided layBackAt = at("lay_back");
    const Sided release = at("release");
    const Sided finish = at("finish");
    const auto ahead = [&](const Vector& from, const Vector& to) {
        return (to.x() - from.x()) / height;
    };
    const auto apart = [&](const Vector& a, const Vector& b) { return (b - a).norm() / height; };
    const auto time = [&](const char* from, const char* to) {
        return motion.events().at(to) - motion.events().at(from);
    };
    constexpr double ms = 1000.0;
    return {
        {"set_feet_apart", (set(Landmark::leftAnkle) - set(Landmark::rightAnkle)).norm() /
                               (set(Landmark::leftShoulder) - set(Landmark::rightShoulder)).norm()},
        {"set_head_gather", ahead(set(Landmark::rightAnkle), set(Landmark::head))},
        {"lift_thigh", aboveLevel(lift(Landmark::leftHip), lift(Landmark::leftKnee))},
        {"lift_posture_change", std::abs(trunkLean(lift) - trunkLean(set))},
        {"lift_head_over_pivot", std::abs(ahead(lift(Landmark::rightAnkle), lift(Landmark::head)))},
        {"hands_after_hips", ms * time("hips_start", "hands_part")},
        {"leg_after_hips", ms * time("hips_start", "leg_start")},
        {"stride_head_drop", (lift(Landmark::head).z() - stride(Landmark::head).z()) / height},
        {"stride_trail_knee", kneeFlexion(stride, false)},
        {"stride_hips_lead", ahead(stride(Landmark::head), stride.midHip())},
        {"stride_glove_elbow", gloveElbow(stride)},
        {"plant_stride_length", apart(plant(Landmark::rightAnkle), plant(Landmark::leftAnkle))},
        {"plant_lead_knee", kneeFlexion(plant, true)},
        {"plant_abduction", abduction(plant)},
        {"plant_forearm", aboveLevel(plant(Landmark::rightElbow), plant(Landmark::rightWrist))},
        {"plant_elbow", throwingElbow(plant)},
        {"plant_pelvis_tilt", aboveLevel(plant(Landmark::rightHip), plant(Landmark::leftHip))},
        {"lay_back_angle", layBack(layBackAt)},
        {"release_knee_change", kneeFlexion(plant, true) - kneeFlexion(release, true)},
        {"release_lead_knee", kneeFlexion(release, true)},
        {"release_trunk_lean", trunkLean(release)},
        {"release_glove",
         apart(release(Landmark::leftWrist),
               0.75 * release(Landmark::leftShoulder) + 0.25 * release(Landmark::leftHip))},
        {"release_head_over_foot", ahead(release(Landmark::leftAnkle), release(Landmark::head))},
        {"finish_hand_below_knee",
         (finish(Landmark::leftKnee).z() - finish(Landmark::rightWrist).z()) / height},
        {"finish_balance", time("finish", "balance_end")},
        {"tempo", time("lift_top", "foot_plant")},
        {"plant_to_release", time("foot_plant", "release")},
    };
}

nlohmann::json truthJson(const FilmSpec& spec) {
    const PitchMotion motion(spec.pitcher);
    const Camera camera = cameraOf(spec);
    const auto list = [](const Vector& v) { return nlohmann::json{v.x(), v.y(), v.z()}; };
    nlohmann::json truth{
        {"format", 1},
        {"technique", "overhand_pitch"},
        {"height_m", spec.pitcher.heightM},
        {"hand", name(spec.pitcher.hand)},
        {"view", "open_side"},
        {"capture_rate", spec.captureRate},
        {"file_rate", spec.fileRate.toDouble()},
        {"exposure_s", spec.exposureS},
        {"dials",
         {{"late_arm_ms", spec.pitcher.dials.lateArmMs},
          {"back_leg_drop_bh", spec.pitcher.dials.backLegDropBh},
          {"upright_finish_deg", spec.pitcher.dials.uprightFinishDeg}}},
        {"camera",
         {{"position_m", list(camera.position)},
          {"right", list(camera.right)},
          {"forward", list(camera.forward)},
          {"focal_px", camera.focalPx},
          {"width", camera.width},
          {"height", camera.height}}},
        {"measures", trueMeasures(spec)},
    };
    const auto frames = truePositions(spec);
    for (const auto& [id, time] : motion.events()) {
        truth["positions"][id] = {{"time_from_release_s", time}, {"frame", frames.at(id)}};
    }
    for (int frame = 0; frame < frameCount(spec); ++frame) {
        const Sided p(motion.pose(frameTime(spec, frame)), spec.pitcher.hand);
        truth["angles_deg"].push_back({{"frame", frame},
                                       {"lead_knee_flexion", kneeFlexion(p, true)},
                                       {"trail_knee_flexion", kneeFlexion(p, false)},
                                       {"throwing_elbow_interior", throwingElbow(p)},
                                       {"glove_elbow_interior", gloveElbow(p)},
                                       {"upper_arm_against_trunk", abduction(p)},
                                       {"trunk_forward_lean", trunkLean(p)}});
    }
    return truth;
}

void writeTruth(const FilmSpec& spec, const std::filesystem::path& film) {
    const auto beside = [&](const char* ending) {
        std::filesystem::path path = film;
        return path.replace_extension(ending);
    };
    std::vector<model::Seconds> times;
    for (int frame = 0; frame < frameCount(spec); ++frame) {
        times.emplace_back(frame / spec.captureRate);
    }
    std::ofstream landmarks(beside(".landmarks.csv"));
    track::writeLandmarks(landmarks, trueLandmarks(spec), model::ClipTime(std::move(times)));
    std::ofstream truth(beside(".truth.json"));
    truth << truthJson(spec).dump(1) << '\n';
    if (!landmarks.flush() || !truth.flush()) {
        throw std::runtime_error("the truth beside " + film.string() + " cannot be written");
    }
}

} // namespace kestrel::demo
