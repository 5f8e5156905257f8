#include "demo/camera.h"

namespace kestrel::demo {

Vector Camera::inCamera(const Vector& world) const {
    const Vector d = world - position;
    return {d.dot(right), -d.z(), d.dot(forward)};
}

std::optional<model::Point2> Camera::project(const Vector& world) const {
    const Vector c = inCamera(world);
    constexpr double nearPlane = 0.05;
    if (c.z() < nearPlane) {
        return std::nullopt;
    }
    const model::Point2 centre = principalPoint();
    return model::Point2{centre.x + focalPx * c.x() / c.z(), centre.y + focalPx * c.y() / c.z()};
}

Camera openSideCamera(model::Hand hand, double heightM, double distanceM, int width, int height,
                      double bodyFraction) {
    // A right-hander's chest faces −y, so the camera stands there with the target on its right.
    const double side = hand == model::Hand::right ? -1.0 : 1.0;
    Camera camera;
    camera.width = width;
    camera.height = height;
    camera.position = Vector(0.48 * heightM, side * distanceM, 0.58 * heightM);
    camera.forward = Vector(0.0, -side, 0.0);
    camera.right = Vector(-side, 0.0, 0.0);
    camera.focalPx = bodyFraction * height * distanceM / heightM;
    return camera;
}

} // namespace kestrel::demo
