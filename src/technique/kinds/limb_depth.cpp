#include "technique/kinds/limb_depth.h"

#include "motion/body_segments.h"
#include "motion/heading.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <vector>

namespace kestrel::technique {
namespace {

using model::Landmark;
using motion::Length;

/// How much the size of a player changes who moves towards the camera or away, relative standard
/// deviation: a stride on a film from six to ten metres. Working figure.
constexpr double sizeAlongViewSd = 0.06;

/// How much larger or smaller than the middle of the body a limb looks that is reached towards the
/// camera or away from it: arms by a third of a metre, legs by less, on a film from six metres.
/// Working figures.
constexpr double armSizeSd = 0.06;
constexpr double legSizeSd = 0.05;
/// The same of the lines across the trunk, one half of which is nearer and the other farther.
constexpr double trunkSizeSd = 0.02;

bool isSide(const Circumstances& c) {
    return c.view == model::View::openSide || c.view == model::View::closedSide;
}

/// From above a player's height does not show, and nothing tells a length.
bool showsHeight(const Circumstances& c) {
    return c.view && c.view != model::View::overhead;
}

bool isImplement(Landmark a, Landmark b) {
    const auto part = [](Landmark l) {
        return l == Landmark::implementHead || l == Landmark::implementTip;
    };
    return (a == Landmark::implementButt && part(b)) || (b == Landmark::implementButt && part(a));
}

double sizeSd(Landmark a, Landmark b) {
    const auto isLeg = [](Landmark l) {
        return l == Landmark::leftKnee || l == Landmark::rightKnee;
    };
    if (motion::breadthFraction(a, b)) {
        return trunkSizeSd;
    }
    return isLeg(a) || isLeg(b) ? legSizeSd : armSizeSd;
}

Length asSeen(Landmark a, Landmark b, double px, double placedSdPx) {
    return {px, std::hypot(placedSdPx, sizeSd(a, b) * px)};
}

/// The line between two landmarks of a frame as it is seen, where both can be; as long as it would
/// be in the first frame's picture.
std::optional<Length> seenIn(const model::Rep& rep, const Circumstances& circumstances, int frame,
                             Landmark a, Landmark b) {
    const auto there = rep.landmarks.find(frame);
    if (there == rep.landmarks.end()) {
        return std::nullopt;
    }
    const model::FrameLandmarks& points = there->second;
    const auto from = points.find(a);
    const auto to = points.find(b);
    const auto usable = [&](const auto& point) {
        return point != points.end() && !point->second.hidden && !point->second.occluded;
    };
    if (!usable(from) || !usable(to)) {
        return std::nullopt;
    }
    const double zoom = zoomAt(circumstances.camera, frame);
    return asSeen(a, b, model::length(to->second.px - from->second.px) / zoom,
                  std::hypot(from->second.sdPx, to->second.sdPx) / zoom);
}

std::vector<Length> seenAtPositions(const model::Rep& rep, const Circumstances& circumstances,
                                    Landmark a, Landmark b) {
    std::vector<Length> seen;
    for (const auto& [position, frame] : model::allPositions(rep)) {
        if (const auto length = seenIn(rep, circumstances, frame, a, b)) {
            seen.push_back(*length);
        }
    }
    return seen;
}

std::optional<Length> ownLengthOf(const model::Rep& rep, const Circumstances& circumstances,
                                  const std::optional<PixelHeight>& height, Landmark a,
                                  Landmark b) {
    const auto fraction = motion::segmentFraction(a, b);
    if ((!fraction && !isImplement(a, b)) || !showsHeight(circumstances)) {
        return std::nullopt;
    }
    const double along = isSide(circumstances) ? 0.0 : sizeAlongViewSd;
    std::optional<Length> table;
    if (fraction && height) {
        const double relative =
            std::hypot(motion::segmentFractionSd, height->sd / height->value, along);
        const double full = *fraction * height->value;
        table = Length{full, full * relative};
    }
    if (!isSide(circumstances)) {
        return table;
    }
    std::vector<Length> seen = seenAtPositions(rep, circumstances, a, b);
    if (fraction) {
        const std::vector<Length> other =
            seenAtPositions(rep, circumstances, model::mirrored(a), model::mirrored(b));
        seen.insert(seen.end(), other.begin(), other.end());
    }
    return motion::fullLength(table, seen);
}

} // namespace

motion::SeenSegment seenSegment(const model::Rep& rep, const Circumstances& circumstances,
                                const std::optional<PixelHeight>& height, const ResolvedPoint& from,
                                const ResolvedPoint& to, const Eigen::VectorXd& x,
                                const Eigen::VectorXd& sds) {
    motion::SeenSegment segment;
    segment.seen.px = model::length(to.at(x) - from.at(x));
    if (!from.landmark || !to.landmark) {
        return segment;
    }
    segment.full = ownLengthOf(rep, circumstances, height, *from.landmark, *to.landmark);
    // Both ends lie in one picture: carrying it to another moves them alike.
    const auto placed = [&](const ResolvedPoint& end) {
        return sds[static_cast<Eigen::Index>(end.terms.front().first)];
    };
    segment.seen =
        asSeen(*from.landmark, *to.landmark, segment.seen.px, std::hypot(placed(from), placed(to)));
    return segment;
}

Length ownBreadth(const model::Rep& rep, const Circumstances& circumstances,
                  const PixelHeight& height, Landmark a, Landmark b) {
    const double full = motion::breadthFraction(a, b).value() * height.value;
    const Length table{full,
                       full * std::hypot(motion::breadthFractionSd, height.sd / height.value)};
    if (!isSide(circumstances)) {
        return table;
    }
    Length own = motion::fullLength(table, seenAtPositions(rep, circumstances, a, b)).value();
    own.sdPx = std::hypot(own.sdPx, motion::breadthChangesSd * own.px);
    return own;
}

std::optional<model::LimbFold> limbFold(const model::Rep& rep, const Circumstances& circumstances,
                                        const std::optional<PixelHeight>& height,
                                        const std::string& positionId, const Limb& limb) {
    const auto saidAt = [&](const std::string& position) -> std::optional<model::LimbFold> {
        const auto there = rep.limbFolds.find(position);
        if (there == rep.limbFolds.end()) {
            return std::nullopt;
        }
        const auto fold = there->second.find(limb.joint);
        return fold == there->second.end() ? std::nullopt : std::optional(fold->second);
    };
    if (const auto said = saidAt(positionId)) {
        return said;
    }
    const auto here = model::frameOf(rep, positionId);
    if (!here || rep.limbFolds.empty()) {
        return std::nullopt;
    }
    const auto first = ownLengthOf(rep, circumstances, height, limb.joint, limb.end);
    const auto second = ownLengthOf(rep, circumstances, height, limb.joint, limb.otherEnd);
    if (!first || !second) {
        return std::nullopt;
    }
    // A segment so far out of the picture plane has not passed through it unseen.
    constexpr double clearTiltDeg = 15.0;
    constexpr model::Degrees anyTilt{45.0};
    const auto clear = [&](int frame) {
        const auto out = [&](Landmark end, const Length& full) {
            const auto seen = seenIn(rep, circumstances, frame, limb.joint, end);
            return seen && motion::likeliestTilt({*seen, full, anyTilt}).value > clearTiltDeg;
        };
        return out(limb.end, *first) && out(limb.otherEnd, *second);
    };
    std::optional<model::LimbFold> nearest;
    int nearestWay = 0;
    for (const auto& [position, folds] : rep.limbFolds) {
        const auto there = model::frameOf(rep, position);
        const auto said = saidAt(position);
        if (!there || !said) {
            continue;
        }
        const int way = std::abs(*there - *here);
        if (nearest && way >= nearestWay) {
            continue;
        }
        bool unbroken = true;
        for (int frame = std::min(*there, *here); frame <= std::max(*there, *here) && unbroken;
             ++frame) {
            unbroken = clear(frame);
        }
        if (unbroken) {
            nearest = said;
            nearestWay = way;
        }
    }
    return nearest;
}

} // namespace kestrel::technique
