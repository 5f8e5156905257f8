#include "track/equipment/glove.h"

#include <cmath>
#include <optional>
#include <vector>

namespace kestrel::track {
namespace {

using model::Landmark;
using model::Point2;

/// A wrist bends and the glove with it; share of standing height, working figures.
constexpr double bendSd = 0.025;
constexpr double lastingBendSd = 0.02;
constexpr double shortestForearm = 0.04; ///< of height: one that points at the camera says nothing

/// Which way a forearm points in the picture, and from where.
struct Forearm {
    Point2 wrist;
    Point2 along; ///< length 1
};

std::optional<Forearm> forearm(const model::LandmarkTrack& body, int frame, model::Side side,
                               double bodyPx) {
    const bool left = side == model::Side::left;
    const auto* wrist = model::find(body, frame, left ? Landmark::leftWrist : Landmark::rightWrist);
    const auto* elbow = model::find(body, frame, left ? Landmark::leftElbow : Landmark::rightElbow);
    if (wrist == nullptr || elbow == nullptr || wrist->hidden || elbow->hidden) {
        return std::nullopt;
    }
    const Point2 way = wrist->px - elbow->px;
    if (length(way) < shortestForearm * bodyPx) {
        return std::nullopt;
    }
    return Forearm{wrist->px, way * (1.0 / length(way))};
}

/// Where the coach placed the glove, seen from the forearm.
struct Worn {
    int frame = 0;
    model::Side side = model::Side::left;
    Point2 off; ///< along and across the forearm from the wrist, pixels
};

std::vector<Worn> wornWherePlaced(const model::LandmarkTrack& placed,
                                  const model::LandmarkTrack& body, double bodyPx) {
    std::vector<Worn> worn;
    for (const auto& [frame, points] : placed) {
        const auto* glove = model::find(placed, frame, Landmark::glove);
        if (glove == nullptr || glove->hidden) {
            continue;
        }
        std::optional<Worn> nearest;
        for (const model::Side side : {model::Side::left, model::Side::right}) {
            const auto arm = forearm(body, frame, side, bodyPx);
            if (!arm) {
                continue;
            }
            const Point2 off = glove->px - arm->wrist;
            const Point2 inArm{off.x * arm->along.x + off.y * arm->along.y,
                               off.y * arm->along.x - off.x * arm->along.y};
            if (!nearest || length(inArm) < length(nearest->off)) {
                nearest = Worn{frame, side, inArm};
            }
        }
        if (nearest) {
            worn.push_back(*nearest);
        }
    }
    return worn;
}

} // namespace

std::map<int, Proposals> gloveWithForearm(const model::LandmarkTrack& placed,
                                          const model::LandmarkTrack& body, double bodyPx) {
    std::map<int, Proposals> result;
    const std::vector<Worn> worn = wornWherePlaced(placed, body, bodyPx);
    if (worn.empty()) {
        return result;
    }
    for (const auto& [frame, points] : body) {
        const Worn* nearest = &worn.front();
        for (const Worn& other : worn) {
            if (std::abs(other.frame - frame) < std::abs(nearest->frame - frame)) {
                nearest = &other;
            }
        }
        const auto arm = forearm(body, frame, nearest->side, bodyPx);
        if (!arm || nearest->frame == frame) {
            continue;
        }
        const auto* wrist = model::find(body, frame,
                                        nearest->side == model::Side::left ? Landmark::leftWrist
                                                                           : Landmark::rightWrist);
        const Point2 a = arm->along;
        const Point2 off = nearest->off;
        result[frame][Landmark::glove] = {
            arm->wrist + Point2{off.x * a.x - off.y * a.y, off.x * a.y + off.y * a.x},
            std::hypot(bendSd * bodyPx, wrist->sdPx), lastingBendSd * bodyPx};
    }
    return result;
}

} // namespace kestrel::track
