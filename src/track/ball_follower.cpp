#include "track/ball_follower.h"

#include "track/body_mask.h"
#include "track/matte.h"

#include <Eigen/Core>
#include <Eigen/LU>

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>
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
constexpr double longestHeld = 1.0;     ///< seconds for which a hand is trusted to hold it
constexpr double heldTurnsIn = 0.3;     ///< seconds in which a hand may turn it to its other side
constexpr double leftHand = 0.12;       ///< of height: so far off its place in the hand it has left
// Costs for the best path, where a picture without the ball costs 1.
constexpr double seenCost = -9.0;  ///< of a ball that looks in every way as it should, beyond 1
constexpr double certain = -100.0; ///< where the coach placed it
constexpr double never = 1e6;
constexpr int mostRounds = 6;         ///< of finding the way and leaving out what is no ball
constexpr double slowestFlight = 1.5; ///< heights a second: slower, it is no ball on its way
/// How suddenly a ball's way changes, heights a second squared: in a hand that throws, and at most
/// before it counts as hit, or as another thing; a flight is far smoother, gravity being 6 for a
/// grown player and drag at most as much again.
constexpr double throwing = 120.0;
constexpr double mostSudden = 3.0 * throwing;
constexpr double mostFalling = 20.0;
constexpr double mostSurprise =
    0.1; ///< of height: so far off where it was to be expected it is another
constexpr double fastestFlight = 45.0; ///< heights a second, about 70 m/s across the picture
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

cv::Mat BallFollower::coverIn(const cv::Mat& picture, const Behind& behind,
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

void BallFollower::learn(int frame, const cv::Mat& picture, const Behind& behind) {
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
                                                    const Behind& behind) const {
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
        constexpr double coveredSd = 0.35; // of its diameter
        const double covered = nearHand(frame, patch.middle)
                                   ? coveredSd * size
                                   : 0.5 * std::max(0.0, size - patch.minor);
        guesses.push_back({patch.middle, 1.0 + seenCost * like,
                           std::hypot(0.5 + middleSd * patch.major, covered)});
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

bool BallFollower::isFlight(std::span<const Sighting> piece) const {
    constexpr std::size_t fewest = 4;
    if (piece.size() < fewest) {
        return false;
    }
    // A parabola in time through the places, each axis on its own.
    const auto count = static_cast<Eigen::Index>(piece.size());
    double middle = 0.0;
    for (const Sighting& s : piece) {
        middle += s.time / static_cast<double>(piece.size());
    }
    Eigen::MatrixXd terms(count, 3);
    Eigen::MatrixX2d places(count, 2);
    double way = 0.0;
    for (std::size_t i = 0; i < piece.size(); ++i) {
        const double t = piece[i].time - middle;
        const auto row = static_cast<Eigen::Index>(i);
        terms.row(row) << 1.0, t, 0.5 * t * t;
        places.row(row) << piece[i].at.x, piece[i].at.y;
        way += i > 0 ? length(piece[i].at - piece[i - 1].at) : 0.0;
    }
    const Eigen::Matrix3d inverse = (terms.transpose() * terms).inverse();
    const Eigen::Matrix<double, 3, 2> fit = inverse * terms.transpose() * places;
    const double misfit = std::sqrt((places - terms * fit).squaredNorm() / (2.0 * piece.size()));
    constexpr double allowedMisfit = 0.35; // of its diameter
    const double allowed = std::max(1.0, allowedMisfit * diameter());
    const double speed = fit.row(1).norm() / bodyPx_;
    const double acceleration = fit.row(2).norm() / bodyPx_;
    const double accelerationSd = allowed * std::sqrt(inverse(2, 2)) / bodyPx_;
    constexpr double farEnough = 4.0; // diameters
    return misfit <= allowed && speed >= slowestFlight && way >= farEnough * diameter() &&
           acceleration <= mostFalling + 2.0 * accelerationSd;
}

std::vector<std::size_t>
BallFollower::otherThings(std::span<const int> frames, std::span<const std::optional<int>> taken,
                          std::span<const std::vector<Candidate>> seen,
                          std::span<const double> times,
                          std::span<const std::optional<Point2>> inHand) const {
    std::vector<std::size_t> result;
    std::vector<std::size_t> numbers;
    std::vector<Sighting> piece;
    bool isCoachs = false;
    bool lastWasHeld = false; // as the coach saw it in the picture before
    const auto close = [&] {
        if (!isCoachs && !isFlight(piece)) {
            result.insert(result.end(), numbers.begin(), numbers.end());
        }
        numbers.clear();
        piece.clear();
        isCoachs = false;
    };
    // Whether a place follows from the ones before without a hit, or a step to another thing.
    const auto goesOn = [&](const Sighting& next) {
        const Sighting& last = piece.back();
        const double dt = next.time - last.time;
        const double most = mostSurprise * bodyPx_ + diameter();
        if (piece.size() < 2) {
            const double reach = lastWasHeld ? most : fastestFlight * bodyPx_ * dt;
            return length(next.at - last.at) <= reach;
        }
        const Sighting& before = piece[piece.size() - 2];
        const Point2 velocity = (last.at - before.at) * (1.0 / (last.time - before.time));
        const double sudden = mostSudden * bodyPx_ * dt * (dt + last.time - before.time) * 0.5;
        return length(next.at - last.at - velocity * dt) <= std::min(sudden + diameter(), most);
    };
    const auto atHand = [&](std::size_t i, Point2 place) {
        return inHand[i] && length(*inHand[i] - place) < leftHand * bodyPx_;
    };
    constexpr std::size_t mostBetween = 3; // pictures, as far as the best path reaches
    for (std::size_t i = 0; i < taken.size(); ++i) {
        if (!taken[i]) {
            continue;
        }
        const Candidate& candidate = seen[i][static_cast<std::size_t>(*taken[i])];
        const Sighting sighting{times[i], candidate.points.front()};
        const bool changesHands =
            !piece.empty() && atHand(i, sighting.at) != atHand(numbers.back(), piece.back().at);
        if (!piece.empty() &&
            (i - numbers.back() > mostBetween || changesHands || !goesOn(sighting))) {
            close();
        }
        numbers.push_back(i);
        piece.push_back(sighting);
        isCoachs = isCoachs || candidate.cost <= certain;
        lastWasHeld = std::any_of(held_.begin(), held_.end(),
                                  [&](const Held& held) { return held.frame == frames[i]; });
    }
    close();
    return result;
}

std::optional<Point2> BallFollower::heldPlace(const std::map<int, std::vector<Guess>>& guesses,
                                              int frame) {
    const auto here = guesses.find(frame);
    if (here == guesses.end()) {
        return std::nullopt;
    }
    const auto guess = std::find_if(here->second.begin(), here->second.end(),
                                    [](const Guess& g) { return g.held; });
    return guess == here->second.end() ? std::nullopt : std::optional(guess->at);
}

std::map<int, Proposal> BallFollower::result(const std::map<int, std::vector<Guess>>& guesses,
                                             const std::map<int, double>& times) const {
    auto [frames, instants, seen] = sightingsOf(guesses, times, [](const Guess& guess) {
        return Candidate{{guess.at}, guess.held ? never : guess.cost};
    });
    std::vector<std::optional<Point2>> inHand;
    for (const int frame : frames) {
        inHand.push_back(heldPlace(guesses, frame));
    }
    PathRules rules;
    rules.suddenness = throwing * bodyPx_;
    rules.mostForJump = 20.0; // a hit, or another thing: it must be seen well afterwards
    rules.begun = 20.0;
    rules.skipped = 1.0;
    auto taken = bestPath(seen, instants, rules);
    for (int round = 1; round < mostRounds; ++round) {
        const auto others = otherThings(frames, taken, seen, instants, inHand);
        if (others.empty()) {
            break;
        }
        for (const std::size_t i : others) {
            seen[i][static_cast<std::size_t>(*taken[i])].cost = never;
        }
        taken = bestPath(seen, instants, rules);
    }
    for (const std::size_t i : otherThings(frames, taken, seen, instants, inHand)) {
        taken[i].reset();
    }
    std::map<int, Proposal> result;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        if (!taken[i]) {
            continue;
        }
        const Guess& guess = guesses.at(frames[i])[static_cast<std::size_t>(*taken[i])];
        if (guess.sd > 0.0) {
            result[frames[i]] = {guess.at, guess.sd, 0.0};
        }
    }
    fillHeld(result, guesses, times);
    return result;
}

void BallFollower::fillHeld(std::map<int, Proposal>& found,
                            const std::map<int, std::vector<Guess>>& guesses,
                            const std::map<int, double>& times) const {
    std::map<int, Proposal> filled;
    const auto fill = [&](int frame, const Held& held) {
        const auto time = times.find(frame);
        const auto from = times.find(held.frame);
        const auto here = guesses.find(frame);
        if (time == times.end() || from == times.end() || here == guesses.end() ||
            std::abs(time->second - from->second) > longestHeld) {
            return false;
        }
        const auto guess = std::find_if(here->second.begin(), here->second.end(),
                                        [](const Guess& g) { return g.held; });
        if (guess == here->second.end()) {
            return true; // the hand is not known, or the coach placed the ball
        }
        const auto seen = found.find(frame);
        if (seen == found.end()) {
            // The longer ago, the more the hand has turned with it.
            const double since = std::abs(time->second - from->second) / heldTurnsIn;
            const double sd = guess->sd * std::sqrt(1.0 + since * since);
            filled[frame] = {guess->at, sd, sd};
            return true;
        }
        return length(seen->second.px - guess->at) < leftHand * bodyPx_;
    };
    for (const Held& held : held_) {
        for (const int step : {-1, 1}) {
            for (int frame = held.frame + step; fill(frame, held);) {
                frame += step;
            }
        }
    }
    found.insert(filled.begin(), filled.end());
}

} // namespace kestrel::track
