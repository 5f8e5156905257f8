#include "track/person/bones.h"

#include "motion/body_segments.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace kestrel::track {
namespace {

using model::Landmark;
using model::LandmarkPoint;

constexpr std::array bones{
    std::pair{Landmark::leftShoulder, Landmark::leftElbow},
    std::pair{Landmark::rightShoulder, Landmark::rightElbow},
    std::pair{Landmark::leftElbow, Landmark::leftWrist},
    std::pair{Landmark::rightElbow, Landmark::rightWrist},
    std::pair{Landmark::leftHip, Landmark::leftKnee},
    std::pair{Landmark::rightHip, Landmark::rightKnee},
    std::pair{Landmark::leftKnee, Landmark::leftAnkle},
    std::pair{Landmark::rightKnee, Landmark::rightAnkle},
};

/// Of people of one height nineteen in twenty have bones at most so much longer than the table's.
constexpr double longest = 1.0 + 2.0 * motion::segmentFractionSd;
/// A bone may look so much longer than its length before anything is said against it.
constexpr double slack = 1.03;
constexpr int sweeps = 4; ///< each end belongs to two bones

bool isPlaced(const LandmarkPoint& point) {
    return point.source == model::Source::placed && !point.hidden;
}

/// How much a joint may be moved: not at all where the coach placed it.
double doubt(const LandmarkPoint& point) {
    return point.source == model::Source::placed ? 0.0 : point.sdPx * point.sdPx;
}

} // namespace

std::vector<BoneLength> boneLengths(const model::LandmarkTrack& track, double bodyPx) {
    std::vector<BoneLength> lengths;
    for (const auto& [from, to] : bones) {
        double px = longest * *motion::segmentFraction(from, to) * bodyPx;
        for (const auto& [frame, points] : track) {
            const auto a = points.find(from);
            const auto b = points.find(to);
            if (a != points.end() && b != points.end() && isPlaced(a->second) &&
                isPlaced(b->second)) {
                px = std::max(px, length(a->second.px - b->second.px));
            }
        }
        lengths.push_back({from, to, px});
    }
    return lengths;
}

void shortenBones(model::LandmarkTrack& track, const std::vector<BoneLength>& lengths) {
    for (auto& [frame, points] : track) {
        std::map<Landmark, model::Point2> drawn;
        for (int sweep = 0; sweep < sweeps; ++sweep) {
            for (const BoneLength& bone : lengths) {
                const auto a = points.find(bone.from);
                const auto b = points.find(bone.to);
                if (a == points.end() || b == points.end() || a->second.hidden ||
                    b->second.hidden) {
                    continue;
                }
                const model::Point2 way = b->second.px - a->second.px;
                const double both = doubt(a->second) + doubt(b->second);
                const double excess = length(way) - slack * bone.px;
                if (excess <= 0.0 || both == 0.0) {
                    continue;
                }
                const model::Point2 pull = way * (excess / length(way));
                const auto draw = [&](Landmark landmark, LandmarkPoint& point, double share) {
                    point.px = point.px + pull * share;
                    drawn[landmark] = drawn[landmark] + pull * share;
                };
                draw(bone.from, a->second, doubt(a->second) / both);
                draw(bone.to, b->second, -doubt(b->second) / both);
            }
        }
        for (const auto& [landmark, shift] : drawn) {
            LandmarkPoint& point = points.at(landmark);
            if (doubt(point) > 0.0) {
                point.sdPx = std::hypot(point.sdPx, length(shift));
            }
        }
    }
}

} // namespace kestrel::track
