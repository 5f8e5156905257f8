#pragma once

#include "demo/skeleton.h"
#include "model/units.h"

#include <optional>

/// A pinhole camera, level, looking horizontally.
namespace kestrel::demo {

struct Camera {
    Vector position = Vector::Zero();
    Vector right = Vector::UnitX();   ///< picture x in the world
    Vector forward = Vector::UnitY(); ///< where it looks
    double focalPx = 1000.0;
    int width = 1280;
    int height = 720;

    /// Coordinates in the camera: x right, y down, z forwards, metres.
    [[nodiscard]] Vector inCamera(const Vector& world) const;
    /// Picture point in pixels, (0, 0) the centre of the top-left pixel. Behind the camera:
    /// nothing.
    [[nodiscard]] std::optional<model::Point2> project(const Vector& world) const;
    [[nodiscard]] model::Point2 principalPoint() const {
        return {(width - 1) / 2.0, (height - 1) / 2.0};
    }
};

/// A camera square to the line to the target on the open side of a player of `hand`, `distanceM`
/// away, showing a body of `heightM` over `bodyFraction` of the picture's height.
Camera openSideCamera(model::Hand hand, double heightM, double distanceM, int width, int height,
                      double bodyFraction);

} // namespace kestrel::demo
