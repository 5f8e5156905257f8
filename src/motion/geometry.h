#pragma once

#include "model/units.h"

/// Angles and offsets of landmarks in the picture. Picture y points down; "up" here is −y, with the
/// camera held level. `sign` is the picture direction that counts as positive (+1 right, −1 left):
/// towards the target in side views, towards the throwing arm in front and rear views.
namespace kestrel::motion {

using model::Degrees;
using model::Point2;

/// Interior angle at `vertex` between the segments to `a` and `b`: 180° when straight, 0…180.
/// 0 when a segment has no length.
Degrees interiorAngle(Point2 a, Point2 vertex, Point2 b);

/// Flexion = 180° − interior angle: 0 when straight.
Degrees flexion(Point2 a, Point2 vertex, Point2 b);

/// How far `to` lies above `from` as an angle against the horizontal, −90…90, whichever way the
/// segment runs.
Degrees elevation(Point2 from, Point2 to);

/// Lean of the line bottom → top against the vertical, −180…180, positive towards `sign`.
Degrees lean(Point2 bottom, Point2 top, int sign);

/// Angle between the directions a → b and c → d, 0…180.
Degrees angleBetween(Point2 a, Point2 b, Point2 c, Point2 d);

/// Lay-back of the forearm elbow → wrist against the trunk hip → neck: 90° when the forearm lies
/// along the trunk upwards, 180° when it points straight back from it, away from `sign`
/// (−90…270).
Degrees layBack(Point2 elbow, Point2 wrist, Point2 hip, Point2 neck, int sign);

/// Signed picture distance from `from` to `to` along `sign`, in pixels.
double offsetAlong(Point2 from, Point2 to, int sign);

/// How far along the level way from `from` to `to` the point stands: 0 above `from`, 1 above `to`,
/// less or more beyond them. The two differ in x.
double shareBetween(Point2 from, Point2 to, Point2 point);

/// How many pixels `to` is higher than `from`.
double heightAbove(Point2 from, Point2 to);

} // namespace kestrel::motion
