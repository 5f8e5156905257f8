#pragma once

#include "synth/skeleton.h"

#include <optional>
#include <string_view>
#include <vector>

/// A ball or puck in the air: gravity, drag, a bounce.
namespace kestrel::synth {

struct Projectile {
    std::string_view name;
    double radiusM = 0.0;
    double massKg = 0.0;
    double dragCoefficient = 0.0;
    bool sliding = false; ///< a puck, which lies on its flat side and slides
};

/// By the name used in motion files: "baseball", "basketball" … Throws std::invalid_argument when
/// there is none of that name. Sizes and masses are the middle of what the rules of the game allow.
const Projectile& projectile(std::string_view name);

/// Acceleration of a ball of that velocity: gravity 9.81 m/s² down and drag ½ρAC_d v² against the
/// motion, ρ = 1.2 kg/m³.
Vector accelerationInFlight(const Projectile& ball, const Vector& velocity);

/// A path computed once, in steps of 1 ms by the classical fourth-order Runge–Kutta method, and
/// read between the steps by cubic Hermite interpolation.
class Flight {
  public:
    /// From `place` with `velocity` at time `start`, for `lasts` seconds; a negative `lasts` goes
    /// back in time. A ball that comes down to `floor` (its middle a radius above it)
    /// bounces, keeping `bounce` of its upward and nine tenths of its level speed (a working
    /// figure).
    Flight(const Projectile& ball, const Vector& place, const Vector& velocity, double start,
           double lasts, double floor = 0.0, double bounce = 0.0);

    [[nodiscard]] Vector at(double time) const;
    [[nodiscard]] Vector velocityAt(double time) const;

  private:
    struct State {
        Vector place;
        Vector velocity;
    };
    std::vector<State> states_;
    double start_;
    double step_;
};

/// The velocity with which a ball must leave `from` to be at `to` after `seconds`. Newton's method
/// on the flight; exact to 0.01 mm.
Vector velocityToReach(const Projectile& ball, const Vector& from, const Vector& to,
                       double seconds);

} // namespace kestrel::synth
