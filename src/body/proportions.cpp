#include "body/proportions.h"

#include <algorithm>

namespace kestrel::body {
namespace {

using model::Landmark;

/// How children differ from grown people, shares of standing height.
struct Growth {
    int years;
    double legs; ///< hip to ankle, shorter
    double head; ///< shoulder to top of the head, more
};

constexpr std::array growth{Growth{8, -0.020, 0.022}, Growth{11, -0.010, 0.013},
                            Growth{15, -0.002, 0.005}, Growth{17, 0.0, 0.0}};

Growth growthAt(std::optional<int> ageYears) {
    if (!ageYears || *ageYears >= growth.back().years) {
        return growth.back();
    }
    if (*ageYears <= growth.front().years) {
        return growth.front();
    }
    const auto* above = std::find_if(growth.begin(), growth.end(),
                                     [&](const Growth& g) { return g.years > *ageYears; });
    const Growth& a = *(above - 1);
    const double share = static_cast<double>(*ageYears - a.years) / (above->years - a.years);
    return {*ageYears, a.legs + share * (above->legs - a.legs),
            a.head + share * (above->head - a.head)};
}

// Working figures for how much the joint centres' distance changes as they move: skin and cloth
// over the limbs, the girdle on the chest.
constexpr double limbWander = 0.004;
constexpr double footWander = 0.004;
constexpr double handWander = 0.006;
constexpr double girdleWander = 0.008;

constexpr std::array allBones{
    Bone{Part::upperArm, Landmark::leftShoulder, Landmark::leftElbow, limbWander},
    Bone{Part::upperArm, Landmark::rightShoulder, Landmark::rightElbow, limbWander},
    Bone{Part::forearm, Landmark::leftElbow, Landmark::leftWrist, limbWander},
    Bone{Part::forearm, Landmark::rightElbow, Landmark::rightWrist, limbWander},
    Bone{Part::hand, Landmark::leftWrist, Landmark::leftHand, handWander},
    Bone{Part::hand, Landmark::rightWrist, Landmark::rightHand, handWander},
    Bone{Part::thigh, Landmark::leftHip, Landmark::leftKnee, limbWander},
    Bone{Part::thigh, Landmark::rightHip, Landmark::rightKnee, limbWander},
    Bone{Part::shank, Landmark::leftKnee, Landmark::leftAnkle, limbWander},
    Bone{Part::shank, Landmark::rightKnee, Landmark::rightAnkle, limbWander},
    Bone{Part::heelToAnkle, Landmark::leftHeel, Landmark::leftAnkle, footWander},
    Bone{Part::heelToAnkle, Landmark::rightHeel, Landmark::rightAnkle, footWander},
    Bone{Part::toeToAnkle, Landmark::leftToe, Landmark::leftAnkle, footWander},
    Bone{Part::toeToAnkle, Landmark::rightToe, Landmark::rightAnkle, footWander},
    Bone{Part::foot, Landmark::leftHeel, Landmark::leftToe, footWander},
    Bone{Part::foot, Landmark::rightHeel, Landmark::rightToe, footWander},
    Bone{Part::hips, Landmark::leftHip, Landmark::rightHip, limbWander},
    Bone{Part::shoulders, Landmark::leftShoulder, Landmark::rightShoulder, girdleWander},
    Bone{Part::head, Landmark::head, Landmark::headTop, limbWander},
};

} // namespace

PartLengths partLengths(std::optional<int> ageYears, std::optional<model::Sex> sex) {
    const Growth g = growthAt(ageYears);
    const double broad = !sex ? 0.985 : *sex == model::Sex::boy ? 1.0 : 0.97;
    // Between people of one age: limbs by Winter's and Snyder's tables, the rest working figures.
    constexpr double limb = 0.05;
    constexpr double breadth = 0.06;
    constexpr double loose = 0.08;
    const auto length = [](double mean, double sd) { return PartLength{mean, sd}; };
    PartLengths lengths;
    const auto set = [&](Part part, PartLength l) { lengths[static_cast<std::size_t>(part)] = l; };
    set(Part::upperArm, length(0.186, limb));
    set(Part::forearm, length(0.146, limb));
    set(Part::hand, length(0.054, loose));
    set(Part::thigh, length(0.245 + 0.5 * g.legs, limb));
    set(Part::shank, length(0.246 + 0.5 * g.legs, limb));
    set(Part::heelToAnkle, length(0.056, loose));
    set(Part::toeToAnkle, length(0.119, loose));
    set(Part::foot, length(0.152, limb));
    set(Part::hips, length(0.191 * (2.0 - broad), breadth));
    set(Part::shoulders, length(0.259 * broad, breadth));
    set(Part::trunk, length(0.288 - g.legs - g.head, limb));
    set(Part::neck, length(0.118 + 0.5 * g.head, loose));
    set(Part::head, length(0.064 + 0.5 * g.head, loose));
    return lengths;
}

std::span<const Bone> bones() {
    return allBones;
}

} // namespace kestrel::body
