#pragma once

#include "synth/player_motion.h"

#include <map>
#include <string>
#include <vector>

/// What each fault dial of a technique does to the true quantities, in numbers.
namespace kestrel::study {

/// One dial turned to one amount.
struct DialEffect {
    std::string dial;
    double amount = 0.0; ///< asked for, in the unit of the dial's quantity
    double moved = 0.0;  ///< how far its quantity moved, positive in the dial's direction
    /// Further quantities that moved by more than their natural variation, by how much.
    std::map<std::string, double> others;
};

struct DialStudy {
    synth::MotionSheet sheet;
    std::map<std::string, double> clean; ///< quantities with all dials at nothing
    /// Largest deviation of each quantity over 20 reps of the skilled player with rep-to-rep
    /// variation (seeds 1 to 20).
    std::map<std::string, double> natural;
    std::vector<DialEffect> effects; ///< each dial at a quarter, half and all of its range, in turn
};

/// Turns every dial of the technique, one at a time. Throws as PlayerMotion.
DialStudy studyDials(const synth::PlayerSpec& player);

/// The study as a Markdown section with one row a dial.
std::string markdown(const DialStudy& study);

/// The sections of all techniques under one heading: the file docs/dials.md.
std::string dialsDocument();

} // namespace kestrel::study
