#include "track/implement_follower.h"

#include "track/body_mask.h"
#include "track/matte.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kestrel::track {
namespace {

using model::Landmark;
using model::Point2;

constexpr std::array implementLandmarks{Landmark::implementButt, Landmark::implementHead,
                                        Landmark::implementTip, Landmark::implementFaceEdge,
                                        Landmark::implementFarEdge};

constexpr double farFromShaft = 0.06;    ///< of height: a hand farther off does not hold it
constexpr double beyondTheLongest = 1.3; ///< it may be seen longer than where it was placed
constexpr double shortest = 0.2;   ///< of the longest, in the picture; shorter it is not found
constexpr double thinnest = 1.5;   ///< pixels, half a width
constexpr double sampleStep = 2.5; ///< pixels along the shaft
// The first, rough look: directions, places of the grip beside where the hand is thought, lengths.
constexpr double roughTurn = 4.0;         ///< degrees
constexpr double roughShift = 0.012;      ///< of height
constexpr double handOff = 0.12;          ///< of height: how far a hand may be off, either side
constexpr double offAgainst = 0.05;       ///< score lost by a hand so far off
constexpr double otherHandAgainst = 0.05; ///< score lost by the hand that did not hold it
constexpr int reaches = 8;
constexpr double roughStep = 5.0; ///< pixels along the shaft
constexpr int roughBlur = 5;      ///< pixels across
constexpr std::size_t mostRough = 24;
constexpr double roughlyApart = 0.03; ///< of height, between far ends
constexpr double hiddenStart = 0.45;  ///< of the longest: the hands' end may be covered so far

constexpr double coveredEnough = 0.45; ///< mean cover that speaks neither for nor against
constexpr double blurredCover = 0.4; ///< a streak that covers so much counts as much as a still one
constexpr double flankGap = 4.0;     ///< pixels beside the implement where it should have ended
constexpr double flankWeight = 0.25;
constexpr double stringsApart = 0.035; ///< of height: averaged over so much, a face is even
constexpr double leastChange = 14.0;   ///< 8-bit steps over all colours: more is not the place
constexpr double leastDistinct = 0.2;  ///< weight of a look that the rest of the picture has, too
constexpr double leastOwnScore = 0.03; ///< of what was placed, in its own picture
// Of that, what another picture must have to show the same thing; much more is something else.
constexpr double leastAlike = 0.45;
constexpr double mostAlike = 1.6;
// When the best elsewhere in the picture scores such a share of what was taken, four in ten are
// wrong; one in four; below, one in ten (on the synthetic films of docs/accuracy.md).
constexpr double asLikely = 0.7;
constexpr double doubtful = 0.55;
constexpr double doubtfulWidens = 4.0; ///< its standard deviation
// Standard deviations, share of height, each once from frame to frame and once for a while.
constexpr double farEndSd = 0.013;
constexpr double buttSd = 0.025;
constexpr double fist = 0.04;      ///< of height, what a hand covers
constexpr double armAgainst = 0.1; ///< evidence where an arm is, which may look like the implement
constexpr double surroundings = 0.09;   ///< of height, across what lies around the implement
constexpr double besideTheGuess = 0.03; ///< of height
constexpr double pastTheEnd = 0.12;     ///< of the longest, beyond the far end
constexpr std::size_t mostGuesses = 10;
constexpr double apart = 0.06;      ///< of height, between the far ends of two guesses
constexpr double scoreToCost = 6.0; ///< of the best path, for a score of the whole length

double dot(Point2 a, Point2 b) {
    return a.x * b.x + a.y * b.y;
}

Point2 across(Point2 along) {
    return {-along.y, along.x};
}

cv::Vec3f colourAt(const cv::Mat& picture, Point2 p) {
    const int x = std::clamp(static_cast<int>(std::lround(p.x)), 0, picture.cols - 1);
    const int y = std::clamp(static_cast<int>(std::lround(p.y)), 0, picture.rows - 1);
    return picture.at<cv::Vec3b>(y, x);
}

bool inside(const cv::Mat& picture, Point2 p) {
    return p.x >= 0.0 && p.y >= 0.0 && p.x <= picture.cols - 1.0 && p.y <= picture.rows - 1.0;
}

/// The best of `lines`, at most `most`, whose far ends are that far apart.
template <class Line>
std::vector<Line> unlike(std::vector<Line> lines, double apart, std::size_t most) {
    std::sort(lines.begin(), lines.end(),
              [](const Line& a, const Line& b) { return a.score > b.score; });
    std::vector<Line> kept;
    for (const Line& line : lines) {
        const Point2 far = line.grip + line.along * line.reach;
        const bool known = std::any_of(kept.begin(), kept.end(), [&](const Line& other) {
            return length(other.grip + other.along * other.reach - far) < apart;
        });
        if (!known) {
            kept.push_back(line);
            if (kept.size() == most) {
                break;
            }
        }
    }
    return kept;
}

Landmark handLandmark(model::Hand hand) {
    return hand == model::Hand::left ? Landmark::leftHand : Landmark::rightHand;
}

const model::LandmarkPoint* seen(const model::LandmarkTrack& track, int frame, Landmark landmark) {
    const model::LandmarkPoint* point = model::find(track, frame, landmark);
    return point != nullptr && !point->hidden ? point : nullptr;
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

std::vector<int> ImplementFollower::anchorFrames() const {
    std::vector<int> frames;
    for (const Anchor& anchor : anchors_) {
        frames.push_back(anchor.frame);
    }
    return frames;
}

cv::Mat ImplementFollower::surroundingsIn(const cv::Mat& picture) const {
    cv::Mat halved;
    cv::resize(picture, halved, {}, 0.5, 0.5, cv::INTER_AREA);
    cv::medianBlur(halved, halved, 2 * static_cast<int>(0.25 * surroundings * bodyPx_) + 1);
    cv::Mat nearby;
    cv::resize(halved, nearby, picture.size(), 0.0, 0.0, cv::INTER_LINEAR);
    return nearby;
}

std::pair<Point2, Point2> ImplementFollower::shaftAt(const Anchor& anchor, const cv::Mat& picture,
                                                     const Behind& behind) const {
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

void ImplementFollower::learn(int frame, const cv::Mat& picture, const Behind& behind) {
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
            sum += colourAt(picture, p);
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
    for (std::size_t look = 0; look < anchor.looks.size(); ++look) {
        const cv::Mat& evidence = maps.evidence[look];
        double on = 0.0;
        double elsewhere = 0.0;
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
            }
        }
        anchor.looks[look].distinct = std::max(leastDistinct, on / std::max(1.0, on + elsewhere));
    }
}

void ImplementFollower::seeAsFollowed(Anchor& anchor, Point2 butt, Point2 far,
                                      const cv::Mat& picture, const Behind& behind) const {
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
    const Line followed = bettered(line, anchor, maps);
    anchor.score = followed.score;
    if (anchor.score < leastOwnScore) {
        return; // it will not be told from the rest of the picture
    }
    const Guess guess = guessFrom(followed, anchor, maps);
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

ImplementFollower::Guess ImplementFollower::guessFrom(const Line& line, const Anchor& anchor,
                                                      const Maps& maps) const {
    const double size = line.reach / (1.0 - line.share);
    const Point2 butt = line.grip - line.along * (line.share * size);
    return settled({butt, butt + line.along * size, line.score / anchor.score}, line.share, anchor,
                   maps);
}

std::pair<model::Hand, double> ImplementFollower::holderIn(const Anchor& anchor) {
    return *std::min_element(anchor.heldAt.begin(), anchor.heldAt.end(),
                             [](const auto& a, const auto& b) { return a.second < b.second; });
}

cv::Size ImplementFollower::faceBlur() const {
    const int across = 2 * static_cast<int>(0.5 * stringsApart * bodyPx_) + 1;
    return {across, across};
}

void ImplementFollower::learnFace(Anchor& anchor, Point2 butt, Point2 way, const cv::Mat& picture,
                                  const Behind& behind) const {
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

const ImplementFollower::Anchor& ImplementFollower::nearest(int frame) const {
    return *std::min_element(anchors_.begin(), anchors_.end(),
                             [frame](const Anchor& a, const Anchor& b) {
                                 return std::abs(a.frame - frame) < std::abs(b.frame - frame);
                             });
}

std::vector<ImplementFollower::Grip> ImplementFollower::gripsAt(int frame) const {
    // The hand nearer to the butt says best where the implement begins. Networks take one hand for
    // the other, so that it may be either.
    const auto& [holder, share] = holderIn(nearest(frame));
    std::vector<Grip> grips;
    const auto add = [&](model::Hand side, double against) {
        const auto* hand = seen(body_, frame, handLandmark(side));
        if (hand != nullptr && std::none_of(grips.begin(), grips.end(), [&](const Grip& other) {
                return length(other.at - hand->px) < 0.5 * handOff * bodyPx_;
            })) {
            grips.push_back({hand->px, share, against});
        }
    };
    add(holder, 0.0);
    add(holder == model::Hand::left ? model::Hand::right : model::Hand::left, otherHandAgainst);
    return grips;
}

ImplementFollower::Maps ImplementFollower::mapsAround(int frame, std::span<const Grip> grips,
                                                      const Anchor& anchor, const cv::Mat& picture,
                                                      const Behind& behind) const {
    const int around = static_cast<int>(longest_ * beyondTheLongest + 0.1 * bodyPx_);
    Maps maps;
    for (const Grip& grip : grips) {
        const cv::Rect here(static_cast<int>(grip.at.x) - around,
                            static_cast<int>(grip.at.y) - around, 2 * around + 1, 2 * around + 1);
        maps.region = maps.region.empty() ? here : maps.region | here;
    }
    maps.region &= cv::Rect(0, 0, picture.cols, picture.rows);
    if (maps.region.empty()) {
        return maps;
    }
    // Where the implement rested so long that the place shows it too, and where it passes before
    // something of its own colour, what lies around it has to do for what lies behind.
    const cv::Mat nearby = surroundingsIn(picture(maps.region));
    const cv::Mat shown = picture(maps.region);
    const cv::Mat place = behind.place(maps.region);
    const cv::Mat certain = behind.certain(maps.region);
    const cv::Mat unclear = behind.unclear(maps.region);
    const cv::Mat arms = armsIn(maps.region, body_, frame, bodyPx_);
    for (const Look& look : anchor.looks) {
        const Matting matting(look.colour, noise_);
        cv::Mat cover = cv::Mat::zeros(maps.region.size(), CV_32F);
        cv::Mat telling = cv::Mat::zeros(maps.region.size(), CV_8U);
        for (int y = 0; y < shown.rows; ++y) {
            for (int x = 0; x < shown.cols; ++x) {
                const cv::Vec3f pixel = shown.at<cv::Vec3b>(y, x);
                Matte matte = matting.of(pixel, place.at<cv::Vec3b>(y, x));
                if (!matte.telling && certain.at<std::uint8_t>(y, x) == 0) {
                    matte = matting.of(pixel, nearby.at<cv::Vec3b>(y, x));
                }
                if (unclear.at<std::uint8_t>(y, x) != 0) {
                    matte = {0.0F, false};
                }
                cover.at<float>(y, x) = matte.cover;
                telling.at<std::uint8_t>(y, x) = matte.telling ? 1 : 0;
            }
        }
        cv::Mat seen = cover;
        if (look.isFace) {
            cv::blur(cover, seen, faceBlur());
        }
        cv::Mat evidence = cv::Mat::zeros(maps.region.size(), CV_32F);
        const double whole = look.isFace ? look.cover : blurredCover;
        for (int y = 0; y < shown.rows; ++y) {
            for (int x = 0; x < shown.cols; ++x) {
                if (arms.at<std::uint8_t>(y, x) != 0) {
                    evidence.at<float>(y, x) = static_cast<float>(-armAgainst * look.distinct);
                } else if (telling.at<std::uint8_t>(y, x) != 0) {
                    evidence.at<float>(y, x) = static_cast<float>(
                        look.distinct *
                        (std::min(1.0, seen.at<float>(y, x) / whole) - coveredEnough));
                }
            }
        }
        cv::Mat rough;
        cv::blur(evidence, rough, {roughBlur, roughBlur});
        maps.rough.push_back(rough);
        maps.evidence.push_back(evidence);
        maps.cover.push_back(cover);
    }
    return maps;
}

float ImplementFollower::evidenceAt(const Maps& maps, std::size_t group, Point2 p) {
    const int x = static_cast<int>(p.x + 0.5) - maps.region.x;
    const int y = static_cast<int>(p.y + 0.5) - maps.region.y;
    const bool shown = x >= 0 && y >= 0 && x < maps.region.width && y < maps.region.height;
    return shown ? maps.evidence[group].at<float>(y, x) : 0.0F;
}

double ImplementFollower::roughScore(const Line& line, const Anchor& anchor,
                                     const Maps& maps) const {
    double score = 0.0;
    double least = 0.0;
    const double latestStart = hiddenStart * longest_;
    for (double r = fist * bodyPx_; r < line.reach; r += roughStep) {
        const int x = static_cast<int>(line.grip.x + line.along.x * r + 0.5) - maps.region.x;
        const int y = static_cast<int>(line.grip.y + line.along.y * r + 0.5) - maps.region.y;
        if (x >= 0 && y >= 0 && x < maps.region.width && y < maps.region.height) {
            score += maps.rough[anchor.look[partAt(line, r)]].at<float>(y, x);
        }
        if (r < latestStart) {
            least = std::min(least, score);
        }
    }
    return (score - least) * roughStep / longest_;
}

std::size_t ImplementFollower::partAt(const Line& line, double r) {
    const double share = line.share + (1.0 - line.share) * r / line.reach;
    return static_cast<std::size_t>(std::clamp(static_cast<int>(share * parts), 0, parts - 1));
}

double ImplementFollower::scoreOf(const Line& line, const Anchor& anchor, const Maps& maps) const {
    const Point2 side = across(line.along);
    double score = 0.0;
    double least = 0.0;
    const double latestStart = hiddenStart * longest_;
    for (double r = fist * bodyPx_; r < line.reach; r += sampleStep) {
        const std::size_t part = partAt(line, r);
        const std::size_t group = anchor.look[part];
        const double half = std::max(thinnest, anchor.halfWidth[part] * line.broad);
        const Point2 p = line.grip + line.along * r;
        score += (evidenceAt(maps, group, p) + evidenceAt(maps, group, p + side * (0.6 * half)) +
                  evidenceAt(maps, group, p - side * (0.6 * half))) /
                 3.0;
        const double gap =
            anchor.looks[group].isFace ? flankGap + 0.5 * stringsApart * bodyPx_ : flankGap;
        for (const double v : {half + gap, -half - gap}) {
            score -= flankWeight * std::max(0.0F, evidenceAt(maps, group, p + side * v));
        }
        if (r < latestStart) {
            least = std::min(least, score);
        }
    }
    score -= least;
    for (double r = line.reach + sampleStep; r < line.reach + pastTheEnd * longest_;
         r += sampleStep) {
        float beyond = 0.0F; // whatever of it goes on there
        for (std::size_t look = 0; look < anchor.looks.size(); ++look) {
            beyond = std::max(beyond, evidenceAt(maps, look, line.grip + line.along * r));
        }
        score -= beyond > 0.0F ? 1.0 : 0.0;
    }
    return score * sampleStep / longest_ - line.against;
}

ImplementFollower::Line ImplementFollower::bettered(Line line, const Anchor& anchor,
                                                    const Maps& maps) const {
    line.score = scoreOf(line, anchor, maps);
    double turn = model::toRadians(model::Degrees(roughTurn)) / 2.0;
    double shift = roughShift * bodyPx_ / 2.0;
    double stretch = 0.06 * longest_;
    const auto turned = [](const Line& from, double by) {
        const double angle = std::atan2(from.along.y, from.along.x) + by;
        Line to = from;
        to.along = {std::cos(angle), std::sin(angle)};
        return to;
    };
    constexpr int halvings = 4;
    for (int i = 0; i < halvings;) {
        Line best = line;
        for (const double sign : {-1.0, 1.0}) {
            Line moved = line;
            moved.grip = line.grip + across(line.along) * (sign * shift);
            Line longer = line;
            longer.reach = line.reach + sign * stretch;
            for (Line other : {turned(line, sign * turn), moved, longer}) {
                if (other.reach < shortest * longest_) {
                    continue;
                }
                other.score = scoreOf(other, anchor, maps);
                if (other.score > best.score) {
                    best = other;
                }
            }
        }
        if (best.score > line.score) {
            line = best;
        } else {
            turn /= 2.0;
            shift /= 2.0;
            stretch /= 2.0;
            ++i;
        }
    }
    return line;
}

ImplementFollower::Guess ImplementFollower::settled(Guess guess, double share, const Anchor& anchor,
                                                    const Maps& maps) const {
    // A line through the middles of what is covered, part by part.
    const Point2 way = guess.far - guess.butt;
    const double size = length(way);
    const Point2 along = way * (1.0 / size);
    const Point2 side = across(along);
    const double beside = besideTheGuess * bodyPx_;
    double sw = 0.0;
    double su = 0.0;
    double sv = 0.0;
    double suu = 0.0;
    double suv = 0.0;
    for (double u = share * size + fist * bodyPx_; u < size; u += sampleStep) {
        const int part = std::clamp(static_cast<int>(u / size * parts), 0, parts - 1);
        const double half = anchor.halfWidth[static_cast<std::size_t>(part)];
        const cv::Mat& cover = maps.cover[anchor.look[static_cast<std::size_t>(part)]];
        double weight = 0.0;
        double moment = 0.0;
        for (double v = -half - beside; v <= half + beside; v += 1.0) {
            const Point2 p = guess.butt + along * u + side * v;
            const int x = static_cast<int>(std::lround(p.x)) - maps.region.x;
            const int y = static_cast<int>(std::lround(p.y)) - maps.region.y;
            if (x < 0 || y < 0 || x >= cover.cols || y >= cover.rows) {
                continue;
            }
            constexpr float nothing = 0.15F;
            if (const float c = cover.at<float>(y, x); c > nothing) {
                weight += c;
                moment += c * v;
            }
        }
        if (weight > 0.0) {
            const double v = moment / weight;
            const double w = std::min(weight, 2.0 * half);
            sw += w;
            su += w * u;
            sv += w * v;
            suu += w * u * u;
            suv += w * u * v;
        }
    }
    const double spread = suu * sw - su * su;
    if (sw > 0.0 && spread > 1e-6) {
        const double slope = (suv * sw - su * sv) / spread;
        const double offset = (sv - slope * su) / sw;
        guess.butt = guess.butt + side * offset;
        guess.far = guess.far + side * (offset + slope * size);
    }
    return guess;
}

std::vector<ImplementFollower::Line>
ImplementFollower::roughLines(const Grip& grip, const Anchor& anchor, const Maps& maps) const {
    std::vector<Line> lines;
    const double most = longest_ * beyondTheLongest * (1.0 - grip.share);
    const int shifts = static_cast<int>(std::lround(handOff / roughShift));
    for (double turn = 0.0; turn < 360.0; turn += roughTurn) {
        const double angle = model::toRadians(model::Degrees{turn});
        Line line;
        line.along = {std::cos(angle), std::sin(angle)};
        line.share = grip.share;
        for (int off = -shifts; off <= shifts; ++off) {
            line.grip = grip.at + across(line.along) * (off * roughShift * bodyPx_);
            line.against = grip.against + offAgainst * std::abs(off) / static_cast<double>(shifts);
            for (int i = 0; i < reaches; ++i) {
                line.reach = most * (shortest + (1.0 - shortest) * i / (reaches - 1.0));
                line.score = roughScore(line, anchor, maps) - line.against;
                if (line.score > 0.0) {
                    lines.push_back(line);
                }
            }
        }
    }
    return lines;
}

std::vector<ImplementFollower::Guess> ImplementFollower::look(int frame, const cv::Mat& picture,
                                                              const Behind& behind) const {
    const Anchor& anchor = nearest(frame);
    if (anchor.frame == frame) {
        constexpr double certain = 10.0;
        return {{anchor.butt, anchor.far, certain}};
    }
    const std::vector<Grip> grips = gripsAt(frame);
    const Maps maps = mapsAround(frame, grips, anchor, picture, behind);
    if (maps.region.empty()) {
        return {};
    }
    std::vector<Line> all;
    for (const Grip& grip : grips) {
        const std::vector<Line> lines = roughLines(grip, anchor, maps);
        all.insert(all.end(), lines.begin(), lines.end());
    }
    std::vector<Line> rough = unlike(std::move(all), roughlyApart * bodyPx_, mostRough);
    if (anchor.hasFace) {
        // A face that is seen from its edge is as thin as the shaft.
        for (std::size_t i = rough.size(); i-- > 0;) {
            for (const double broad : {0.5, 0.15}) {
                rough.push_back(rough[i]);
                rough.back().broad = broad;
            }
        }
    }
    for (Line& line : rough) {
        line = bettered(line, anchor, maps);
    }
    std::vector<Guess> guesses;
    for (const Line& line : unlike(std::move(rough), apart * bodyPx_, mostGuesses)) {
        const Guess guess = guessFrom(line, anchor, maps);
        if (guess.score > leastAlike && guess.score < mostAlike) {
            guesses.push_back(guess);
        }
    }
    return guesses;
}

double ImplementFollower::rivalOf(const Guess& guess, std::span<const Guess> all) const {
    constexpr double elsewhere = 0.15; // of height, between the far ends
    double best = 0.0;
    for (const Guess& other : all) {
        if (length(other.far - guess.far) > elsewhere * bodyPx_) {
            best = std::max(best, other.score / guess.score);
        }
    }
    return best;
}

std::map<int, Proposals> ImplementFollower::result(const std::map<int, std::vector<Guess>>& guesses,
                                                   const std::map<int, double>& times) const {
    std::vector<int> frames;
    std::vector<double> instants;
    std::vector<std::vector<Candidate>> seen;
    for (const auto& [frame, time] : times) {
        frames.push_back(frame);
        instants.push_back(time);
        auto& candidates = seen.emplace_back();
        const auto found = guesses.find(frame);
        if (found == guesses.end()) {
            continue;
        }
        for (const Guess& guess : found->second) {
            candidates.push_back(
                {{guess.butt, guess.far}, -scoreToCost * std::min(1.0, guess.score)});
        }
    }
    PathRules rules;
    rules.suddenness = 250.0 * bodyPx_; // a bat's end on its circle before contact
    rules.skipped = 1.5;
    const auto taken = bestPath(seen, instants, rules);
    std::map<int, Proposals> result;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        if (!taken[i]) {
            continue;
        }
        const std::vector<Guess>& here = guesses.at(frames[i]);
        const Guess& guess = here[static_cast<std::size_t>(*taken[i])];
        const Anchor& anchor = nearest(frames[i]);
        const double rival = rivalOf(guess, here);
        if (anchor.frame == frames[i] || rival > asLikely) {
            continue; // the coach has said it, or had better
        }
        const Point2 way = guess.far - guess.butt;
        for (const auto& [landmark, at] : anchor.fixed) {
            if (landmark == Landmark::implementFaceEdge || landmark == Landmark::implementFarEdge) {
                continue;
            }
            // The far end is seen; the other is where the hand is thought to be.
            const double sd = (at.x * farEndSd + (1.0 - at.x) * buttSd) *
                              (rival > doubtful ? doubtfulWidens : 1.0) * bodyPx_;
            result[frames[i]][landmark] = {guess.butt + way * at.x + across(way) * at.y, sd, sd};
        }
    }
    return result;
}

} // namespace kestrel::track
