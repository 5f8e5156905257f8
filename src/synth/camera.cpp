#include "synth/camera.h"

#include "synth/angles.h"
#include "synth/noise.h"

#include <Eigen/Geometry>

#include <cmath>

namespace kestrel::synth {
namespace {

/// Smooth wandering with mean 0 and a standard deviation near 1, mostly between 1 and 6 Hz as hands
/// tremble.
double tremble(std::uint32_t seed, double time) {
    const Noise noise(seed);
    constexpr double sdOfValueNoise = 0.21;
    return (0.8 * (noise(1.3 * time + 40.0, 0.5) - 0.5) +
            0.4 * (noise(5.1 * time + 90.0, 7.5) - 0.5)) /
           (0.8 * sdOfValueNoise);
}

} // namespace

Vector Camera::inCamera(const Vector& world) const {
    const Vector away = world - position;
    return {away.dot(right), away.dot(down), away.dot(forward)};
}

std::optional<model::Point2> Camera::project(const Vector& world) const {
    const Vector p = inCamera(world);
    constexpr double nearest = 0.05; // m
    if (p.z() < nearest) {
        return std::nullopt;
    }
    const double x = p.x() / p.z();
    const double y = p.y() / p.z();
    const double stretch = focalPx * (1.0 + distortion * (x * x + y * y));
    return principalPoint() + model::Point2{stretch * x, stretch * y};
}

Vector Camera::directionAt(model::Point2 pixel) const {
    const model::Point2 centre = principalPoint();
    const double x = (pixel.x - centre.x) / focalPx;
    const double y = (pixel.y - centre.y) / focalPx;
    double shrink = 1.0;
    // Fixed-point iteration; the distortions of real lenses converge in a few rounds.
    for (int round = 0; distortion != 0.0 && round < 8; ++round) {
        shrink = 1.0 / (1.0 + distortion * shrink * shrink * (x * x + y * y));
    }
    return forward + shrink * (x * right + y * down);
}

Camera cameraAt(const CameraSpec& spec, int width, int height, const Subject& subject,
                double time) {
    // A little above the middle, so that there is room for a raised arm.
    const double aimed = 0.58 * subject.heightM;
    const double lens = spec.heightM > 0.0 ? spec.heightM : aimed;
    const double focal = spec.bodyFraction * height * spec.distanceM / subject.heightM;
    Camera camera;
    camera.width = width;
    camera.height = height;
    camera.focalPx = focal;
    camera.distortion = spec.distortion;
    const Vector aim = subject.middle + aimed * Vector::UnitZ();
    if (spec.view == model::View::overhead) {
        camera.position = subject.middle + spec.distanceM * Vector::UnitZ();
        camera.forward = -Vector::UnitZ();
        camera.right = Vector::UnitX();
        camera.down = -Vector::UnitY();
    } else {
        double azimuth = spec.aroundDeg; // 0 open side, 90 front
        switch (spec.view) {
        case model::View::front:
            azimuth = 90.0 - spec.aroundDeg;
            break;
        case model::View::rear:
            azimuth = -90.0 + spec.aroundDeg;
            break;
        case model::View::closedSide:
            azimuth = 180.0 - spec.aroundDeg;
            break;
        default:
            break;
        }
        const Vector towards(std::sin(radians(azimuth)),
                             subject.openSide * std::cos(radians(azimuth)), 0.0);
        camera.position = subject.middle + spec.distanceM * towards + lens * Vector::UnitZ();
        camera.forward = (aim - camera.position).normalized();
        if (spec.pans) {
            const Vector where = subject.now + aimed * Vector::UnitZ();
            camera.forward = (where - camera.position).normalized();
        }
        camera.right = camera.forward.cross(Vector::UnitZ()).normalized();
        camera.down = camera.forward.cross(camera.right);
    }
    // The hand turns the camera; where it stands hardly changes.
    const double wander = spec.shakePx / focal;
    const Eigen::AngleAxisd yaw(wander * tremble(spec.seed, time), camera.down);
    const Eigen::AngleAxisd pitch(wander * tremble(spec.seed + 1, time), camera.right);
    const Eigen::AngleAxisd roll(
        radians(spec.rollDeg) + 0.3 * wander * tremble(spec.seed + 2, time), camera.forward);
    const Eigen::Matrix3d turned = (yaw * pitch * roll).toRotationMatrix();
    camera.right = turned * camera.right;
    camera.down = turned * camera.down;
    camera.forward = turned * camera.forward;
    return camera;
}

} // namespace kestrel::synth
