#include "track/equipment/implement_follower.h"

#include "track/camera/matte.h"
#include "track/equipment/implement_shaft.h"
#include "track/person/body_mask.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kestrel::track {
namespace {

using model::Landmark;
using model::Point2;

constexpr double beyondTheLongest = 1.3; ///< it may be seen longer than where it was placed
constexpr double shortest = 0.2; ///< of the longest, in the picture; shorter it is not found
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
constexpr double flankWeight = 0.25;
// Of that, what another picture must have to show the same thing; much more is something else.
constexpr double leastAlike = 0.45;
constexpr double mostAlike = 1.6;
constexpr double fist = 0.04;      ///< of height, what a hand covers
constexpr double armAgainst = 0.1; ///< evidence where an arm is, which may look like the implement
constexpr double surroundings = 0.09;   ///< of height, across what lies around the implement
constexpr double besideTheGuess = 0.03; ///< of height
constexpr double pastTheEnd = 0.12;     ///< of the longest, beyond the far end
constexpr std::size_t mostGuesses = 10;
constexpr double apart = 0.06; ///< of height, between the far ends of two guesses

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

} // namespace

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

namespace {

/// How much of each pixel an implement covers, and where that can be told.
struct Covered {
    cv::Mat cover;
    cv::Mat telling;
};

/// What lies behind the implement: the place, and around it where the place shows it too.
struct Behind {
    cv::Mat place;
    cv::Mat certain;
    cv::Mat unclear;
    cv::Mat nearby;
};

Covered coveredIn(const cv::Mat& shown, const Behind& behind, const Matting& matting) {
    cv::Mat cover = cv::Mat::zeros(shown.size(), CV_32F);
    cv::Mat telling = cv::Mat::zeros(shown.size(), CV_8U);
    for (int y = 0; y < shown.rows; ++y) {
        for (int x = 0; x < shown.cols; ++x) {
            const cv::Vec3f pixel = shown.at<cv::Vec3b>(y, x);
            Matte matte = matting.of(pixel, behind.place.at<cv::Vec3b>(y, x));
            if (!matte.telling && behind.certain.at<std::uint8_t>(y, x) == 0) {
                matte = matting.of(pixel, behind.nearby.at<cv::Vec3b>(y, x));
            }
            if (behind.unclear.at<std::uint8_t>(y, x) != 0) {
                matte = {0.0F, false};
            }
            cover.at<float>(y, x) = matte.cover;
            telling.at<std::uint8_t>(y, x) = matte.telling ? 1 : 0;
        }
    }
    return {cover, telling};
}

} // namespace

ImplementFollower::Maps ImplementFollower::mapsAround(int frame, std::span<const Grip> grips,
                                                      const Anchor& anchor, const cv::Mat& picture,
                                                      const Background& behind) const {
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
    const cv::Mat shown = picture(maps.region);
    const Behind here{behind.place(maps.region), behind.certain(maps.region),
                      behind.unclear(maps.region), surroundingsIn(shown)};
    const cv::Mat arms = armsIn(maps.region, body_, frame, bodyPx_);
    const cv::Mat rest = restOfBodyIn(maps.region, body_, frame, bodyPx_);
    for (const Look& look : anchor.looks) {
        const auto [cover, telling] = coveredIn(shown, here, Matting(look.colour, noise_));
        cv::Mat seen = cover;
        if (look.isFace) {
            cv::blur(cover, seen, faceBlur());
        }
        cv::Mat evidence = cv::Mat::zeros(maps.region.size(), CV_32F);
        cv::Mat shape = evidence.clone();
        const double whole = look.isFace ? look.cover : blurredCover;
        for (int y = 0; y < shown.rows; ++y) {
            for (int x = 0; x < shown.cols; ++x) {
                if (arms.at<std::uint8_t>(y, x) != 0) {
                    evidence.at<float>(y, x) = static_cast<float>(-armAgainst * look.distinct);
                    shape.at<float>(y, x) = evidence.at<float>(y, x);
                } else if (telling.at<std::uint8_t>(y, x) != 0) {
                    const double much = std::min(1.0, seen.at<float>(y, x) / whole) - coveredEnough;
                    const bool onBody = much > 0.0 && rest.at<std::uint8_t>(y, x) != 0;
                    shape.at<float>(y, x) = static_cast<float>(much * look.distinct);
                    evidence.at<float>(y, x) =
                        static_cast<float>(much * (onBody ? look.distinctOnBody : look.distinct));
                }
            }
        }
        cv::Mat rough;
        cv::blur(evidence, rough, {roughBlur, roughBlur});
        maps.rough.push_back(rough);
        maps.evidence.push_back(evidence);
        maps.shape.push_back(shape);
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

ImplementFollower::Line ImplementFollower::placedExactly(const Line& line, const Anchor& anchor,
                                                         Maps maps) const {
    std::swap(maps.evidence, maps.shape);
    Line exact = bettered(line, anchor, maps);
    exact.score = line.score;
    return exact;
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
    double spreadAcross = 0.0; // of the face's parts, and what it was where they were placed
    double placedSpread = 0.0;
    for (double u = share * size + fist * bodyPx_; u < size; u += sampleStep) {
        const int part = std::clamp(static_cast<int>(u / size * parts), 0, parts - 1);
        const double half = anchor.halfWidth[static_cast<std::size_t>(part)];
        const cv::Mat& cover = maps.cover[anchor.look[static_cast<std::size_t>(part)]];
        double weight = 0.0;
        double moment = 0.0;
        double second = 0.0;
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
                second += c * v * v;
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
            if (anchor.looks[anchor.look[static_cast<std::size_t>(part)]].isFace) {
                constexpr double ofUniform = 1.0 / 3.0; // variance over half width squared
                spreadAcross += second - weight * v * v;
                placedSpread += weight * ofUniform * half * half;
            }
        }
    }
    if (placedSpread > 0.0) {
        guess.broad = std::sqrt(spreadAcross / placedSpread);
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
                                                              const Background& behind) const {
    const Anchor& anchor = nearest(frame);
    if (anchor.frame == frame) {
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
        const Guess guess = guessFrom(placedExactly(line, anchor, maps), anchor, maps);
        if (guess.score > leastAlike && guess.score < mostAlike) {
            guesses.push_back(guess);
        }
    }
    return guesses;
}

} // namespace kestrel::track
