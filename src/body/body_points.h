#pragma once

#include "model/landmark.h"

#include <array>
#include <cstddef>

/// The landmarks that the body in space is made of, as indices. Only within this room.
namespace kestrel::body {

/// Landmarks of the body come first among all landmarks, head to foot.
inline constexpr std::size_t pointCount = static_cast<std::size_t>(model::Landmark::rightToe) + 1;

constexpr std::size_t indexOf(model::Landmark landmark) {
    return static_cast<std::size_t>(landmark);
}
constexpr model::Landmark landmarkAt(std::size_t index) {
    return static_cast<model::Landmark>(index);
}

/// Left and right of a landmark that both sides have, by the left one.
struct Pair {
    std::size_t left;
    std::size_t right;
};
constexpr Pair pairOf(model::Landmark left) {
    return {indexOf(left), indexOf(left) + 1};
}
inline constexpr Pair shoulderPair = pairOf(model::Landmark::leftShoulder);
inline constexpr Pair elbowPair = pairOf(model::Landmark::leftElbow);
inline constexpr Pair wristPair = pairOf(model::Landmark::leftWrist);
inline constexpr Pair handPair = pairOf(model::Landmark::leftHand);
inline constexpr Pair hipPair = pairOf(model::Landmark::leftHip);
inline constexpr Pair kneePair = pairOf(model::Landmark::leftKnee);
inline constexpr Pair anklePair = pairOf(model::Landmark::leftAnkle);
inline constexpr Pair heelPair = pairOf(model::Landmark::leftHeel);
inline constexpr Pair toePair = pairOf(model::Landmark::leftToe);

} // namespace kestrel::body
