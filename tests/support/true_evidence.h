#pragma once

#include "synth/film_render.h"
#include "track/person/evidence.h"

#include <algorithm>
#include <random>

/// What a network would see of the synthetic player that errs as networks do, without one.
namespace kestrel::support {

/// At 30 frames a second and a little more; each landmark is 2.5 % of standing height off per axis,
/// and says so. Nothing is told of how points move.
inline track::Evidence trueEvidence(const synth::FilmScene& scene, std::uint32_t seed) {
    constexpr double offBh = 0.025;
    constexpr double enough = 30.0; // frames a second
    std::mt19937 random(seed);
    track::Evidence evidence;
    evidence.bodyPx = scene.spec().camera.bodyFraction * scene.spec().height;
    const double offPx = offBh * evidence.bodyPx;
    std::normal_distribution<double> off(0.0, offPx);
    const int every = std::max(1, static_cast<int>(scene.spec().captureRate / enough));
    for (int frame = 0; frame < scene.frameCount(); frame += every) {
        const double time = scene.frameTime(frame);
        const synth::Pose pose = scene.motion().pose(time);
        const synth::Camera camera = scene.camera(time);
        for (int l = 0; l <= static_cast<int>(model::Landmark::rightToe); ++l) {
            const auto landmark = static_cast<model::Landmark>(l);
            const double x = off(random);
            const double y = off(random);
            track::Proposal& proposal = evidence.frames[frame].proposals[landmark];
            proposal.px = camera.project(pose.at(landmark)).value() + model::Point2{x, y};
            proposal.scatterPx = offPx;
            proposal.lastingPx = offPx;
        }
    }
    return evidence;
}

} // namespace kestrel::support
