#include "support/placed_by_hand.h"

#include "support/test_films.h"
#include "technique/ground_place.h"

namespace kestrel::support {

model::Rep placedRep(const demo::FilmSpec& spec, double sd, std::mt19937& random) {
    std::normal_distribution<double> error(0.0, sd);
    model::Rep rep = trueRep(spec);
    for (auto& [frame, points] : rep.landmarks) {
        for (auto& [landmark, point] : points) {
            point.px = point.px + model::Point2{error(random), error(random)};
            point.sdPx = sd;
        }
    }
    return rep;
}

model::GroundMarks cones(const demo::FilmScene& scene, model::Metres along, model::Metres across,
                         double x, double y, double sd, std::mt19937& random) {
    std::normal_distribution<double> error(0.0, 1.0);
    model::GroundMarks marks;
    marks.placeId = technique::ownRectangle;
    marks.alongM = along;
    marks.acrossM = across;
    const demo::Camera camera = scene.steadyCamera();
    for (const auto& point : technique::rectanglePlace(along, across).points) {
        const auto px = camera.project({point.at.x() + x, point.at.y() + y, 0.0});
        marks.points[point.id] = *px + model::Point2{sd * error(random), sd * error(random)};
    }
    return marks;
}

model::BodyTurns trueTurns(const demo::FilmScene& scene, const std::map<std::string, int>& frames) {
    using model::Landmark;
    model::BodyTurns turns;
    for (const auto& [id, frame] : frames) {
        const double time = scene.frameTime(frame);
        const demo::Pose pose = scene.motion().pose(time);
        const demo::Camera camera = scene.camera(time);
        const auto farther = [&](Landmark left, Landmark right) {
            return camera.focalPx / 12.0 *
                   (camera.inCamera(pose.at(left)).z() - camera.inCamera(pose.at(right)).z());
        };
        turns[frame] = {farther(Landmark::leftHip, Landmark::rightHip),
                        farther(Landmark::leftShoulder, Landmark::rightShoulder)};
    }
    return turns;
}

} // namespace kestrel::support
