#pragma once

#include "model/ground_marks.h"
#include "technique/pack/ground_place.h"

#include <optional>
#include <string_view>

/// How many metres a pixel is at the player, from something of known length that was marked there:
/// a bat, racket or stick held across the view, a plate or rubber at the feet, the ball itself.
namespace kestrel::technique {

/// The id of the coach's own known length, which every pack has besides its places.
inline constexpr std::string_view knownLength = "length";
inline constexpr const char* lengthBegins = "begins"; ///< its two points
inline constexpr const char* lengthEnds = "ends";

struct PictureScale {
    double metresPerPx = 0.0;
    double relativeSd = 0.0; ///< of metresPerPx
};

/// It as a place with two points, for their names.
GroundPlace lengthPlace();

/// The scale from marks whose place is knownLength and whose alongM is the length; nothing when one
/// of its ends is missing or the two are so close that they tell nothing. Its deviation holds two
/// clicks, a length that points a little out of the picture, and that it lies a little nearer or
/// farther than the player (working figures).
std::optional<PictureScale> scaleOf(const model::GroundMarks& marks);

} // namespace kestrel::technique
