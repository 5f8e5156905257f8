#pragma once

#include "body/fitted_body.h"
#include "synth/film_render.h"

#include <Eigen/Geometry>

/// The synthetic player's own bones as a body in space, so that readings can be told from places
/// that are right.
namespace kestrel::support {

/// The body at every frame, told from where the film's camera stands; times begin with the film.
/// Two draws lie `off` standing heights beside it in opposite directions, away from the camera and
/// towards it, left and right each their own way; none with 0.
inline body::FittedBody trueBody(const synth::FilmScene& scene, double off = 0.0) {
    const synth::Camera camera = scene.steadyCamera();
    Eigen::Vector3d right = camera.right;
    right.z() = 0.0;
    right.normalize();
    Eigen::Matrix3d axes;
    axes.row(0) = right;
    axes.row(1) = Eigen::Vector3d::UnitZ().cross(right);
    axes.row(2) = Eigen::Vector3d::UnitZ();
    const double height = scene.spec().player.build.heightM;
    body::FittedParts parts;
    std::vector<std::int16_t> draw;
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
            const bool left = model::sideOf(landmark) == model::Side::left;
            const auto steps = static_cast<std::int16_t>(std::lround(off / body::drawStep));
            draw.insert(draw.end(), {0, left ? steps : static_cast<std::int16_t>(-steps), 0});
        }
    }
    if (off != 0.0) {
        parts.draws.push_back(draw);
        for (std::int16_t& step : draw) {
            step = static_cast<std::int16_t>(-step);
        }
        parts.draws.push_back(draw);
    }
    return body::FittedBody(std::move(parts));
}

} // namespace kestrel::support
