#pragma once

#include "model/landmark.h"

#include <span>
#include <utility>

/// Where the mass of the body is.
namespace kestrel::motion {

/// The centre of mass as a weighted sum of landmarks of the body; weights sum to 1.
///
/// Segment method with the masses and centres of de Leva (1996), middle of men's and women's
/// figures: head and neck, trunk (from the middle of the shoulders to the middle of the hips),
/// upper arms, forearms, hands, thighs, shanks, feet (heel to toe). Head and hand are taken at
/// their landmark. The hips of the program are the ends of the hip breadth; their middle is the
/// same.
std::span<const std::pair<model::Landmark, double>> centreOfMassWeights();

/// How far off the centre of mass is when the body is not the table's: standard deviation per axis,
/// body heights. Grown people differ from the table by about 1 % of height (de Leva 1996, against
/// the bodies that the table was made from); children's heads are heavier and their legs lighter.
inline constexpr double centreOfMassSdBh = 0.010;
inline constexpr double childCentreOfMassSdBh = 0.015;

} // namespace kestrel::motion
