#pragma once

#include "film/picture.h"
#include "model/units.h"

#include <span>

/// The turned square of a picture that a pose network looks at.
namespace kestrel::pose {

/// A square of the picture with the person upright in it.
struct PoseRegion {
    model::Point2 centre; ///< source pixels
    double side = 0.0;    ///< source pixels
    double turn = 0.0;    ///< radians, clockwise in the picture; 0: upright

    friend bool operator==(const PoseRegion&, const PoseRegion&) = default;
};

/// The region around a person whose hips' middle is `hips` and whose body, stretched out, reaches
/// from there to `reach`: 2.5 times that far a side, turned so that `reach` lies straight above.
PoseRegion regionFrom(model::Point2 hips, model::Point2 reach);

/// The upright region around a box drawn by hand, with room for limbs: the box's centre and 1.25
/// times its longer side (the network's own margin).
PoseRegion regionAroundBox(model::Point2 corner, model::Point2 opposite);

/// The point of the picture that lies at (x, y) of the region, both from 0 to 1 right and down.
model::Point2 inPicture(const PoseRegion& region, double x, double y);

/// Cuts the region out as `size` × `size` × 3 numbers (red, green, blue), black pixels becoming
/// `black` and white ones `white`; what lies outside the picture is black. `target` has room for
/// size² × 3 numbers.
void cutOut(const film::Picture& picture, const PoseRegion& region, int size, float black,
            float white, std::span<float> target);

} // namespace kestrel::pose
