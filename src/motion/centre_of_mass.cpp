#include "motion/centre_of_mass.h"

#include <array>
#include <map>
#include <vector>

namespace kestrel::motion {
namespace {

using model::Landmark;

/// A segment of the body with its share of the mass and where its centre lies between two ends,
/// each the middle of its landmarks.
struct MassSegment {
    double massPercent;   ///< men's and women's figure of de Leva (1996), table 4, their middle
    double centrePercent; ///< of the way from the near end to the far end, likewise
    std::vector<Landmark> near;
    std::vector<Landmark> far;
};

constexpr double middle(double men, double women) {
    return 0.5 * (men + women);
}

std::vector<MassSegment> segments() {
    using enum Landmark;
    return {
        {middle(6.94, 6.68), 0.0, {head}, {head}},
        {middle(43.46, 42.57),
         middle(44.86, 41.51),
         {leftShoulder, rightShoulder},
         {leftHip, rightHip}},
        {middle(2.71, 2.55), middle(57.72, 57.54), {leftShoulder}, {leftElbow}},
        {middle(2.71, 2.55), middle(57.72, 57.54), {rightShoulder}, {rightElbow}},
        {middle(1.62, 1.38), middle(45.74, 45.59), {leftElbow}, {leftWrist}},
        {middle(1.62, 1.38), middle(45.74, 45.59), {rightElbow}, {rightWrist}},
        {middle(0.61, 0.56), 0.0, {leftHand}, {leftHand}},
        {middle(0.61, 0.56), 0.0, {rightHand}, {rightHand}},
        {middle(14.16, 14.78), middle(40.95, 36.12), {leftHip}, {leftKnee}},
        {middle(14.16, 14.78), middle(40.95, 36.12), {rightHip}, {rightKnee}},
        {middle(4.33, 4.81), middle(44.59, 44.16), {leftKnee}, {leftAnkle}},
        {middle(4.33, 4.81), middle(44.59, 44.16), {rightKnee}, {rightAnkle}},
        {middle(1.37, 1.29), middle(44.15, 40.14), {leftHeel}, {leftToe}},
        {middle(1.37, 1.29), middle(44.15, 40.14), {rightHeel}, {rightToe}},
    };
}

std::vector<std::pair<Landmark, double>> weights() {
    std::map<Landmark, double> sums;
    double mass = 0.0;
    for (const MassSegment& segment : segments()) {
        const double far = segment.centrePercent / 100.0;
        mass += segment.massPercent;
        for (const Landmark landmark : segment.near) {
            sums[landmark] +=
                segment.massPercent * (1.0 - far) / static_cast<double>(segment.near.size());
        }
        for (const Landmark landmark : segment.far) {
            sums[landmark] += segment.massPercent * far / static_cast<double>(segment.far.size());
        }
    }
    std::vector<std::pair<Landmark, double>> result;
    for (const auto& [landmark, sum] : sums) {
        if (sum > 0.0) {
            result.emplace_back(landmark, sum / mass); // the table's own sum is not quite 100
        }
    }
    return result;
}

} // namespace

std::span<const std::pair<Landmark, double>> centreOfMassWeights() {
    static const std::vector<std::pair<Landmark, double>> result = weights();
    return result;
}

} // namespace kestrel::motion
