#pragma once

#include "synth/skeleton.h"

#include <nlohmann/json.hpp>

#include <functional>
#include <map>
#include <string>
#include <vector>

/// What is measured on the synthetic player's bones in space: for key positions found by their
/// definition, and for the truth that readings off the picture are checked against. By vector
/// algebra of its own, on a right-hander's pose; nothing of it is shared with the program's
/// measures.
namespace kestrel::synth {

/// The motion as seen from a signal.
class Moving {
  public:
    virtual ~Moving() = default;
    /// As a right-hander, metres.
    [[nodiscard]] virtual Pose rightHandedPose(double time) const = 0;
    [[nodiscard]] virtual Vector ballVelocity(double time) const = 0;
    [[nodiscard]] virtual double heightM() const = 0;
    [[nodiscard]] virtual const std::map<std::string, double>& keyTimes() const = 0;
};

/// A number that the motion has at every instant.
using Signal = std::function<double(const Moving&, double time)>;

/// How an event is found.
struct EventRule {
    enum class Kind {
        key,     ///< at a key time
        highest, ///< where the signal is highest between two times
        lowest,
        rises, ///< where it first rises through a level
        falls  ///< where it first falls through a level
    };
    Kind kind = Kind::key;
    std::string from; ///< key or event; of Kind::key the key itself
    std::string to;
    Signal signal;
    double level = 0.0;
    std::string levelAt; ///< the level is counted from the signal's value there
};

using Events = std::map<std::string, double>;

/// One true value of a motion with its events.
using Reading = std::function<double(const Moving&, const Events&)>;

/// Parts of a motion sheet. `leadIsOffSide` says what the role "lead" means. Throw
/// std::invalid_argument with a reason when the expression cannot be read.
Signal signalFrom(const nlohmann::json& expression, bool leadIsOffSide);
EventRule eventRuleFrom(const nlohmann::json& expression, bool leadIsOffSide);
Reading readingFrom(const nlohmann::json& expression, bool leadIsOffSide);

/// The time of an event by its rule, exact to a hundredth of a millisecond: the signal is looked at
/// every millisecond, then refined by bisection or Brent's method. Throws std::runtime_error when
/// the signal does not do what the rule asks.
double timeOf(const EventRule& rule, const Moving& motion, const Events& found);

/// Whether the event's time is an end of where its rule looks: the signal does not turn there, or
/// was past the level before, so that the motion has no such instant.
bool isAtAnEnd(const EventRule& rule, const Moving& motion, const Events& found, double time);

/// The place of a named point in that pose: "lead_knee", "mid_hip", "ball", "com" … Throws
/// std::invalid_argument for a name that does not exist.
std::function<Vector(const Pose&)> pointFrom(const std::string& name, bool leadIsOffSide);

} // namespace kestrel::synth
