#pragma once

#include "model/landmark.h"
#include "technique/evaluate.h"

#include <vector>

/// Which machine-made landmarks a coach should look at first.
namespace kestrel::technique {

/// A landmark at a key position that nobody has looked at yet.
struct DoubtfulPoint {
    std::string positionId;
    int frame = 0;
    model::Landmark landmark = model::Landmark::head;
    double sdPx = 0.0;
    double gain = 0.0; ///< how much surer the readings get when it is looked at; see below
};

/// The points at the rep's key positions that a machine set and a reading of the pack draws on,
/// those first that would do most for the readings. The gain of a point is the sum over readings of
/// the share of their ± that goes when the point is as sure as a placed one; a reading whose ±
/// reaches across an edge of its good range, so that its verdict is open, counts `openVerdict`
/// times.
std::vector<DoubtfulPoint> doubtfulPoints(const Pack& pack, const model::Rep& rep,
                                          const Circumstances& circumstances);

inline constexpr double openVerdict = 10.0;

} // namespace kestrel::technique
