#pragma once

#include "body/fitted_body.h"
#include "prepare/pose_model.h"
#include "synth/film_render.h"

/// The synthetic player's own bones as a body in space, so that readings can be told from places
/// that are right.
namespace kestrel::support {

/// The body at every frame, told from where the film's camera stands; times begin with the film.
/// Two draws lie `off` standing heights beside it in opposite directions, away from the camera and
/// towards it, left and right each their own way; none with 0.
inline body::FittedBody trueBody(const synth::FilmScene& scene, double off = 0.0) {
    body::FittedParts parts = prepare::trueBody(scene);
    std::vector<std::int16_t> draw;
    const auto steps = static_cast<std::int16_t>(std::lround(off / body::drawStep));
    for (std::size_t instant = 0; instant < parts.times.size(); ++instant) {
        for (const model::Landmark landmark : model::allLandmarks()) {
            if (model::isOfBody(landmark)) {
                const bool left = model::sideOf(landmark) == model::Side::left;
                draw.insert(draw.end(), {0, left ? steps : static_cast<std::int16_t>(-steps), 0});
            }
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
