#pragma once

#include <Eigen/Core>

#include <optional>
#include <span>

/// The flight of a ball in an upright plane, from places where it was seen: gravity, drag, no
/// spin's lift. Coordinates are metres: along the flight's heading, and up.
namespace kestrel::motion {

inline constexpr double gravity = 9.81; // m/s²
/// Of air at 20 °C at sea level, kg/m³.
inline constexpr double airDensity = 1.2;

/// Drag of a ball as a share of its speed lost per metre: ½ρAC_d/m, 1/m.
double dragPerMetre(double massKg, double diameterM, double dragCoefficient);

struct BallSample {
    double time = 0.0; ///< seconds
    Eigen::Vector2d place = Eigen::Vector2d::Zero();
    double sd = 0.01; ///< per axis, metres
};

struct BallFlight {
    double time = 0.0; ///< at which place and velocity are told
    Eigen::Vector2d place = Eigen::Vector2d::Zero();
    Eigen::Vector2d velocity = Eigen::Vector2d::Zero(); ///< m/s
    double drag = 0.0;                                  ///< see dragPerMetre
    /// Of place (along, up) and velocity (along, up), from the samples' deviations or, where they
    /// scatter more than that, from their scatter.
    Eigen::Matrix4d covariance = Eigen::Matrix4d::Zero();
    double scatter = 0.0; ///< root mean square distance of samples and flight, in their deviations
};

/// Fewest samples a flight is fitted to.
inline constexpr std::size_t fewestFlightSamples = 4;

/// The flight through the samples by least squares (least_squares.h on the integrated path;
/// classical Runge–Kutta steps), told at `time`. Nothing with fewer than fewestFlightSamples or
/// when they do not spread in time.
std::optional<BallFlight> fitFlight(std::span<const BallSample> samples, double drag, double time);

/// The flight with place and velocity changed by `change` (in the covariance's order).
BallFlight changedFlight(BallFlight flight, const Eigen::Vector4d& change);

struct BallState {
    Eigen::Vector2d place = Eigen::Vector2d::Zero();
    Eigen::Vector2d velocity = Eigen::Vector2d::Zero();
};

/// Place and velocity so many seconds after flight.time; negative goes back.
BallState after(const BallFlight& flight, double seconds);

/// Seconds after flight.time until the ball has gone `distance` metres along; nothing when it does
/// not within ten seconds.
std::optional<double> timeToGo(const BallFlight& flight, double distance);

} // namespace kestrel::motion
