#pragma once

#include <Eigen/Core>
#include <Eigen/Geometry>

#include <ceres/jet.h>

#include <array>
#include <cmath>

/// What the estimate of the body holds against a state of it: each function object gives misses
/// over their standard deviations, for Ceres. Places are in the camera's axes (right, up, towards
/// the camera). They are in units that look a certain number of pixels long at depth 0, about a
/// standing height; how long a standing height is in them is a parameter. Were the pixels the
/// parameter, a body that shrinks while its picture grows would make all changes of place smaller,
/// and seem likelier. Only within this room.
namespace kestrel::body {

template <class T> using V3 = Eigen::Matrix<T, 3, 1>;
/// Keeps lengths of nothing differentiable.
inline constexpr double tiny = 1e-10;

template <class T> V3<T> at(const T* p) {
    return V3<T>(p[0], p[1], p[2]);
}

/// Camera parameters: logarithm of the distance, the picture point that the camera looks at, radial
/// distortion (a ray at tangent r from the axis is drawn at r (1 + distortion r²)).
inline constexpr int cameraSize = 4;
/// Gravity parameters: radians that the camera rolls and looks down.
inline constexpr int gravitySize = 2;
/// How a player leans otherwise than usual all the time: trunk and legs, to the right and away from
/// the camera, as a share of the height above or below the hips.
inline constexpr int leanSize = 4;

/// The direction up in the camera's axes.
template <class T> V3<T> upward(const T* gravity) {
    using std::cos;
    using std::sin;
    return V3<T>(sin(gravity[0]), cos(gravity[0]) * cos(gravity[1]),
                 cos(gravity[0]) * sin(gravity[1]));
}

/// Rows: right, away from the camera and up, all level, in the camera's axes.
template <class T> Eigen::Matrix<T, 3, 3> levelAxes(const T* gravity) {
    const V3<T> up = upward(gravity);
    const V3<T> right = (V3<T>(T(1.0), T(0.0), T(0.0)) - up.x() * up).normalized();
    Eigen::Matrix<T, 3, 3> rows;
    rows.row(0) = right;
    rows.row(1) = up.cross(right);
    rows.row(2) = up;
    return rows;
}

/// A place whose x runs towards the target in level axes, with the target line at `azimuth`:
/// radians from the right, over away from the camera.
template <class T> V3<T> withTargetAt(const V3<T>& place, const T& azimuth) {
    using std::cos;
    using std::sin;
    const T c = cos(azimuth);
    const T s = sin(azimuth);
    return V3<T>(place.x() * c - place.y() * s, place.x() * s + place.y() * c, place.z());
}

template <class T> Eigen::Matrix<T, 2, 1> projected(const T* p, const T* camera, double unitPx) {
    using std::exp;
    const T inverseDistance = exp(-camera[0]);
    const T nearer = T(1.0) - p[2] * inverseDistance;
    const T tangent2 =
        (p[0] * p[0] + p[1] * p[1]) * inverseDistance * inverseDistance / (nearer * nearer);
    const T scale = unitPx / nearer * (T(1.0) + camera[3] * tangent2);
    return {camera[1] + scale * p[0], camera[2] - scale * p[1]};
}

struct PicturePoint {
    double unitPx;
    double x;
    double y;
    double sd;
    template <class T> bool operator()(const T* p, const T* camera, T* r) const {
        const auto px = projected(p, camera, unitPx);
        r[0] = (px[0] - x) / sd;
        r[1] = (px[1] - y) / sd;
        return true;
    }
};

/// The same of a landmark with an error that changes slowly, told at two nodes in time around it,
/// and one that stays.
struct PicturePointOff {
    double unitPx;
    double x;
    double y;
    double sd;
    double fading;  ///< standard deviation of the error that changes, pixels
    double staying; ///< of the one that stays
    double share;   ///< of the way from the one node to the other
    template <class T>
    bool operator()(const T* p, const T* camera, const T* before, const T* after, const T* always,
                    T* r) const {
        const auto px = projected(p, camera, unitPx);
        for (int i = 0; i < 2; ++i) {
            const T changing = before[i] * T(1.0 - share) + after[i] * T(share);
            const T error = T(fading) * changing + T(staying) * always[i];
            r[i] = (px[i] + error - T(i == 0 ? x : y)) / T(sd);
        }
        return true;
    }
};

/// An error from one node to the next, in its standard deviations: partly as it was.
struct ErrorGoesOn {
    double stays; ///< correlation of the two
    template <class T> bool operator()(const T* before, const T* after, T* r) const {
        const double sd = std::sqrt(1.0 - stays * stays);
        r[0] = (after[0] - T(stays) * before[0]) / T(sd);
        r[1] = (after[1] - T(stays) * before[1]) / T(sd);
        return true;
    }
};

struct ErrorAsUsual {
    template <class T> bool operator()(const T* error, T* r) const {
        r[0] = error[0];
        r[1] = error[1];
        return true;
    }
};

/// Two joints as far apart as the part between them is long.
struct BoneLength {
    double sd;
    template <class T>
    bool operator()(const T* a, const T* b, const T* logLength, const T* logHeight, T* r) const {
        using std::exp;
        using std::sqrt;
        const V3<T> way = at(a) - at(b);
        r[0] = (sqrt(way.squaredNorm() + T(tiny)) - exp(logLength[0] + logHeight[0])) / sd;
        return true;
    }
};

/// The middles of two pairs as far apart as the trunk is long.
struct TrunkLength {
    double sd;
    template <class T>
    bool operator()(const T* leftHip, const T* rightHip, const T* leftShoulder,
                    const T* rightShoulder, const T* logLength, const T* logHeight, T* r) const {
        using std::exp;
        const V3<T> way =
            0.5 * (at(leftShoulder) + at(rightShoulder)) - 0.5 * (at(leftHip) + at(rightHip));
        r[0] = (way.norm() - exp(logLength[0] + logHeight[0])) / sd;
        return true;
    }
};

struct NeckLength {
    double sd;
    template <class T>
    bool operator()(const T* leftShoulder, const T* rightShoulder, const T* head,
                    const T* logLength, const T* logHeight, T* r) const {
        using std::exp;
        const V3<T> way = at(head) - 0.5 * (at(leftShoulder) + at(rightShoulder));
        r[0] = (way.norm() - exp(logLength[0] + logHeight[0])) / sd;
        return true;
    }
};

/// A point that goes on as it went: the change of its velocity between two steps, across the view
/// as large as it looks. (Picture places are known and depths are not. Were changes across the view
/// measured in space, a body that is taken to be nearer would seem calmer, and likelier.)
struct Smoothness {
    double firstStep; ///< seconds
    double secondStep;
    double sd;      ///< of the change of velocity across the view, units a second at depth 0
    double depthSd; ///< and along it
    template <class T>
    bool operator()(const T* a, const T* b, const T* c, const T* camera, T* r) const {
        using std::exp;
        const T looks = T(1.0) / (T(1.0) - b[2] * exp(-camera[0]));
        for (int i = 0; i < 3; ++i) {
            r[i] = (c[i] - b[i]) * T(1.0 / (secondStep * sd)) -
                   (b[i] - a[i]) * T(1.0 / (firstStep * sd));
            if (i < 2) {
                r[i] *= looks;
            } else {
                r[i] *= T(sd / depthSd);
            }
        }
        return true;
    }
};

/// One number near what it is usually.
struct Usual {
    double mean;
    double sd;
    template <class T> bool operator()(const T* value, T* r) const {
        r[0] = (value[0] - mean) / sd;
        return true;
    }
};

/// One number near another that may be set meanwhile.
struct Near {
    const double* mean;
    double sd;
    template <class T> bool operator()(const T* value, T* r) const {
        r[0] = (value[0] - *mean) / sd;
        return true;
    }
};

/// How the camera rolls and looks down, as it is known or usual.
struct UsualGravity {
    std::array<double, gravitySize> mean;
    std::array<double, gravitySize> sd;
    template <class T> bool operator()(const T* gravity, T* r) const {
        for (std::size_t i = 0; i < gravitySize; ++i) {
            r[i] = (gravity[i] - mean[i]) / sd[i];
        }
        return true;
    }
};

/// A camera as it is known or usual; its distance is told in the player's heights, which are a
/// parameter, too.
struct UsualCamera {
    double logDistance;
    double distanceSd;          ///< of the logarithm
    std::array<double, 3> rest; ///< as the camera's other parameters
    std::array<double, 3> restSd;
    template <class T> bool operator()(const T* camera, const T* logHeight, T* r) const {
        r[0] = (camera[0] - logHeight[0] - logDistance) / distanceSd;
        for (int i = 0; i < 3; ++i) {
            r[i + 1] = (camera[i + 1] - rest[i]) / restSd[i];
        }
        return true;
    }
};

/// Nobody films from nearer.
struct NotNearer {
    double logDistance; ///< in the player's heights
    double sd;
    template <class T> bool operator()(const T* camera, const T* logHeight, T* r) const {
        const T nearer = camera[0] - logHeight[0] - T(logDistance);
        r[0] = nearer < T(0.0) ? nearer / sd : T(0.0);
        return true;
    }
};

/// The parts that lie above one another make up the standing height.
struct StandingHeight {
    double ankleHeight;
    double sd;
    template <class T>
    bool operator()(const T* shank, const T* thigh, const T* trunk, const T* neck, const T* head,
                    T* r) const {
        using std::exp;
        const T sum = exp(shank[0]) + exp(thigh[0]) + exp(trunk[0]) + exp(neck[0]) + exp(head[0]);
        r[0] = (sum + T(ankleHeight - 1.0)) / sd;
        return true;
    }
};

/// How much nearer a point is than the middle of the hips.
struct Nearer {
    double by;
    double sd;
    template <class T>
    bool operator()(const T* p, const T* leftHip, const T* rightHip, T* r) const {
        r[0] = (p[2] - 0.5 * (leftHip[2] + rightHip[2]) - by) / sd;
        return true;
    }
};

/// A point against the middle of the hips where players who do this technique usually have it; the
/// target line at an azimuth.
struct UsualPlace {
    Eigen::Vector3d usual; ///< towards the target, to its left and up, standing heights
    double levelSd;        ///< standing heights
    double upSd;
    template <class T>
    bool operator()(const T* p, const T* leftHip, const T* rightHip, const T* gravity,
                    const T* logHeight, const T* azimuth, const T* lean, T* r) const {
        const V3<T> way = at(p) - 0.5 * (at(leftHip) + at(rightHip));
        const T* part = usual.z() > 0.0 ? lean : lean + leanSize / 2;
        return misses<T>(way, gravity, logHeight, azimuth, part, r);
    }

  protected:
    template <class T>
    bool misses(const V3<T>& way, const T* gravity, const T* logHeight, const T* azimuth,
                const T* lean, T* r) const {
        using std::exp;
        const V3<T> level = levelAxes(gravity) * way * exp(-logHeight[0]);
        V3<T> expected = withTargetAt<T>(usual.cast<T>(), azimuth[0]);
        expected.x() += lean[0] * usual.z();
        expected.y() += lean[1] * usual.z();
        r[0] = (level.x() - expected.x()) / levelSd;
        r[1] = (level.y() - expected.y()) / levelSd;
        r[2] = (level.z() - expected.z()) / upSd;
        return true;
    }
};

/// The left hip against the right one, likewise.
struct UsualHips : UsualPlace {
    template <class T>
    bool operator()(const T* leftHip, const T* rightHip, const T* gravity, const T* logHeight,
                    const T* azimuth, T* r) const {
        const std::array<T, 2> upright{T(0.0), T(0.0)};
        return misses<T>(at(leftHip) - at(rightHip), gravity, logHeight, azimuth, upright.data(),
                         r);
    }
};

/// How a player leans otherwise than usual.
struct UsualLean {
    double trunkSd;
    double legsSd;
    template <class T> bool operator()(const T* lean, T* r) const {
        for (int i = 0; i < leanSize; ++i) {
            r[i] = lean[i] / (i < leanSize / 2 ? trunkSd : legsSd);
        }
        return true;
    }
};

/// How much nearer one point is than another.
struct NearerThan {
    double by;
    double sd;
    template <class T> bool operator()(const T* a, const T* b, T* r) const {
        r[0] = (a[2] - b[2] - by) / sd;
        return true;
    }
};

/// The middle of the hips at depth 0.
struct AtDepthZero {
    double sd;
    template <class T> bool operator()(const T* leftHip, const T* rightHip, T* r) const {
        r[0] = 0.5 * (leftHip[2] + rightHip[2]) / sd;
        return true;
    }
};

/// Knees bend the way the toes point: the knee lies before the line from hip to ankle, and not far
/// beside the plane of that line and the foot.
struct KneeHinge {
    double behindSd; ///< standing heights
    double besideSd; ///< standing heights, and as much again as the knee is out
    template <class T>
    bool operator()(const T* hip, const T* knee, const T* ankle, const T* heel, const T* toe,
                    T* r) const {
        using std::sqrt;
        const V3<T> down = (at(ankle) - at(hip)).normalized();
        V3<T> out = at(knee) - at(hip);
        out -= out.dot(down) * down;
        V3<T> ahead = at(toe) - at(heel);
        ahead -= ahead.dot(down) * down;
        ahead /= sqrt(ahead.squaredNorm() + T(1e-6));
        const T before = out.dot(ahead);
        const T beside = out.dot(down.cross(ahead));
        r[0] = before < T(0.0) ? before / behindSd : T(0.0);
        r[1] = beside / (T(besideSd) + 0.5 * sqrt(out.squaredNorm() + T(1e-8)));
        return true;
    }
};

/// Hips and shoulders lie across the trunk, and are turned against each other within limits.
struct TrunkShape {
    double hipsTiltSd;      ///< radians
    double shouldersTiltSd; ///< radians
    double twistSd;         ///< radians
    template <class T>
    bool operator()(const T* leftHip, const T* rightHip, const T* leftShoulder,
                    const T* rightShoulder, T* r) const {
        using std::atan2;
        const V3<T> up =
            (at(leftShoulder) + at(rightShoulder) - at(leftHip) - at(rightHip)).normalized();
        const V3<T> hips = (at(leftHip) - at(rightHip)).normalized();
        const V3<T> shoulders = (at(leftShoulder) - at(rightShoulder)).normalized();
        r[0] = hips.dot(up) / hipsTiltSd;
        r[1] = shoulders.dot(up) / shouldersTiltSd;
        r[2] = atan2(hips.cross(shoulders).dot(up), hips.dot(shoulders)) / twistSd;
        return true;
    }
};

/// The foot points about where the pelvis faces, turned out rather than in.
struct FootTurn {
    double outward; ///< 1 for the left foot, −1 for the right one
    double usual;   ///< radians outwards
    double sd;
    template <class T>
    bool operator()(const T* leftHip, const T* rightHip, const T* leftShoulder,
                    const T* rightShoulder, const T* heel, const T* toe, T* r) const {
        using std::atan2;
        using std::sqrt;
        const V3<T> up =
            (at(leftShoulder) + at(rightShoulder) - at(leftHip) - at(rightHip)).normalized();
        const V3<T> left = (at(leftHip) - at(rightHip)).normalized();
        const V3<T> front = left.cross(up);
        const V3<T> foot = at(toe) - at(heel);
        const T turn = atan2(foot.dot(left) * T(outward), foot.dot(front));
        r[0] = (turn - T(usual)) / sd;
        return true;
    }
};

/// A foot's end that stands neither slides nor sinks.
struct Standing {
    double sd; ///< standing heights from one instant to the next
    template <class T> bool operator()(const T* a, const T* b, T* r) const {
        for (int i = 0; i < 3; ++i) {
            r[i] = (b[i] - a[i]) / sd;
        }
        return true;
    }
};

struct OnGround {
    double sd;
    template <class T> bool operator()(const T* p, const T* gravity, const T* ground, T* r) const {
        r[0] = (upward(gravity).dot(at(p)) - ground[0]) / sd;
        return true;
    }
};

} // namespace kestrel::body
