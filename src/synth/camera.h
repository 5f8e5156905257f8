#pragma once

#include "model/side.h"
#include "model/units.h"
#include "synth/skeleton.h"

#include <cstdint>
#include <optional>

/// The virtual camera: where it stands, what its lens does, how the hand that holds it shakes.
namespace kestrel::synth {

/// A camera at one instant: a pinhole with one term of radial distortion.
struct Camera {
    Vector position = Vector::Zero();
    Vector right = Vector::UnitX();   ///< picture x in the world
    Vector down = -Vector::UnitZ();   ///< picture y in the world
    Vector forward = Vector::UnitY(); ///< where it looks; the three are of unit length and square
    double focalPx = 1000.0;
    double distortion = 0.0; ///< a ray at tangent r from the axis is drawn at r (1 + distortion r²)
    int width = 1280;
    int height = 720;

    /// Coordinates in the camera: x right, y down, z forwards, metres.
    [[nodiscard]] Vector inCamera(const Vector& world) const;
    /// Picture point in pixels, (0, 0) the centre of the top-left pixel. Behind the camera:
    /// nothing.
    [[nodiscard]] std::optional<model::Point2> project(const Vector& world) const;
    /// The direction in the world seen at a picture point; not of unit length.
    [[nodiscard]] Vector directionAt(model::Point2 pixel) const;
    [[nodiscard]] model::Point2 principalPoint() const {
        return {(width - 1) / 2.0, (height - 1) / 2.0};
    }
};

/// How a film is taken.
struct CameraSpec {
    model::View view = model::View::openSide;
    double aroundDeg = 0.0; ///< from the square view towards the front
    double distanceM = 12.0;
    double heightM = 0.0;       ///< of the lens above the ground; 0 for chest height
    double bodyFraction = 0.62; ///< standing height over picture height: how far it is zoomed in
    double rollDeg = 0.0;
    double distortion = 0.0;
    double shakePx = 0.0; ///< about how far the picture wanders, standard deviation
    bool pans = false;    ///< turns with the player
    std::uint32_t seed = 1;

    friend bool operator==(const CameraSpec&, const CameraSpec&) = default;
};

/// Who is filmed, as far as the camera needs to know.
struct Subject {
    Vector middle = Vector::Zero(); ///< of the action, on the ground, of the player as filmed
    Vector now = Vector::Zero();    ///< where the player's hips are at this instant, on the ground
    double heightM = 1.70;
    double openSide = -1.0; ///< −1 when the open side is at −y, 1 when it is at +y
};

/// The camera at `time`. Views are as model::View; overhead looks straight down with the target to
/// the right.
Camera cameraAt(const CameraSpec& spec, int width, int height, const Subject& subject, double time);

} // namespace kestrel::synth
