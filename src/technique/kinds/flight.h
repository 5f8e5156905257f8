#pragma once

#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

#include <map>
#include <memory>
#include <optional>
#include <string>

/// Readings of the ball's flight after it left hand, bat or racket.
namespace kestrel::technique {

/// How far from the opponent's line the player stands, where only the rules say it, metres. Working
/// figure.
inline constexpr double standSdM = 0.2;

/// Speed at the start of the flight, km/h.
FlightValue ballSpeed(const FlightInput& input);
/// Direction at the start of the flight against level, degrees, up positive.
FlightValue launchAngle(const FlightInput& input);
/// Direction against level where the ball reaches the target, degrees; negative when it falls.
FlightValue arrivalAngle(const FlightInput& input);
/// From the start of the flight until the ball reaches the target, milliseconds.
FlightValue timeToTarget(const FlightInput& input);
/// How much sooner the ball would reach the target when it started one metre closer, milliseconds.
FlightValue timeOfOneMetre(const FlightInput& input);

/// Reads measures whose kind has `flight` (measure_kind.h). How many metres a pixel is follows from
/// the marked ground, with the ball in the upright plane through the measure's second point along
/// the target line; without it from the player's height, taking the camera to stand square. Several
/// measures of one flight share its fit.
class Flights {
  public:
    /// All must outlive it. `bodyHeightPx` is nothing where the height in the picture is not known.
    Flights(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
            std::optional<PixelHeight> bodyHeightPx);
    ~Flights();

    /// Reads into `reading`: value, uncertainty and the path that shows it, or why there is none.
    /// `instantSd` is how surely the measure's position is known in time, seconds.
    void read(const Measure& measure, double instantSd, model::Reading& reading);

  private:
    struct Fitted;
    const Fitted& fitted(const Measure& measure);

    const Pack& pack_;
    const model::Rep& rep_;
    const Circumstances& c_;
    std::optional<PixelHeight> height_;
    std::map<std::string, std::unique_ptr<const Fitted>> fitted_; ///< by stretch and points
};

} // namespace kestrel::technique
