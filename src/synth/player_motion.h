#pragma once

#include "synth/body.h"
#include "synth/flight.h"
#include "synth/implement.h"
#include "synth/motion_sheet.h"
#include "synth/signal.h"

#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>

/// A made-up player doing one rep of a technique. Time is in seconds from the technique's anchor
/// (release or contact), which is 0.
namespace kestrel::synth {

struct PlayerSpec {
    std::string technique = "overhand_pitch";
    std::string variant; ///< of the motion sheet; empty for its own keys
    Build build;
    model::Hand hand = model::Hand::right;
    std::map<std::string, double> dials; ///< amount by dial, in the unit of the dial's quantity
    double level = 1.0; ///< 1 skilled … 0 beginner: adds the sheet's beginner amounts to the dials
    std::uint32_t seed = 0; ///< rep-to-rep variation; 0 for none
    /// Draws how this player moves otherwise than the sheet, as players of one level differ from
    /// one another; 0: as the sheet has it. Of some draws the technique's events do not come about.
    std::uint32_t manner = 0;

    friend bool operator==(const PlayerSpec&, const PlayerSpec&) = default;
};

class PlayerMotion : public Moving {
  public:
    /// Throws std::invalid_argument for an unknown technique, variant or dial, model::InputError
    /// for a faulty sheet, std::runtime_error when a dial cannot be turned that far or a manner
    /// leaves out an event.
    explicit PlayerMotion(const PlayerSpec& spec);
    ~PlayerMotion() override;
    PlayerMotion(PlayerMotion&&) noexcept;
    PlayerMotion& operator=(PlayerMotion&&) noexcept;

    [[nodiscard]] const PlayerSpec& spec() const;
    [[nodiscard]] const MotionSheet& sheet() const;
    [[nodiscard]] const Proportions& proportions() const;
    [[nodiscard]] const Implement& implement() const;
    /// Of the ball or puck; nothing when the technique has none.
    [[nodiscard]] const Projectile* ball() const;
    [[nodiscard]] double begin() const; ///< first key time
    [[nodiscard]] double end() const;   ///< last key time

    /// Body, implement and ball at `time` (clamped to begin…end), mirrored for a left-hander.
    [[nodiscard]] Pose pose(double time) const;

    /// True times of the technique's positions and events by id, found from the motion by their
    /// definitions.
    [[nodiscard]] const Events& events() const;

    /// Of those events, the ones that this motion does not really have (isAtAnEnd).
    [[nodiscard]] std::set<std::string> eventsAtAnEnd() const;

    /// A true quantity of the sheet, by id, in its unit.
    [[nodiscard]] double quantity(const std::string& id) const;
    [[nodiscard]] std::map<std::string, double> quantities() const;

    /// How far, in metres, hands and feet at that time are from where the sheet wants them because
    /// arms and legs do not reach.
    [[nodiscard]] double outOfReach(double time) const;

    [[nodiscard]] Pose rightHandedPose(double time) const override;
    [[nodiscard]] Vector ballVelocity(double time) const override;
    [[nodiscard]] double heightM() const override;
    [[nodiscard]] const std::map<std::string, double>& keyTimes() const override;

  private:
    struct State;

    std::unique_ptr<State> state_;
};

} // namespace kestrel::synth
