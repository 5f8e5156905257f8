#pragma once

#include "model/landmark.h"
#include "model/record.h"

#include <array>
#include <cstddef>
#include <optional>
#include <span>

/// How long the parts of a body are, as shares of standing height, and how much people differ.
namespace kestrel::body {

/// A length of the body. One value for both sides and for all instants of a film.
enum class Part {
    upperArm,
    forearm,
    hand, ///< wrist to knuckles
    thigh,
    shank,
    heelToAnkle,
    toeToAnkle,
    foot,      ///< heel to toe
    hips,      ///< between the hip joints
    shoulders, ///< between the shoulder joints
    trunk,     ///< middle of the hips to middle of the shoulders
    neck,      ///< middle of the shoulders to middle of the head
    head,      ///< middle of the head to its top
};
inline constexpr std::size_t partCount = 13;

struct PartLength {
    double mean = 0.0;       ///< share of standing height
    double relativeSd = 0.0; ///< between people of that age and sex
};
using PartLengths = std::array<PartLength, partCount>;

/// Of a person of that age and sex, or of any where they are not known. Grown people: Drillis and
/// Contini (1966), as tabled by Winter, Biomechanics and Motor Control of Human Movement (2009),
/// figure 4.1. Children have shorter legs and a larger head: sitting height near 0.54 of standing
/// height at eight, 0.53 at eleven, 0.52 grown up, head height near 1/6.3, 1/6.8, 1/7.5 (Snyder et
/// al. 1977, Anthropometry of Infants, Children and Youths to Age 18). Women's shoulders are some
/// 3 % narrower and their hips wider than the mean of both.
PartLengths partLengths(std::optional<int> ageYears, std::optional<model::Sex> sex);

/// Share of standing height that the sole is below the ankle.
inline constexpr double ankleHeight = 0.039;

/// A part that lies between two landmarks, by the left side's where it is a limb's.
struct Bone {
    Part part;
    model::Landmark from;
    model::Landmark to;
    double wander = 0.0; ///< how much the distance of the two joint centres changes by moving,
                         ///< standard deviation, standing heights
};

/// All bones between landmarks, both sides of each limb. Trunk and neck begin between two landmarks
/// and are none of them.
std::span<const Bone> bones();

} // namespace kestrel::body
