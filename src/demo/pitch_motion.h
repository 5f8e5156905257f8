#pragma once

#include "demo/skeleton.h"
#include "model/side.h"

#include <cstdint>
#include <map>
#include <memory>
#include <string>

/// The overhand pitch as motion: key poses at times, joined by shape-preserving cubic curves. Time
/// is in seconds from release, which is 0.
namespace kestrel::demo {

/// Faults dialled in on purpose, 0 for none.
struct PitchDials {
    double lateArmMs = 0.0;        ///< the throwing arm comes up later by so much
    double backLegDropBh = 0.0;    ///< the pelvis sinks by so much in the stride
    double uprightFinishDeg = 0.0; ///< trunk lean missing at release
};

struct PitcherSpec {
    double heightM = 1.70;
    model::Hand hand = model::Hand::right;
    PitchDials dials;
    std::uint32_t seed = 0; ///< rep-to-rep variation; 0 for none
};

class PitchMotion {
  public:
    explicit PitchMotion(const PitcherSpec& spec);
    ~PitchMotion();
    PitchMotion(PitchMotion&&) noexcept;
    PitchMotion& operator=(PitchMotion&&) noexcept;

    static constexpr double begin = -1.75;
    static constexpr double end = 1.25;

    [[nodiscard]] const PitcherSpec& spec() const { return spec_; }

    /// The body at time `t` (clamped to begin…end), with the ball: held until release, then in
    /// flight.
    [[nodiscard]] Pose pose(double t) const;

    /// True times of the pack's positions and events, by their ids, found from the motion by the
    /// pack's definitions.
    [[nodiscard]] const std::map<std::string, double>& events() const { return events_; }

  private:
    struct Curves;

    [[nodiscard]] Pose rightHanded(double t) const;
    void findEvents();

    PitcherSpec spec_;
    std::unique_ptr<Curves> curves_;
    std::map<std::string, double> events_;
};

} // namespace kestrel::demo
