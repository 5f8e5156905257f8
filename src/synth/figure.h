#pragma once

#include "synth/flight.h"
#include "synth/implement.h"
#include "synth/raster.h"
#include "synth/skeleton.h"

#include <vector>

/// The synthetic player's body, clothes, implement and ball as meshes around the bones.
namespace kestrel::synth {

enum class Headwear { none, cap, helmet };

/// Clothes and colours of one made-up player.
struct Outfit {
    Headwear headwear = Headwear::cap;
    bool shorts = false; ///< bare shins; else long trousers
    bool longSleeves = false;
    Colour skin = {0.62F, 0.40F, 0.29F};
    Colour hair = {0.07F, 0.05F, 0.04F};
    Colour cap = {0.09F, 0.13F, 0.22F};
    Colour shirt = {0.10F, 0.16F, 0.28F};
    Colour trousers = {0.55F, 0.55F, 0.53F};
    Colour socks = {0.09F, 0.13F, 0.22F};
    Colour shoes = {0.65F, 0.65F, 0.66F};
    Colour glove = {0.30F, 0.15F, 0.07F};
    Colour implement = {0.50F, 0.33F, 0.17F};
};

/// The meshes of a player of `heightM` in that pose. `ball` may be null.
std::vector<Mesh> figure(const Pose& pose, double heightM, const Outfit& outfit,
                         const Implement& implement, const Projectile* ball);

} // namespace kestrel::synth
