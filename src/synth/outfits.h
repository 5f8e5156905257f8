#pragma once

#include "synth/figure.h"

#include <cstdint>
#include <string>

/// Clothes of made-up players.
namespace kestrel::synth {

/// What one wears for that technique: shorts on a court, a helmet on the ice … `number` picks skin,
/// hair and colours.
Outfit outfitFor(const std::string& technique, std::uint32_t number);

} // namespace kestrel::synth
