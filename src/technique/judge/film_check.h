#pragma once

#include "technique/pack/pack.h"

#include <optional>
#include <string>
#include <vector>

/// What a film of a technique can show and what it cannot, before anything is marked.
namespace kestrel::technique {

struct FilmFacts {
    double frameInterval = 0.0;  ///< seconds on the field; 0 when the capture rate is not known
    double playerHeightPx = 0.0; ///< standing height in the picture; 0 when not known
    std::optional<model::View> view;
};

enum class Shown {
    readable,  ///< at least one frame falls into it
    bracketed, ///< it lies between two frames that both are near it
    notSeen,   ///< the frames are too far apart to tell
};

model::Message nameOf(Shown shown);

/// A key position: how many frames it lasts.
struct PositionShown {
    std::string positionId;
    double frames = 0.0; ///< the position's duration in frame intervals
    Shown shown = Shown::notSeen;
};

/// A timing: how sure it can get against the width of its range.
struct TimingShown {
    std::string measureId;
    double u95 = 0.0; ///< half width of the 95 % interval, in the measure's unit
    Shown shown = Shown::notSeen;
};

/// What motion blur does to the fastest part.
struct BlurCost {
    double pxBetweenFrames = 0.0; ///< how far it goes from frame to frame
    double px = 0.0;              ///< length of the blur, with the shutter as given
    double degrees = 0.0;         ///< standard uncertainty of its segment's angle from the blur
};

/// The blur of the pack's fastest part with a shutter of `exposure` seconds. The end of the segment
/// lies anywhere along the blur, evenly: a standard deviation of its length over √12, across the
/// segment at worst.
BlurCost blurCost(const Filming::Fastest& fastest, const FilmFacts& facts, double exposure);

/// The exposure in seconds at which the blur costs `degrees`.
double exposureForBlur(const Filming::Fastest& fastest, double degrees);

struct FilmCheck {
    std::vector<PositionShown> positions; ///< all of the pack, in order; none without a rate
    std::vector<TimingShown> timings;
    std::optional<BlurCost> blurOpen; ///< shutter open from frame to frame: the worst case
    double placingDegrees = 0.0; ///< standard uncertainty of that segment from careful clicks; 0:
                                 ///< the player's size is not known
};

FilmCheck checkFilm(const Pack& pack, const FilmFacts& facts);

} // namespace kestrel::technique
