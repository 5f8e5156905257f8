#include "motion/body_segments.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kestrel::motion {
namespace {

using model::Landmark;

struct Bone {
    Landmark from; ///< of the left side
    Landmark to;
    double fraction;
};

constexpr std::array bones{
    Bone{Landmark::leftShoulder, Landmark::leftElbow, 0.186},
    Bone{Landmark::leftElbow, Landmark::leftWrist, 0.146},
    Bone{Landmark::leftHip, Landmark::leftKnee, 0.245},
    Bone{Landmark::leftKnee, Landmark::leftAnkle, 0.246},
};

} // namespace

std::optional<double> segmentFraction(Landmark a, Landmark b) {
    if (model::sideOf(a) != model::sideOf(b)) {
        return std::nullopt;
    }
    const auto left = [](Landmark l) {
        return model::sideOf(l) == model::Side::right ? model::mirrored(l) : l;
    };
    const auto* bone = std::find_if(bones.begin(), bones.end(), [&](const Bone& b2) {
        return (b2.from == left(a) && b2.to == left(b)) || (b2.from == left(b) && b2.to == left(a));
    });
    return bone == bones.end() ? std::nullopt : std::optional(bone->fraction);
}

model::Degrees foreshortening(double seenPx, double fullPx) {
    return model::degreesFromRadians(std::acos(std::clamp(seenPx / fullPx, 0.0, 1.0)));
}

model::Degrees elevationFromRise(double risePx, double fullPx) {
    return model::degreesFromRadians(std::asin(std::clamp(risePx / fullPx, -1.0, 1.0)));
}

} // namespace kestrel::motion
