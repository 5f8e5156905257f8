#pragma once

#include "body/seen_rep.h"
#include "model/landmark.h"

#include <Eigen/Core>

#include <vector>

/// How a technique is usually done, held against what is seen of a player. Only within this room.
namespace kestrel::body {

/// How far from the usual place players have a landmark of the body, against the middle of their
/// hips: standard deviations, standing heights.
struct UsualSpread {
    double level; ///< along each level direction
    double up;
};
UsualSpread usualSpread(model::Landmark landmark);

/// From where the technique as it is usually done looks most like what is seen, the player being
/// `unitPx` tall: azimuths of its target line, the best first, each the best around. None where it
/// is not known how it is done.
std::vector<double> likelyAzimuths(const SeenRep& rep, double unitPx);

} // namespace kestrel::body
