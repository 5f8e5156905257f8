#include "motion/geometry.h"

#include <cmath>

namespace kestrel::motion {
namespace {

double cross(Point2 u, Point2 v) {
    return u.x * v.y - u.y * v.x;
}
double dot(Point2 u, Point2 v) {
    return u.x * v.x + u.y * v.y;
}

Degrees unsignedAngle(Point2 u, Point2 v) {
    return model::degreesFromRadians(std::atan2(std::abs(cross(u, v)), dot(u, v)));
}

} // namespace

Degrees interiorAngle(Point2 a, Point2 vertex, Point2 b) {
    return unsignedAngle(a - vertex, b - vertex);
}

Degrees flexion(Point2 a, Point2 vertex, Point2 b) {
    return Degrees(180.0) - interiorAngle(a, vertex, b);
}

Degrees elevation(Point2 from, Point2 to) {
    const Point2 d = to - from;
    return model::degreesFromRadians(std::atan2(-d.y, std::abs(d.x)));
}

Degrees lean(Point2 bottom, Point2 top, int sign) {
    const Point2 d = top - bottom;
    return model::degreesFromRadians(std::atan2(sign * d.x, -d.y));
}

Degrees angleBetween(Point2 a, Point2 b, Point2 c, Point2 d) {
    return unsignedAngle(b - a, d - c);
}

Degrees layBack(Point2 elbow, Point2 wrist, Point2 hip, Point2 neck, int sign) {
    const Degrees back = lean(hip, neck, sign) - lean(elbow, wrist, sign);
    const double turned = std::remainder(back.value, 360.0); // −180…180
    return Degrees(90.0 + turned);
}

double offsetAlong(Point2 from, Point2 to, int sign) {
    return sign * (to.x - from.x);
}

double shareBetween(Point2 from, Point2 to, Point2 point) {
    return (point.x - from.x) / (to.x - from.x);
}

double heightAbove(Point2 from, Point2 to) {
    return from.y - to.y;
}

} // namespace kestrel::motion
