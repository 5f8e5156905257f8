#include "study/tracking_study.h"

#include "film/film_index.h"
#include "model/input_error.h"
#include "prepare/circumstances.h"
#include "prepare/machine_marks.h"
#include "technique/pack/pack_directory.h"
#include "technique/pack/roles.h"
#include "technique/positions/doubt.h"
#include "technique/positions/find_positions.h"
#include "track/camera/film_study.h"
#include "track/files/landmark_csv.h"
#include "track/person/evidence.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <fstream>
#include <functional>
#include <numbers>
#include <optional>
#include <random>

namespace kestrel::study {
namespace {

using model::Landmark;
using nlohmann::json;

Spread spreadOf(std::vector<double> values) {
    std::sort(values.begin(), values.end());
    return {std::move(values)};
}

struct Truth {
    model::LandmarkTrack landmarks;
    json file;
    std::map<std::string, int> positions;
    model::Hand hand = model::Hand::right;
    std::optional<model::View> view;
    double bodyPx = 0.0;

    [[nodiscard]] bool hidden(int frame, Landmark landmark) const {
        const json& points = file["frames"][static_cast<std::size_t>(frame)]["points"];
        const auto point = points.find(std::string(model::name(landmark)));
        return point != points.end() && point->value("hidden", false);
    }
};

Truth readTruth(const std::filesystem::path& film) {
    Truth truth;
    std::filesystem::path beside = film;
    truth.landmarks = track::readLandmarks(beside.replace_extension(".landmarks.csv"));
    std::ifstream stream(beside.replace_extension().replace_extension(".truth.json"));
    truth.file = json::parse(stream, nullptr, false);
    if (truth.file.is_discarded()) {
        throw model::InputError(model::message("study.no_truth", beside.string()),
                                model::message("safe.nothing_changed"),
                                model::message("todo.render_film"));
    }
    for (const auto& [id, when] : truth.file["positions"].items()) {
        truth.positions[id] = when["frame"];
    }
    truth.hand = *model::handFromName(truth.file["player"]["hand"].get<std::string>());
    truth.view = model::viewFromName(truth.file["film"]["view"].get<std::string>());
    // Pixels for a metre at the player, times the standing height.
    const json& points = truth.file["frames"][0]["points"];
    const auto vector = [&](const char* name) {
        const auto& m = points[name]["m"];
        return std::array<double, 3>{m[0], m[1], m[2]};
    };
    const json& camera = truth.file["camera"];
    const auto hip = vector("left_hip");
    double depth = 0.0;
    for (std::size_t axis = 0; axis < hip.size(); ++axis) {
        depth += (hip[axis] - camera["position_m"][axis].get<double>()) *
                 camera["forward"][axis].get<double>();
    }
    truth.bodyPx =
        truth.file["player"]["height_m"].get<double>() * camera["focal_px"].get<double>() / depth;
    return truth;
}

constexpr std::array body{
    Landmark::headTop,   Landmark::head,       Landmark::leftShoulder, Landmark::rightShoulder,
    Landmark::leftElbow, Landmark::rightElbow, Landmark::leftWrist,    Landmark::rightWrist,
    Landmark::leftHand,  Landmark::rightHand,  Landmark::leftHip,      Landmark::rightHip,
    Landmark::leftKnee,  Landmark::rightKnee,  Landmark::leftAnkle,    Landmark::rightAnkle,
    Landmark::leftHeel,  Landmark::rightHeel,  Landmark::leftToe,      Landmark::rightToe};

double direction(model::Point2 from, model::Point2 to) {
    return std::atan2(to.y - from.y, to.x - from.x);
}

/// The angles that are compared, by their landmarks: knees, elbows, and last the trunk. A limb's
/// last landmark stands twice.
constexpr std::array<std::array<Landmark, 4>, 5> angleLandmarks{{
    {Landmark::leftHip, Landmark::leftKnee, Landmark::leftAnkle, Landmark::leftAnkle},
    {Landmark::rightHip, Landmark::rightKnee, Landmark::rightAnkle, Landmark::rightAnkle},
    {Landmark::leftShoulder, Landmark::leftElbow, Landmark::leftWrist, Landmark::leftWrist},
    {Landmark::rightShoulder, Landmark::rightElbow, Landmark::rightWrist, Landmark::rightWrist},
    {Landmark::leftHip, Landmark::rightHip, Landmark::leftShoulder, Landmark::rightShoulder},
}};

constexpr std::size_t trunkAngle = 4;

/// Knees, elbows and trunk of a frame in the picture, degrees; nothing for what is not there.
std::vector<std::optional<double>> anglesOf(const model::LandmarkTrack& track, int frame) {
    const auto degrees = [](double radians) {
        return model::degreesFromRadians(std::remainder(radians, 2.0 * std::numbers::pi)).value;
    };
    const auto at = [&](Landmark landmark) { return model::find(track, frame, landmark); };
    std::vector<std::optional<double>> angles;
    for (std::size_t i = 0; i < trunkAngle; ++i) {
        const auto& [a, b, c, last] = angleLandmarks[i];
        const auto* p = at(a);
        const auto* q = at(b);
        const auto* r = at(c);
        angles.push_back(p && q && r && !p->hidden && !q->hidden && !r->hidden
                             ? std::optional(std::abs(
                                   degrees(direction(q->px, p->px) - direction(q->px, r->px))))
                             : std::nullopt);
    }
    std::array<const model::LandmarkPoint*, 4> trunk{};
    std::transform(angleLandmarks[trunkAngle].begin(), angleLandmarks[trunkAngle].end(),
                   trunk.begin(), at);
    const bool whole = std::none_of(trunk.begin(), trunk.end(), [](const auto* p) { return !p; });
    angles.push_back(whole ? std::optional(degrees(direction(trunk[0]->px + trunk[1]->px,
                                                             trunk[2]->px + trunk[3]->px)))
                           : std::nullopt);
    return angles;
}

/// Of limbs that point at the camera the picture says next to nothing; these are not compared.
bool seenWell(const Truth& truth, int frame, std::size_t angle) {
    if (angle == trunkAngle) {
        return true;
    }
    constexpr double shortest = 0.09; // of standing height; half of a forearm with hand
    const auto& points = truth.landmarks.at(frame);
    const auto& limb = angleLandmarks[angle];
    return length(points.at(limb[0]).px - points.at(limb[1]).px) > shortest * truth.bodyPx &&
           length(points.at(limb[1]).px - points.at(limb[2]).px) > shortest * truth.bodyPx;
}

/// Whether an angle of a position counts.
using AngleFilter = std::function<bool(const std::string& position, std::size_t angle)>;

/// Those that the pack reads at the position.
AngleFilter readThere(const technique::Pack& pack, const technique::Circumstances& circumstances) {
    return [&](const std::string& id, std::size_t angle) {
        const technique::Position* position = technique::findPosition(pack, id);
        if (position == nullptr) {
            return false;
        }
        const auto read = technique::landmarksToPlace(pack, *position, circumstances);
        return std::all_of(angleLandmarks[angle].begin(), angleLandmarks[angle].end(),
                           [&](Landmark landmark) {
                               return std::find(read.begin(), read.end(), landmark) != read.end();
                           });
    };
}

Spread angleErrors(const Truth& truth, const model::LandmarkTrack& track,
                   const AngleFilter& counts = {}) {
    std::vector<double> errors;
    for (const auto& [id, frame] : truth.positions) {
        const auto right = anglesOf(truth.landmarks, frame);
        const auto found = anglesOf(track, frame);
        for (std::size_t i = 0; i < right.size(); ++i) {
            if (right[i] && found[i] && seenWell(truth, frame, i) && (!counts || counts(id, i))) {
                errors.push_back(std::abs(std::remainder(*found[i] - *right[i], 360.0)));
            }
        }
    }
    return spreadOf(std::move(errors));
}

technique::Pack packFor(const std::string& technique) {
    const auto directory = technique::packDirectory();
    return technique::loadPack(directory / "techniques" / (technique + ".json"),
                               technique::packSchema(directory));
}

/// A film as the program sees it, with what a coach has entered of player and camera.
struct Case {
    film::FilmIndex index;
    technique::Pack pack;
    model::FilmStudy study;
    technique::Circumstances circumstances;
};

Case caseOf(const std::filesystem::path& film, const Truth& truth) {
    Case studied{film::buildIndex(film), packFor(truth.file["technique"]), {}, {}};
    studied.study = track::studyFilm(studied.index).value();
    model::Player player;
    player.hand = truth.hand;
    model::Clip clip;
    clip.view = truth.view;
    clip.captureRate = truth.file["film"]["capture_rate"].get<double>();
    studied.circumstances = prepare::circumstancesOf(studied.pack, player, clip, {}, studied.index,
                                                     studied.study, model::Day());
    return studied;
}

/// What the program says where a coach has set `coach`.
prepare::MachineMarks marksWith(const model::Rep& coach, const track::Evidence& evidence,
                                const Case& studied) {
    return prepare::marksFrom(evidence, studied.pack, coach, studied.circumstances);
}

/// How far a found or set frame may lie from the true one to count as right, seconds.
double allowedMiss(const model::ClipTime& time, int frame) {
    constexpr double frameAt60 = 1.0 / 60.0;
    constexpr double rounding = 1e-6;
    return std::max(frameAt60, 0.5 * model::frameInterval(time, frame).value) + rounding;
}

PositionResult positionErrors(const Truth& truth, const technique::Pack& pack,
                              const std::map<std::string, model::FoundInstant>& found,
                              const technique::Circumstances& circumstances) {
    PositionResult result;
    for (const technique::Position& position : pack.positions) {
        const auto right = truth.positions.find(position.id);
        if (right == truth.positions.end() ||
            technique::detectorFor(position, truth.view) == nullptr) {
            continue;
        }
        ++result.asked;
        const auto instant = found.find(position.id);
        if (instant == found.end()) {
            continue;
        }
        ++result.found;
        const int frame = instant->second.frame;
        const double miss =
            std::abs(model::elapsed(circumstances.time, right->second, frame).value);
        const double interval = model::frameInterval(circumstances.time, frame).value;
        // Both frames are rounded: each by a uniform half interval.
        const double sd = std::hypot(instant->second.sd.value, interval / std::sqrt(6.0));
        result.inside95 += miss <= model::coverage95 * sd ? 1 : 0;
        constexpr double perSecond = 1000.0;
        const bool matters = miss > position.lastsMs / perSecond;
        const bool isRight = miss <= allowedMiss(circumstances.time, frame);
        result.lasting += isRight || !matters ? 1 : 0;
        if (isRight) {
            ++result.right;
            continue;
        }
        ++result.wrong;
        result.wrongUnasked +=
            matters && !technique::isDoubtful(position, instant->second, circumstances) ? 1 : 0;
    }
    return result;
}

/// A coach who answers what is asked for. A landmark is put where it is, give or take the error of
/// a click; one that something covers where a coach would guess it: with three times that error.
void askTheCoach(TrackingResult& result, const Truth& truth, track::Evidence evidence,
                 const Case& studied) {
    const model::ClipTime& time = studied.circumstances.time;
    std::mt19937 random(1);
    std::normal_distribution<double> normal;
    constexpr double guess = 3.0;
    model::Rep coach; // what the coach set and placed
    coach.techniqueId = studied.pack.id;
    model::Rep shown; // and what stands there with what the program adds
    const auto weighAnew = [&] {
        prepare::MachineMarks marks = marksWith(coach, evidence, studied);
        shown = coach;
        shown.landmarks = std::move(marks.landmarks);
        shown.found = std::move(marks.positions);
    };
    weighAnew();
    const AngleFilter counts = readThere(studied.pack, studied.circumstances);
    result.readAngles = angleErrors(truth, shown.landmarks, counts);
    result.positions = positionErrors(truth, studied.pack, shown.found, studied.circumstances);
    constexpr int toFollow = 1; // the last action: what is placed is followed through the film
    while (result.actions < mostActions - toFollow) {
        const auto doubts = technique::doubtsOf(studied.pack, shown, studied.circumstances);
        if (doubts.empty()) {
            break;
        }
        const technique::Doubtful& asked = doubts.front();
        ++result.actions;
        if (!asked.landmark) {
            const int right = truth.positions.at(asked.positionId);
            const double miss = std::abs(model::elapsed(time, right, asked.frame).value);
            const bool confirms = miss <= allowedMiss(time, asked.frame);
            result.actions += confirms ? 0 : 1;
            coach.positions[asked.positionId] = confirms ? asked.frame : right;
        } else {
            const double sd =
                model::placedPointSd * (truth.hidden(asked.frame, *asked.landmark) ? guess : 1.0);
            const model::Point2 error{sd * normal(random), sd * normal(random)};
            coach.landmarks[asked.frame][*asked.landmark] = {
                truth.landmarks.at(asked.frame).at(*asked.landmark).px + error, sd,
                model::Source::placed, false};
        }
        weighAnew();
    }
    if (!coach.landmarks.empty()) {
        result.actions += toFollow;
        prepare::followPlaced(evidence, studied.index, studied.pack, coach, studied.circumstances,
                              studied.study.camera);
        weighAnew();
    }
    result.anglesAfterQueue = angleErrors(truth, shown.landmarks);
    result.readAnglesAfterQueue = angleErrors(truth, shown.landmarks, counts);
}

/// Whether a landmark is in the picture and nothing is before it.
bool isSeen(const Truth& truth, const film::FilmIndex& index, int frame, Landmark landmark) {
    const auto point = truth.landmarks.at(frame).find(landmark);
    return point != truth.landmarks.at(frame).end() && !truth.hidden(frame, landmark) &&
           point->second.px.x > 0.0 && point->second.px.x < index.width &&
           point->second.px.y > 0.0 && point->second.px.y < index.height;
}

EquipmentResult equipmentErrors(Landmark landmark, const Truth& truth, const film::FilmIndex& index,
                                const model::LandmarkTrack& placed,
                                const model::LandmarkTrack& track) {
    EquipmentResult result;
    std::vector<double> errors;
    int within = 0;
    for (const auto& [frame, points] : truth.landmarks) {
        if (!isSeen(truth, index, frame, landmark) || model::find(placed, frame, landmark)) {
            continue;
        }
        ++result.visible;
        if (const auto* point = model::find(track, frame, landmark)) {
            const model::Point2 miss = point->px - points.at(landmark).px;
            errors.push_back(100.0 * length(miss) / truth.bodyPx);
            for (const double axis : {miss.x, miss.y}) {
                within += std::abs(axis) < model::coverage95 * point->sdPx ? 1 : 0;
            }
        }
    }
    constexpr double axes = 2.0;
    result.within95 = within / std::max(1.0, axes * static_cast<double>(errors.size()));
    result.errors = spreadOf(std::move(errors));
    return result;
}

/// A coach places the implement at the key position where it is seen at its longest, and the ball
/// twice: early and late in the time that it is seen.
model::LandmarkTrack equipmentPlaced(const Truth& truth, const film::FilmIndex& index) {
    std::mt19937 random(1);
    std::normal_distribution<double> normal(0.0, model::placedPointSd);
    model::LandmarkTrack placed;
    const auto put = [&](int frame, Landmark landmark) {
        if (const auto* point = model::find(truth.landmarks, frame, landmark)) {
            placed[frame][landmark] = {point->px + model::Point2{normal(random), normal(random)},
                                       model::placedPointSd, model::Source::placed, false};
        }
    };
    std::optional<int> best;
    const auto longLook = [&](int frame) {
        const auto& points = truth.landmarks.at(frame);
        return length(points.at(Landmark::implementTip).px - points.at(Landmark::implementButt).px);
    };
    for (const auto& [id, frame] : truth.positions) {
        if (isSeen(truth, index, frame, Landmark::implementTip) &&
            (!best || longLook(frame) > longLook(*best))) {
            best = frame;
        }
    }
    if (best) {
        for (const Landmark landmark :
             {Landmark::implementButt, Landmark::implementHead, Landmark::implementTip,
              Landmark::implementFaceEdge, Landmark::implementFarEdge}) {
            put(*best, landmark);
        }
    }
    std::vector<int> seen;
    for (const auto& [frame, points] : truth.landmarks) {
        if (isSeen(truth, index, frame, Landmark::ball)) {
            seen.push_back(frame);
        }
    }
    if (!seen.empty()) {
        put(seen[seen.size() / 4], Landmark::ball);
        put(seen[seen.size() * 9 / 10], Landmark::ball);
    }
    return placed;
}

void followEquipment(TrackingResult& result, const Truth& truth, track::Evidence evidence,
                     const Case& studied) {
    model::Rep coach;
    coach.landmarks = equipmentPlaced(truth, studied.index);
    if (coach.landmarks.empty()) {
        return;
    }
    prepare::followPlaced(evidence, studied.index, studied.pack, coach, studied.circumstances,
                          studied.study.camera);
    const model::LandmarkTrack track = marksWith(coach, evidence, studied).landmarks;
    result.implement =
        equipmentErrors(Landmark::implementTip, truth, studied.index, coach.landmarks, track);
    result.ball = equipmentErrors(Landmark::ball, truth, studied.index, coach.landmarks, track);
}

/// The landmarks of all frames against the truth.
void landmarkErrors(TrackingResult& result, const Truth& truth, const track::Evidence& evidence,
                    const model::LandmarkTrack& track) {
    std::vector<double> visible;
    std::vector<double> hidden;
    int within = 0;
    int axes = 0;
    int occludedRight = 0;
    for (const auto& [frame, points] : truth.landmarks) {
        const auto here = evidence.frames.find(frame);
        result.found += here != evidence.frames.end() && !here->second.proposals.empty() ? 1 : 0;
        double kept = 0.0;
        double exchanged = 0.0;
        for (const Landmark landmark : body) {
            const model::LandmarkPoint* point = model::find(track, frame, landmark);
            if (point == nullptr) {
                continue;
            }
            const model::Point2 miss = point->px - points.at(landmark).px;
            occludedRight += point->occluded == truth.hidden(frame, landmark) ? 1 : 0;
            (truth.hidden(frame, landmark) ? hidden : visible)
                .push_back(100.0 * length(miss) / truth.bodyPx);
            for (const double axis : {miss.x, miss.y}) {
                within += std::abs(axis) < model::coverage95 * point->sdPx ? 1 : 0;
                ++axes;
            }
            if (landmark >= Landmark::leftKnee && landmark <= Landmark::rightAnkle) {
                kept += length(miss);
                exchanged += length(point->px - points.at(model::mirrored(landmark)).px);
            }
        }
        constexpr double clearly = 0.6;
        result.legsSwapped += exchanged < clearly * kept ? 1 : 0;
    }
    const auto frames = static_cast<double>(truth.landmarks.size());
    result.found /= frames;
    result.legsSwapped /= frames;
    result.within95 = static_cast<double>(within) / std::max(1, axes);
    result.occludedRight = 2.0 * occludedRight / std::max(1, axes);
    result.visible = spreadOf(std::move(visible));
    result.hidden = spreadOf(std::move(hidden));
}

} // namespace

TrackingResult studyTracking(const std::filesystem::path& film, pose::PoseSize size) {
    const Truth truth = readTruth(film);
    const Case studied = caseOf(film, truth);
    TrackingResult result;
    result.film = film.filename().string();
    result.technique = truth.file["technique"];
    result.view = truth.file["film"]["view"];
    result.frames = studied.index.frameCount();
    result.bodyPx = truth.bodyPx;

    track::SubjectSeed seed; // the coach clicks the player's hips once
    seed.frame = studied.index.frameCount() / 3;
    seed.point = (truth.landmarks.at(seed.frame).at(Landmark::leftHip).px +
                  truth.landmarks.at(seed.frame).at(Landmark::rightHip).px) *
                 0.5;
    const track::Evidence evidence = *track::gatherEvidence(
        studied.index, {0, studied.index.frameCount() - 1}, seed, pose::poseDirectory(), size);
    const model::LandmarkTrack track = marksWith({}, evidence, studied).landmarks;
    landmarkErrors(result, truth, evidence, track);
    result.angles = angleErrors(truth, track);
    followEquipment(result, truth, evidence, studied);
    askTheCoach(result, truth, evidence, studied);
    return result;
}

} // namespace kestrel::study
