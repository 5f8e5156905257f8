#pragma once

#include "model/units.h"

#include <vector>

/// Two reps of one motion brought into step.
namespace kestrel::model {

/// From one rep's time to another's: an instant that both have falls on itself, time between two of
/// them is stretched evenly, and before the first and after the last, where nothing says how they
/// go together, it passes as fast in both. Strictly increasing, so it has a way back.
class TimeWarp {
  public:
    /// An instant of the motion: when it is here, and when there.
    struct Same {
        Seconds here;
        Seconds there;

        friend bool operator==(const Same&, const Same&) = default;
    };

    /// In any order, at least one; std::invalid_argument for none. Instants that do not follow each
    /// other in both reps alike are left out, the later ones of them.
    explicit TimeWarp(std::vector<Same> same);

    /// Those that count, as they follow each other.
    [[nodiscard]] const std::vector<Same>& instants() const { return same_; }
    [[nodiscard]] Seconds there(Seconds here) const;
    [[nodiscard]] Seconds here(Seconds there) const;

  private:
    std::vector<Same> same_;
};

} // namespace kestrel::model
