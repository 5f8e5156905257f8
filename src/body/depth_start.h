#pragma once

#include "body/body_points.h"

#include "body/seen_rep.h"

#include <Eigen/Core>
#include <Eigen/Geometry>

#include <optional>
#include <vector>

/// A first guess at the body in space, for the estimate to begin from. Only within this room.
namespace kestrel::body {

/// Places of all points at one instant, a column each: standing heights, camera's axes (right, up,
/// towards the camera), the middle of the hips at depth 0.
using Places = Eigen::Matrix<double, 3, static_cast<int>(pointCount)>;

struct DepthStart {
    model::Point2 centre; ///< picture point of the origin
    std::vector<Places> places;
};

/// How tall the player looks.
struct HeightSeen {
    double px = 0.0;
    model::Seconds time; ///< when
};

/// The way from the ankles up to the top of the head where it looks longest; nothing when no
/// instant shows all of it.
std::optional<HeightSeen> heightSeen(const SeenRep& rep);

/// Places in units that look `unitPx` long at depth 0.
///
/// How far each bone leans out of the picture follows from how long it looks (scaled orthography,
/// Taylor 2000, CVIU 80:349); to which side is chosen for trunk, each leg and each arm by the
/// Viterbi algorithm: what moves smoothly, agrees with the machine's word on depth, has knees that
/// bend the way the toes point and feet that point where the pelvis faces. How far the whole body
/// is from the camera, which is `distanceBh` from depth 0, follows from how tall it looks
/// meanwhile. Every landmark must be seen at one instant or more.
DepthStart depthStart(const SeenRep& rep, double unitPx, double distanceBh);

/// The same with all points where the machine says that they are, as far as it does.
DepthStart depthStartAsTold(const SeenRep& rep, double unitPx, double distanceBh);

/// The same with all points as the technique is usually done, its target line at `azimuth`
/// (radians from the picture's right, over away from the camera).
DepthStart depthStartAsUsual(const SeenRep& rep, double unitPx, double distanceBh, double azimuth);

} // namespace kestrel::body
