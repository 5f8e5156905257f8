#include "track/equipment/ball_follower.h"

#include "track/camera/matte.h"
#include "track/person/body_mask.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

namespace kestrel::track {
namespace {

using model::Landmark;
using model::Point2;

constexpr double likelyDiameter = 0.05; ///< of height, where none could be measured
constexpr double handReach = 0.08;      ///< of height: a ball so near to a hand is held by it
constexpr double heldMovingSd = 0.4;    ///< of the hand's way between two pictures
constexpr double heldSd = 0.03;         ///< of height, of a ball known from its hand only
// Costs for the best path, where a picture without the ball costs 1.
constexpr double seenCost = -9.0; ///< of a ball that looks in every way as it should, beyond 1
constexpr double leastCover = 0.3;
constexpr double plainCover = 0.6;     ///< mean of a patch that is all ball
constexpr double likeOnBody = 0.02;    ///< shoes, faces and buttons look like balls, too
constexpr double longestStreak = 10.0; ///< in diameters
constexpr std::size_t mostGuesses = 10;

/// A patch of a cover map, as an ellipse of the same second moments.
struct Patch {
    Point2 middle;
    double minor = 0.0; ///< full axes, pixels
    double major = 0.0;
    double cover = 0.0; ///< mean
};

std::vector<Patch> patchesOf(const cv::Mat& cover) {
    cv::Mat mask;
    cv::threshold(cover, mask, leastCover, 255.0, cv::THRESH_BINARY);
    mask.convertTo(mask, CV_8U);
    cv::Mat labels;
    cv::Mat stats;
    cv::Mat centroids;
    const int count = cv::connectedComponentsWithStats(mask, labels, stats, centroids);
    std::vector<Patch> patches;
    for (int label = 1; label < count; ++label) {
        const cv::Rect box(
            stats.at<int>(label, cv::CC_STAT_LEFT), stats.at<int>(label, cv::CC_STAT_TOP),
            stats.at<int>(label, cv::CC_STAT_WIDTH), stats.at<int>(label, cv::CC_STAT_HEIGHT));
        double sum = 0.0;
        double sx = 0.0;
        double sy = 0.0;
        double sxx = 0.0;
        double sxy = 0.0;
        double syy = 0.0;
        for (int y = box.y; y < box.y + box.height; ++y) {
            for (int x = box.x; x < box.x + box.width; ++x) {
                if (labels.at<int>(y, x) != label) {
                    continue;
                }
                const double w = cover.at<float>(y, x);
                sum += w;
                sx += w * x;
                sy += w * y;
                sxx += w * x * x;
                sxy += w * x * y;
                syy += w * y * y;
            }
        }
        const double mx = sx / sum;
        const double my = sy / sum;
        constexpr double ofPixel = 1.0 / 12.0; // a pixel is itself a square
        const double a = sxx / sum - mx * mx + ofPixel;
        const double b = sxy / sum - mx * my;
        const double c = syy / sum - my * my + ofPixel;
        const double middle = 0.5 * (a + c);
        const double half = std::hypot(0.5 * (a - c), b);
        constexpr double perDeviation = 4.0; // a disc's diameter is four of its deviations
        patches.push_back({{mx, my},
                           perDeviation * std::sqrt(std::max(0.0, middle - half)),
                           perDeviation * std::sqrt(middle + half),
                           sum / stats.at<int>(label, cv::CC_STAT_AREA)});
    }
    return patches;
}

} // namespace

BallFollower::BallFollower(const model::LandmarkTrack& placed, const model::LandmarkTrack& body,
                           double bodyPx, double noise)
    : body_(body), bodyPx_(bodyPx), noise_(noise) {
    for (const auto& [frame, points] : placed) {
        const auto* ball = model::find(placed, frame, Landmark::ball);
        if (ball == nullptr || ball->hidden) {
            continue;
        }
        anchors_.push_back({frame, ball->px, {}, {}});
        for (const Landmark hand : {Landmark::leftHand, Landmark::rightHand}) {
            const auto* p = model::find(body, frame, hand);
            if (p != nullptr && !p->hidden && length(p->px - ball->px) < handReach * bodyPx) {
                held_.push_back({frame, hand, ball->px - p->px});
            }
        }
    }
}

std::vector<int> BallFollower::anchorFrames() const {
    std::vector<int> frames;
    for (const Anchor& anchor : anchors_) {
        frames.push_back(anchor.frame);
    }
    return frames;
}

cv::Mat BallFollower::coverIn(const cv::Mat& picture, const Background& behind,
                              const cv::Vec3f& colour) const {
    cv::Mat cover(picture.size(), CV_32F);
    const Matting matting(colour, noise_);
    for (int y = 0; y < picture.rows; ++y) {
        for (int x = 0; x < picture.cols; ++x) {
            if (behind.unclear.at<std::uint8_t>(y, x) != 0) {
                cover.at<float>(y, x) = 0.0F;
                continue;
            }
            cover.at<float>(y, x) =
                matting.of(picture.at<cv::Vec3b>(y, x), behind.place.at<cv::Vec3b>(y, x)).cover;
        }
    }
    return cover;
}

void BallFollower::learn(int frame, const cv::Mat& picture, const Background& behind) {
    for (Anchor& anchor : anchors_) {
        if (anchor.frame != frame) {
            continue;
        }
        const int x = std::clamp(static_cast<int>(std::lround(anchor.at.x)), 1, picture.cols - 2);
        const int y = std::clamp(static_cast<int>(std::lround(anchor.at.y)), 1, picture.rows - 2);
        const cv::Scalar mean = cv::mean(picture(cv::Rect(x - 1, y - 1, 3, 3)));
        anchor.colour = cv::Vec3f(static_cast<float>(mean[0]), static_cast<float>(mean[1]),
                                  static_cast<float>(mean[2]));
        for (const Patch& patch : patchesOf(coverIn(picture, behind, anchor.colour))) {
            if (length(patch.middle - anchor.at) < 0.5 * patch.minor + 1.0 &&
                patch.minor < 2.0 * likelyDiameter * bodyPx_ &&
                patch.major < 0.5 * longestStreak * patch.minor) {
                anchor.diameter = patch.minor;
            }
        }
    }
}

double BallFollower::diameter() const {
    std::vector<double> known;
    for (const Anchor& anchor : anchors_) {
        if (anchor.diameter) {
            known.push_back(*anchor.diameter);
        }
    }
    if (known.empty()) {
        return likelyDiameter * bodyPx_;
    }
    std::nth_element(known.begin(), known.begin() + static_cast<std::ptrdiff_t>(known.size() / 2),
                     known.end());
    return known[known.size() / 2];
}

bool BallFollower::nearHand(int frame, Point2 place) const {
    for (const Landmark hand : {Landmark::leftHand, Landmark::rightHand}) {
        const auto* p = model::find(body_, frame, hand);
        if (p != nullptr && length(p->px - place) < handReach * bodyPx_) {
            return true;
        }
    }
    return false;
}

std::vector<BallFollower::Guess> BallFollower::look(int frame, const cv::Mat& picture,
                                                    const Background& behind) const {
    for (const Anchor& anchor : anchors_) {
        if (anchor.frame == frame) {
            return {{anchor.at, certain, 0.0}};
        }
    }
    // One that touches a hand has some of the hand's colour.
    const Anchor& anchor = *std::min_element(
        anchors_.begin(), anchors_.end(), [frame](const Anchor& a, const Anchor& b) {
            return std::pair(!a.diameter, std::abs(a.frame - frame)) <
                   std::pair(!b.diameter, std::abs(b.frame - frame));
        });
    std::vector<Guess> guesses;
    const double size = diameter();
    const bool measured = std::any_of(anchors_.begin(), anchors_.end(),
                                      [](const Anchor& a) { return a.diameter.has_value(); });
    const double sizeSpread = measured ? 0.3 : 0.5; // of the logarithm: it comes nearer, and goes
    const cv::Rect whole(0, 0, picture.cols, picture.rows);
    const cv::Mat body = restOfBodyIn(whole, body_, frame, bodyPx_) |
                         armsIn(whole, body_, frame, bodyPx_) |
                         handsIn(whole, body_, frame, bodyPx_);
    for (const Patch& patch : patchesOf(coverIn(picture, behind, anchor.colour))) {
        const double off = std::log(std::max(patch.minor, 0.1) / size) / sizeSpread;
        const double streak = patch.major / std::max(patch.minor, 0.1);
        if (std::abs(off) > 3.0 || streak > longestStreak) {
            continue;
        }
        const bool onBody =
            body.at<std::uint8_t>(static_cast<int>(std::lround(patch.middle.y)),
                                  static_cast<int>(std::lround(patch.middle.x))) != 0;
        const double like = std::exp(-0.5 * off * off) * std::min(1.0, patch.cover / plainCover) *
                            (onBody ? likeOnBody : 1.0);
        constexpr double middleSd = 0.08; // of the patch along its long axis
        // Of a ball that fingers or a glove cover in part the rest is seen, with its own middle.
        constexpr double occludedSd = 0.35; // of its diameter
        const double coveredSd = nearHand(frame, patch.middle)
                                     ? occludedSd * size
                                     : 0.5 * std::max(0.0, size - patch.minor);
        guesses.push_back({patch.middle, 1.0 + seenCost * like,
                           std::hypot(0.5 + middleSd * patch.major, coveredSd)});
    }
    std::sort(guesses.begin(), guesses.end(),
              [](const Guess& a, const Guess& b) { return a.cost < b.cost; });
    guesses.resize(std::min(guesses.size(), mostGuesses));
    if (!held_.empty()) {
        const Held& held =
            *std::min_element(held_.begin(), held_.end(), [frame](const Held& a, const Held& b) {
                return std::abs(a.frame - frame) < std::abs(b.frame - frame);
            });
        const auto* hand = model::find(body_, frame, held.hand);
        if (hand != nullptr && !hand->hidden) {
            // A hand that moves fast is not known well, nor how it has turned.
            const auto* before = model::find(body_, frame - 1, held.hand);
            const double way = before != nullptr ? length(hand->px - before->px) : 0.0;
            guesses.push_back({hand->px + held.off, 0.0,
                               std::hypot(heldSd * bodyPx_, hand->sdPx) + heldMovingSd * way,
                               true});
        }
    }
    return guesses;
}

} // namespace kestrel::track
