#include "track/camera/matte.h"
#include "track/equipment/implement_follower.h"
#include "track/equipment/implement_shaft.h"
#include "track/person/body_mask.h"

#include <array>
#include <cmath>

/// What the implement looks like where the coach placed it.
namespace kestrel::track {
namespace {

using model::Landmark;
using model::Point2;

constexpr std::array implementLandmarks{Landmark::implementButt, Landmark::implementHead,
                                        Landmark::implementTip, Landmark::implementFaceEdge,
                                        Landmark::implementFarEdge};

constexpr double farFromShaft = 0.06; ///< of height: a hand farther off does not hold it
constexpr double leastChange = 14.0;  ///< 8-bit steps over all colours: more is not the place
constexpr double leastDistinct = 0.2; ///< weight of a look that the rest of the picture has, too
// A leg is as long and straight as an implement: what clothes and skin look like, too, says all the
// less before them (found on the synthetic films of docs/accuracy.md).
constexpr double onBodyCounts = 4.0;
constexpr double leastOnBody = 0.02;
/// A head so many deviations of its own and of the ends off the way to the tip bends the implement;
/// careful clicks on a straight one are not.
constexpr double bent = 3.0;
constexpr double leastOwnScore = 0.03; ///< of what was placed, in its own picture

/// The colour beside `p`, a pixel at most, that is least like the place: a shaft is hardly wider
/// than a pixel, and its edges show half of what lies behind.
cv::Vec3f plainest(const cv::Mat& picture, const Background& behind, Point2 p, Point2 side) {
    cv::Vec3f best;
    double most = -1.0;
    for (const double off : {0.0, -1.0, 1.0}) {
        const Point2 at = p + side * off;
        const cv::Vec3f colour = colourAt(picture, at);
        if (const double change = cv::norm(colour - colourAt(behind.place, at)); change > most) {
            most = change;
            best = colour;
        }
    }
    return best;
}

/// Whether the implement is straight only as far as its head, as a stick with a blade is; `buttSd`
/// is how far off the butt may be.
bool isBent(Point2 butt, double buttSd, const model::LandmarkPoint& head,
            const model::LandmarkPoint& tip) {
    const double size = std::max(length(tip.px - butt), 1.0);
    const Point2 side = across((tip.px - butt) * (1.0 / size));
    const double share = length(head.px - butt) / size; // of the way, where the head should be
    const double sd = std::hypot(head.sdPx, share * tip.sdPx, (1.0 - share) * buttSd);
    return std::abs(dot(head.px - butt, side)) > bent * sd;
}

} // namespace

ImplementFollower::ImplementFollower(const model::LandmarkTrack& placed,
                                     const model::LandmarkTrack& body, double bodyPx, double noise)
    : body_(body), bodyPx_(bodyPx), noise_(noise) {
    for (const auto& [frame, points] : placed) {
        const auto* tip = seen(placed, frame, Landmark::implementTip);
        const auto* head = seen(placed, frame, Landmark::implementHead);
        const auto* butt = seen(placed, frame, Landmark::implementButt);
        const auto* far = tip != nullptr ? tip : head;
        if (far == nullptr) {
            continue;
        }
        Anchor anchor;
        anchor.frame = frame;
        anchor.far = far->px;
        if (butt != nullptr) {
            anchor.butt = butt->px;
        } else {
            // The end is in the hand: that of the hand nearer to what is placed of the body.
            std::optional<Point2> hand;
            for (const model::Hand side : {model::Hand::left, model::Hand::right}) {
                const auto* p = seen(body, frame, handLandmark(side));
                if (p != nullptr && (!hand || length(p->px - far->px) < length(*hand - far->px))) {
                    hand = p->px;
                }
            }
            if (!hand) {
                continue;
            }
            anchor.butt = *hand;
        }
        if (tip != nullptr && head != nullptr &&
            isBent(anchor.butt, butt != nullptr ? butt->sdPx : farFromShaft * bodyPx, *head,
                   *tip)) {
            // The head is the middle of the blade, which begins as far on its other side.
            anchor.far = head->px * 2.0 - tip->px;
            anchor.bladePx = length(tip->px - anchor.far);
        }
        const double size = length(anchor.far - anchor.butt);
        if (size < 2.0 * sampleStep) {
            continue;
        }
        const Point2 along = (anchor.far - anchor.butt) * (1.0 / size);
        for (const model::Hand side : {model::Hand::left, model::Hand::right}) {
            const auto* hand = seen(body, frame, handLandmark(side));
            if (hand == nullptr) {
                continue;
            }
            const Point2 off = hand->px - anchor.butt;
            const double share = dot(off, along) / size;
            if (std::abs(dot(off, across(along))) < farFromShaft * bodyPx &&
                share > -farFromShaft * bodyPx / size && share < 0.8) {
                anchor.heldAt[side] = std::max(0.0, share);
            }
        }
        if (anchor.heldAt.empty()) {
            continue;
        }
        for (const Landmark landmark : implementLandmarks) {
            if (const auto* p = seen(placed, frame, landmark)) {
                const Point2 off = (p->px - anchor.butt) * (1.0 / size);
                anchor.fixed[landmark] = {dot(off, along), dot(off, across(along))};
            }
        }
        longest_ = std::max(longest_, size);
        anchors_.push_back(std::move(anchor));
    }
}

std::pair<Point2, Point2> ImplementFollower::shaftAt(const Anchor& anchor, const cv::Mat& picture,
                                                     const Background& behind) const {
    const Point2 way = anchor.far - anchor.butt;
    const double size = length(way);
    const Point2 side = across(way * (1.0 / size));
    const cv::Mat nearby = surroundingsIn(picture);
    constexpr int farthestOff = 4;       // pixels
    constexpr double towardsClick = 1.0; // 8-bit steps a pixel
    constexpr double clearly = 120.0;    // 8-bit steps; more contrast is not better
    std::pair<Point2, Point2> best{anchor.butt, anchor.far};
    double most = -1.0;
    for (int atButt = -farthestOff; atButt <= farthestOff; ++atButt) {
        for (int atFar = -farthestOff; atFar <= farthestOff; ++atFar) {
            const Point2 from = anchor.butt + side * atButt;
            const Point2 to = anchor.far + side * atFar;
            double sum = 0.0;
            int count = 0;
            for (double u = 0.0; u < size; u += sampleStep) {
                const Point2 p = from + (to - from) * (u / size);
                const cv::Vec3f pixel = colourAt(picture, p);
                sum += std::min(clearly, std::max(cv::norm(pixel - colourAt(behind.place, p)),
                                                  cv::norm(pixel - colourAt(nearby, p))));
                ++count;
            }
            const double contrast =
                sum / count - towardsClick * 0.5 * (std::abs(atButt) + std::abs(atFar));
            if (contrast > most) {
                most = contrast;
                best = {from, to};
            }
        }
    }
    return best;
}

void ImplementFollower::learn(int frame, const cv::Mat& picture, const Background& behind) {
    const auto found = std::find_if(anchors_.begin(), anchors_.end(),
                                    [frame](const Anchor& a) { return a.frame == frame; });
    if (found == anchors_.end()) {
        return;
    }
    Anchor& anchor = *found;
    const auto [butt, far] = shaftAt(anchor, picture, behind);
    const Point2 way = far - butt;
    const double size = length(way);
    const Point2 side = across(way * (1.0 / size));
    constexpr double widest = 0.25; // of the length
    constexpr double alike = 45.0;  // 8-bit steps over all three colours
    constexpr int within = 4;       // samples along each part
    for (int part = 0; part < parts; ++part) {
        cv::Vec3f sum(0, 0, 0);
        for (int i = 0; i < within; ++i) {
            const Point2 p =
                butt + way * ((part + (i + 0.5) / within) / static_cast<double>(parts));
            sum += anchor.bladePx > 0.0 ? plainest(picture, behind, p, side) : colourAt(picture, p);
        }
        const cv::Vec3f colour = sum / static_cast<float>(within);
        constexpr double oneLook = 40.0; // 8-bit steps over all three colours
        std::size_t look = 0;
        while (look < anchor.looks.size() &&
               cv::norm(anchor.looks[look].colour - colour) > oneLook) {
            ++look;
        }
        if (look == anchor.looks.size()) {
            anchor.looks.push_back({colour});
        }
        anchor.look[static_cast<std::size_t>(part)] = look;
        // As wide as the picture differs from the place and looks like the middle.
        const Point2 middle = butt + way * ((part + 0.5) / static_cast<double>(parts));
        double reach = 0.0;
        for (const double sign : {-1.0, 1.0}) {
            double here = 0.0;
            for (double v = 1.0; v < widest * size; v += 1.0) {
                const Point2 p = middle + side * (sign * v);
                const cv::Vec3f pixel = colourAt(picture, p);
                const double moved = cv::norm(pixel - colourAt(behind.place, p));
                if (!inside(picture, p) || moved < alike * 0.5 + 2.0 * noise_ ||
                    cv::norm(pixel - colour) > alike) {
                    break;
                }
                here = v;
            }
            reach += 0.5 * here;
        }
        anchor.halfWidth[static_cast<std::size_t>(part)] = std::max(thinnest, reach);
    }
    // A glove or a leg of the same colour does not make it wider.
    constexpr double widestOfUsual = 2.0;
    std::array<double, parts> sorted = anchor.halfWidth;
    std::nth_element(sorted.begin(), sorted.begin() + parts / 2, sorted.end());
    for (double& half : anchor.halfWidth) {
        half = std::min(half, widestOfUsual * sorted[parts / 2]);
    }
    learnFace(anchor, butt, way, picture, behind);
    seeAsFollowed(anchor, butt, far, picture, behind);
    if (anchor.score < leastOwnScore) {
        anchors_.erase(found);
    }
}

void ImplementFollower::learnDistinctness(Anchor& anchor, Point2 butt, Point2 far,
                                          const Maps& maps) const {
    const double size = length(far - butt);
    const Point2 along = (far - butt) * (1.0 / size);
    const cv::Mat body = restOfBodyIn(maps.region, body_, anchor.frame, bodyPx_);
    for (std::size_t look = 0; look < anchor.looks.size(); ++look) {
        const cv::Mat& evidence = maps.evidence[look];
        double on = 0.0;
        double elsewhere = 0.0;
        double elsewhereOnBody = 0.0;
        for (int y = 0; y < evidence.rows; ++y) {
            for (int x = 0; x < evidence.cols; ++x) {
                if (evidence.at<float>(y, x) <= 0.0F) {
                    continue;
                }
                const Point2 off = Point2{static_cast<double>(x + maps.region.x),
                                          static_cast<double>(y + maps.region.y)} -
                                   butt;
                const double u = dot(off, along) / size;
                const int part = std::clamp(static_cast<int>(u * parts), 0, parts - 1);
                const double half = anchor.halfWidth[static_cast<std::size_t>(part)];
                const bool isIt = u > -0.1 && u < 1.1 &&
                                  std::abs(dot(off, across(along))) < half + 2.0 * flankGap;
                (isIt ? on : elsewhere) += 1.0;
                elsewhereOnBody += !isIt && body.at<std::uint8_t>(y, x) != 0 ? 1.0 : 0.0;
            }
        }
        Look& seen = anchor.looks[look];
        seen.distinct = std::max(leastDistinct, on / std::max(1.0, on + elsewhere));
        seen.distinctOnBody = std::min(
            seen.distinct,
            std::max(leastOnBody, on / std::max(1.0, on + onBodyCounts * elsewhereOnBody)));
    }
}

void ImplementFollower::seeAsFollowed(Anchor& anchor, Point2 butt, Point2 far,
                                      const cv::Mat& picture, const Background& behind) const {
    const double share = holderIn(anchor).second;
    Line line;
    line.share = share;
    line.grip = butt + (far - butt) * share;
    line.reach = length(far - line.grip);
    line.along = (far - line.grip) * (1.0 / line.reach);
    const Grip grip{line.grip, share};
    Maps maps = mapsAround(anchor.frame, std::span(&grip, 1), anchor, picture, behind);
    if (maps.region.empty()) {
        return;
    }
    learnDistinctness(anchor, butt, far, maps);
    maps = mapsAround(anchor.frame, std::span(&grip, 1), anchor, picture, behind);
    line.score = bettered(line, anchor, maps).score;
    anchor.score = line.score;
    if (anchor.score < leastOwnScore) {
        return; // it will not be told from the rest of the picture
    }
    const Guess guess = guessFrom(placedExactly(line, anchor, maps), anchor, maps);
    constexpr double farOff = 0.15; // of the length: then the picture does not show it well
    const double size = length(guess.far - guess.butt);
    if (length(guess.far - anchor.far) > farOff * size) {
        return;
    }
    const Point2 along = (guess.far - guess.butt) * (1.0 / size);
    const Point2 before = anchor.far - anchor.butt;
    for (auto& [landmark, at] : anchor.fixed) {
        const Point2 p = anchor.butt + before * at.x + across(before) * at.y;
        const Point2 off = (p - guess.butt) * (1.0 / size);
        at = {dot(off, along), dot(off, across(along))};
    }
    anchor.butt = guess.butt;
    anchor.far = guess.far;
}

void ImplementFollower::learnFace(Anchor& anchor, Point2 butt, Point2 way, const cv::Mat& picture,
                                  const Background& behind) const {
    const auto edge = anchor.fixed.find(Landmark::implementFaceEdge);
    const auto other = anchor.fixed.find(Landmark::implementFarEdge);
    if (edge == anchor.fixed.end() || other == anchor.fixed.end()) {
        return;
    }
    // An ellipse that ends at the far end.
    const double size = length(way);
    const Point2 side = across(way * (1.0 / size));
    const double middle = 0.5 * (edge->second.x + other->second.x);
    const double half = 0.5 * std::abs(edge->second.y - other->second.y) * size;
    const double along = std::max(0.05, 1.0 - middle);
    const auto widthAt = [&](double share) {
        const double off = (share - middle) / along;
        return std::abs(off) < 1.0 ? half * std::sqrt(1.0 - off * off) : 0.0;
    };
    // Strings let the place through: of the pixels that are not place, what is their colour, and
    // how much of the face do they cover?
    const double change = leastChange + 2.0 * noise_;
    cv::Vec3f sum(0, 0, 0);
    int changed = 0;
    std::vector<Point2> inside;
    for (double share = middle - along; share < 1.0; share += 1.0 / size) {
        for (double v = -widthAt(share); v <= widthAt(share); v += 1.0) {
            const Point2 p = butt + way * share + side * v;
            const cv::Vec3f pixel = colourAt(picture, p);
            inside.push_back(p);
            if (cv::norm(pixel - colourAt(behind.place, p)) > change) {
                sum += pixel;
                ++changed;
            }
        }
    }
    constexpr int fewest = 20; // pixels
    if (changed < fewest) {
        return;
    }
    Look face{sum / static_cast<float>(changed)};
    face.isFace = true;
    const Matting matting(face.colour, noise_);
    double cover = 0.0;
    for (const Point2 p : inside) {
        cover += matting.of(colourAt(picture, p), colourAt(behind.place, p)).cover;
    }
    constexpr double leastCover = 0.1;
    face.cover = std::max(leastCover, cover / static_cast<double>(inside.size()));
    anchor.looks.push_back(face);
    for (int part = 0; part < parts; ++part) {
        if (const double width = widthAt((part + 0.5) / parts); width > 0.0) {
            anchor.halfWidth[static_cast<std::size_t>(part)] = std::max(thinnest, width);
            anchor.look[static_cast<std::size_t>(part)] = anchor.looks.size() - 1;
        }
    }
    anchor.hasFace = true;
}

} // namespace kestrel::track
