#pragma once

#include "model/side.h"

#include <cstdint>
#include <optional>
#include <string_view>

/// The synthetic player's build: how long the segments of a body of that height, age and sex are.
namespace kestrel::synth {

/// Ages of the brief; a band stands for its middle.
enum class AgeBand { under10, under13, under16, adult };
enum class Sex { female, male };

std::string_view name(AgeBand band);
std::string_view name(Sex sex);
std::optional<AgeBand> ageBandFromName(std::string_view text);
std::optional<Sex> sexFromName(std::string_view text);

struct Build {
    double heightM = 1.70;
    AgeBand band = AgeBand::adult;
    Sex sex = Sex::male;
    /// Draws how this body's segments differ from the table; 0: they do not.
    std::uint32_t individual = 0;

    friend bool operator==(const Build&, const Build&) = default;
};

/// Segment lengths as fractions of standing height. The adult's are of Drillis and Contini (1966),
/// as tabled in Winter, Biomechanics and Motor Control of Human Movement (2009), figure 4.1.
struct Proportions {
    double ankleHeight = 0.039;
    double shank = 0.246;
    double thigh = 0.245;
    double trunk = 0.288; ///< hip to shoulder height
    double halfShoulders = 0.1295;
    double halfHips = 0.0955;
    double upperArm = 0.186;
    double forearm = 0.146;
    double hand = 0.054;           ///< wrist to knuckles, half the hand
    double shoulderToHead = 0.118; ///< shoulder height to the middle of the head
    double headToTop = 0.064;
    double heelBehindAnkle = 0.040;
    double toeAheadOfAnkle = 0.112;
};

/// The proportions of such a body: shorter legs and a larger head in children (sitting height near
/// 0.54 of standing height at eight years, 0.53 at eleven, 0.52 grown up; head height near 1/6.3,
/// 1/6.8 and 1/7.5: Snyder et al. 1977, Anthropometry of Infants, Children and Youths to Age 18,
/// rounded), narrower shoulders and wider hips in women (Winter's table is of both together; ± 3 %
/// of breadth are taken). An individual's segments each differ from that by 5 % (normal, standard
/// deviation, twice as much at most). The parts still sum up to the standing height.
Proportions proportionsOf(const Build& build);

} // namespace kestrel::synth
