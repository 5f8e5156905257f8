#include "synth/outfits.h"

#include <array>

namespace kestrel::synth {
namespace {

struct Colours {
    Colour skin;
    Colour hair;
    Colour shirt;
    Colour trim; ///< cap, socks
};

const std::array<Colours, 4>& colours() {
    static const std::array<Colours, 4> sets{{
        {{0.62F, 0.40F, 0.29F},
         {0.07F, 0.05F, 0.04F},
         {0.10F, 0.16F, 0.28F},
         {0.09F, 0.13F, 0.22F}},
        {{0.30F, 0.17F, 0.11F},
         {0.03F, 0.025F, 0.02F},
         {0.62F, 0.60F, 0.55F},
         {0.32F, 0.05F, 0.05F}},
        {{0.48F, 0.30F, 0.19F},
         {0.05F, 0.03F, 0.02F},
         {0.50F, 0.12F, 0.07F},
         {0.10F, 0.10F, 0.11F}},
        {{0.66F, 0.46F, 0.36F},
         {0.24F, 0.13F, 0.05F},
         {0.06F, 0.26F, 0.22F},
         {0.55F, 0.55F, 0.50F}},
    }};
    return sets;
}

} // namespace

Outfit outfitFor(const std::string& technique, std::uint32_t number) {
    const Colours& set = colours()[number % colours().size()];
    Outfit outfit;
    outfit.skin = set.skin;
    outfit.hair = set.hair;
    outfit.shirt = set.shirt;
    outfit.cap = set.trim;
    outfit.socks = set.trim;
    if (technique == "bat_swing") {
        outfit.headwear = Headwear::helmet;
        return outfit;
    }
    if (technique == "snap_shot") {
        outfit.headwear = Headwear::helmet;
        outfit.longSleeves = true;
        outfit.glove = {0.06F, 0.06F, 0.07F};
        outfit.trousers = {0.08F, 0.08F, 0.10F};
        outfit.shoes = {0.05F, 0.05F, 0.05F};
        outfit.implement = {0.05F, 0.05F, 0.06F};
        return outfit;
    }
    if (technique == "overhand_pitch" || technique == "windmill_pitch" ||
        technique == "ground_ball_throw") {
        return outfit;
    }
    outfit.headwear = Headwear::none;
    outfit.shorts = true;
    outfit.trousers = {0.09F, 0.10F, 0.14F};
    outfit.socks = {0.62F, 0.62F, 0.60F};
    outfit.implement = {0.10F, 0.10F, 0.12F};
    return outfit;
}

} // namespace kestrel::synth
