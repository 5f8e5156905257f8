#include "technique/pack/known_length.h"

#include "model/record.h"
#include "motion/out_of_plane.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kestrel::technique {

GroundPlace lengthPlace() {
    GroundPlace place;
    place.id = knownLength;
    place.name = model::message("length");
    place.points = {{lengthBegins, model::message("length.begins"), {0.0, 0.0}},
                    {lengthEnds, model::message("length.ends"), {1.0, 0.0}}};
    return place;
}

std::optional<PictureScale> scaleOf(const model::GroundMarks& marks) {
    const auto from = marks.points.find(lengthBegins);
    const auto to = marks.points.find(lengthEnds);
    if (marks.placeId != knownLength || from == marks.points.end() || to == marks.points.end() ||
        marks.alongM.value <= 0.0) {
        return std::nullopt;
    }
    const double px = model::length(to->second - from->second);
    const double clicks = model::placedPointSd * std::numbers::sqrt2 / std::max(px, 1.0);
    constexpr double leastKnown =
        0.25; // a third of the length and more may then be a click's error
    if (clicks > leastKnown) {
        return std::nullopt;
    }
    constexpr model::Degrees outOfPicture(10.0);
    constexpr double nearerOrFarther = 0.03; // 30 cm of ten metres
    return PictureScale{
        marks.alongM.value / px,
        std::hypot(clicks, motion::distanceRelativeRms(outOfPicture), nearerOrFarther)};
}

} // namespace kestrel::technique
