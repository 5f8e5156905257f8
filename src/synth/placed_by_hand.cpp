#include "synth/placed_by_hand.h"

#include "synth/truth.h"

namespace kestrel::synth {

model::Rep placedRep(const FilmSpec& spec, double sd, std::mt19937& random) {
    std::normal_distribution<double> error(0.0, sd);
    const FilmScene scene(spec);
    model::Rep rep;
    rep.techniqueId = spec.player.technique;
    rep.positions = truePositions(scene);
    rep.landmarks = trueLandmarks(scene);
    for (auto& [frame, points] : rep.landmarks) {
        for (auto& [landmark, point] : points) {
            point.px = point.px + model::Point2{error(random), error(random)};
            point.sdPx = sd;
        }
    }
    return rep;
}

model::GroundMarks cones(const FilmScene& scene, model::Metres along, model::Metres across,
                         double x, double y, double sd, std::mt19937& random) {
    std::normal_distribution<double> error(0.0, 1.0);
    model::GroundMarks marks;
    marks.placeId = technique::ownRectangle;
    marks.alongM = along;
    marks.acrossM = across;
    const Camera camera = scene.steadyCamera();
    for (const auto& point : technique::rectanglePlace(along, across).points) {
        const auto px = camera.project({point.at.x() + x, point.at.y() + y, 0.0});
        marks.points[point.id] = *px + model::Point2{sd * error(random), sd * error(random)};
    }
    return marks;
}

void markSolesOff(model::Rep& rep, const FilmScene& scene, double sdM, std::mt19937& random) {
    using model::Landmark;
    std::normal_distribution<double> error(0.0, sdM);
    for (auto& [frame, points] : rep.landmarks) {
        const double time = scene.frameTime(frame);
        const Pose pose = scene.motion().pose(time);
        const Camera camera = scene.camera(time);
        for (const Landmark end :
             {Landmark::leftHeel, Landmark::rightHeel, Landmark::leftToe, Landmark::rightToe}) {
            const auto marked = points.find(end);
            if (marked == points.end()) {
                continue;
            }
            const Eigen::Vector3d place = pose.at(end);
            const auto higher = camera.project(place + error(random) * Eigen::Vector3d::UnitZ());
            marked->second.px = marked->second.px + *higher - *camera.project(place);
        }
    }
}

model::GroundMarks markedPlace(const FilmScene& scene, const technique::GroundPlace& place,
                               double x, double y, double sd, std::mt19937& random) {
    std::normal_distribution<double> error(0.0, 1.0);
    model::GroundMarks marks;
    marks.placeId = place.id;
    const Camera camera = scene.steadyCamera();
    for (const auto& point : place.points) {
        const auto px = camera.project({point.at.x() + x, point.at.y() + y, 0.0});
        const bool seen = px && px->x >= 0.0 && px->y >= 0.0 && px->x < scene.spec().width &&
                          px->y < scene.spec().height;
        if (seen) {
            marks.points[point.id] = *px + model::Point2{sd * error(random), sd * error(random)};
        }
    }
    return marks;
}

model::BodyTurns trueTurns(const FilmScene& scene) {
    using model::Landmark;
    model::BodyTurns turns;
    for (int frame = 0; frame < scene.frameCount(); ++frame) {
        const double time = scene.frameTime(frame);
        const Pose pose = scene.motion().pose(time);
        const Camera camera = scene.camera(time);
        const auto farther = [&](Landmark left, Landmark right) {
            return camera.focalPx / 12.0 *
                   (camera.inCamera(pose.at(left)).z() - camera.inCamera(pose.at(right)).z());
        };
        turns[frame] = {farther(Landmark::leftHip, Landmark::rightHip),
                        farther(Landmark::leftShoulder, Landmark::rightShoulder)};
    }
    return turns;
}

} // namespace kestrel::synth
