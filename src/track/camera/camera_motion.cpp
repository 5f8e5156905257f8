#include "track/camera/camera_motion.h"

#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

#include <algorithm>
#include <cmath>

namespace kestrel::track {
namespace {

constexpr int cellSide = 48;           ///< corners are taken cell by cell, pixels
constexpr int cornersPerCell = 4;      ///< so that a player full of them does not outvote the place
constexpr double cornerQuality = 0.1;  ///< of the strongest corner in its cell
constexpr double cornerDistance = 7.0; ///< pixels of the small picture
constexpr std::size_t fewestCorners = 12; ///< less is too little to tell the player from the place
constexpr float backAndForth = 0.5F;      ///< pixels that a corner may miss on its way back
constexpr double inlierDistance = 1.5;    ///< pixels
constexpr double inlierShare = 0.4;       ///< of the corners that must agree
constexpr double renewBelow = 0.5;        ///< share of corners left at which new ones are taken
/// Corners that agree but lie closer together than this are those of the player, not of the place:
/// root mean square distance from their middle, of the picture's diagonal. Corners all over a
/// picture have 0.29, in its lower third 0.25, on a player who fills its height 0.17.
constexpr double leastSpread = 0.2;
const cv::Size flowWindow(21, 21);
constexpr int flowLevels = 3;
/// Corners close to each other and along one edge err together, so that there are in effect fewer
/// of them; found by comparing with films whose camera path is known (tests/track).
constexpr double neighboursErrAlike = 2.5;

using Points = std::vector<cv::Point2f>;

/// Transforms one after the other: first `b`, then `a`.
model::CameraPose after(const model::CameraPose& a, const model::CameraPose& b) {
    const model::Point2 d = carriedToFirst(a, {b.dx, b.dy});
    return {a.a * b.a - a.b * b.b, a.b * b.a + a.a * b.b, d.x, d.y, std::hypot(a.sdPx, b.sdPx)};
}

/// Root mean square distance of the points that count from their middle.
double spreadOf(const Points& points, const std::vector<unsigned char>& counts) {
    cv::Point2d sum(0.0, 0.0);
    double squares = 0.0;
    double n = 0.0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (counts[i] != 0) {
            const cv::Point2d p = points[i];
            sum += p;
            squares += p.dot(p);
            ++n;
        }
    }
    return std::sqrt(std::max(0.0, squares / n - sum.dot(sum) / (n * n)));
}

/// How many corners of the reference picture still agree on a pose.
enum class Fit { good, weak, lost };

} // namespace

struct CameraMotionTracker::State {
    model::CameraMotion poses;
    double scale = 1.0; ///< source pixels for one of the small picture; known with the first
    int sourceWidth = 0;
    bool lost = false;
    int lastFrame = -1;
    cv::Mat before;                  ///< the last picture
    std::vector<cv::Mat> reference;  ///< pyramid of the picture that the corners were taken in
    Points corners;                  ///< where they are in it
    std::size_t agreedAtFirst = 0;   ///< how many agreed in the frame after it
    model::CameraPose referencePose; ///< of the reference picture, pixels of the small picture
    model::CameraPose sinceReference;
    bool fresh = false; ///< no frame was fitted to this reference yet

    void takeReference(const cv::Mat& picture) {
        referencePose = after(referencePose, sinceReference);
        sinceReference = {};
        cv::buildOpticalFlowPyramid(picture, reference, flowWindow, flowLevels);
        fresh = true;
        corners.clear();
        for (int top = 0; top + cellSide <= picture.rows; top += cellSide) {
            for (int left = 0; left + cellSide <= picture.cols; left += cellSide) {
                Points found;
                cv::goodFeaturesToTrack(picture(cv::Rect(left, top, cellSide, cellSide)), found,
                                        cornersPerCell, cornerQuality, cornerDistance);
                for (const cv::Point2f& corner : found) {
                    corners.push_back(
                        corner + cv::Point2f(static_cast<float>(left), static_cast<float>(top)));
                }
            }
        }
    }

    /// Finds the reference's corners in `picture`, beginning where the last pose expects them, and
    /// fits the pose. Always from the reference: errors do not add up from frame to frame. With
    /// Fit::lost the pose stays as it was.
    Fit fit(const cv::Mat& picture) {
        Points next;
        for (const cv::Point2f& corner : corners) {
            const model::Point2 p = carriedFromFirst(sinceReference, {corner.x, corner.y});
            next.emplace_back(static_cast<float>(p.x), static_cast<float>(p.y));
        }
        if (next.size() < fewestCorners) {
            return Fit::lost;
        }
        Points back = corners;
        std::vector<unsigned char> found;
        std::vector<unsigned char> foundBack;
        std::vector<float> error;
        std::vector<cv::Mat> pyramid;
        cv::buildOpticalFlowPyramid(picture, pyramid, flowWindow, flowLevels);
        const cv::TermCriteria enough(cv::TermCriteria::COUNT + cv::TermCriteria::EPS, 12, 0.02);
        cv::calcOpticalFlowPyrLK(reference, pyramid, corners, next, found, error, flowWindow,
                                 flowLevels, enough, cv::OPTFLOW_USE_INITIAL_FLOW);
        cv::calcOpticalFlowPyrLK(pyramid, reference, next, back, foundBack, error, flowWindow,
                                 flowLevels, enough, cv::OPTFLOW_USE_INITIAL_FLOW);
        Points there;
        Points here;
        for (std::size_t i = 0; i < corners.size(); ++i) {
            const cv::Point2f missed = back[i] - corners[i];
            if (found[i] != 0 && foundBack[i] != 0 &&
                std::hypot(missed.x, missed.y) <= backAndForth) {
                there.push_back(corners[i]);
                here.push_back(next[i]);
            }
        }
        if (here.size() < fewestCorners) {
            return Fit::lost;
        }
        std::vector<unsigned char> inlier;
        const cv::Mat m =
            cv::estimateAffinePartial2D(here, there, inlier, cv::RANSAC, inlierDistance);
        const auto agreeing = static_cast<std::size_t>(std::count(inlier.begin(), inlier.end(), 1));
        if (m.empty() || agreeing < fewestCorners ||
            static_cast<double>(agreeing) < inlierShare * static_cast<double>(here.size())) {
            return Fit::lost;
        }
        if (spreadOf(there, inlier) < leastSpread * std::hypot(picture.cols, picture.rows)) {
            return Fit::lost;
        }
        sinceReference = {m.at<double>(0, 0), m.at<double>(1, 0), m.at<double>(0, 2),
                          m.at<double>(1, 2), 0.0};
        double squares = 0.0;
        for (std::size_t i = 0; i < here.size(); ++i) {
            if (inlier[i] != 0) {
                const model::Point2 carried =
                    carriedToFirst(sinceReference, {here[i].x, here[i].y});
                squares +=
                    std::pow(carried.x - there[i].x, 2) + std::pow(carried.y - there[i].y, 2);
            }
        }
        // Per axis; a similarity fitted to n points is known at their mean to sd²/n and at a
        // typical distance from it to three times that (two for the shift, one for turn and zoom).
        const auto n = static_cast<double>(agreeing);
        sinceReference.sdPx = neighboursErrAlike * std::sqrt(squares / (2.0 * n - 4.0) * 3.0 / n);
        if (fresh) {
            agreedAtFirst = agreeing;
            fresh = false;
        }
        return static_cast<double>(agreeing) >= renewBelow * static_cast<double>(agreedAtFirst)
                   ? Fit::good
                   : Fit::weak;
    }
};

CameraMotionTracker::CameraMotionTracker(int frameCount, int sourceWidth)
    : state_(std::make_unique<State>()) {
    state_->poses.resize(static_cast<std::size_t>(frameCount));
    state_->sourceWidth = sourceWidth;
}

CameraMotionTracker::~CameraMotionTracker() = default;

void CameraMotionTracker::add(int frame, const film::GrayPicture& picture) {
    State& s = *state_;
    if (s.lost) {
        return;
    }
    const cv::Mat now(picture.height, picture.width, CV_8UC1,
                      const_cast<std::uint8_t*>(picture.pixels.data()));
    if (s.before.size() != now.size()) {
        s.scale = static_cast<double>(s.sourceWidth) / picture.width;
        s.takeReference(now);
    } else {
        Fit fit = s.fit(now);
        if (fit == Fit::lost && !s.fresh) {
            s.takeReference(s.before);
            fit = s.fit(now);
        }
        if (fit == Fit::lost) {
            s.lost = true;
            return;
        }
        if (fit == Fit::weak) {
            s.takeReference(now);
        }
    }
    s.before = now.clone();
    model::CameraPose pose = after(s.referencePose, s.sinceReference);
    pose.dx *= s.scale;
    pose.dy *= s.scale;
    pose.sdPx *= s.scale;
    // Damaged frames in between stand where the camera stood last.
    for (int f = s.lastFrame + 1; f <= frame; ++f) {
        s.poses[static_cast<std::size_t>(f)] = pose;
    }
    s.lastFrame = frame;
}

model::CameraMotion CameraMotionTracker::result() const {
    return state_->lost || state_->lastFrame < 0 ? model::CameraMotion{} : state_->poses;
}

CameraSteadiness steadiness(const model::CameraMotion& motion, const model::ClipTime& time,
                            int width, int height) {
    CameraSteadiness result;
    if (motion.empty()) {
        return result;
    }
    const model::Point2 middle{width / 2.0, height / 2.0};
    std::vector<model::Point2> path;
    for (const model::CameraPose& pose : motion) {
        path.push_back(carriedToFirst(pose, middle) - middle);
        result.driftPx = std::max(result.driftPx, model::length(path.back()));
    }
    // Quick is what differs from the mean over half a second round it.
    constexpr model::Seconds half(0.25);
    double squares = 0.0;
    std::size_t from = 0;
    std::size_t to = 0;
    model::Point2 sum;
    const auto& field = time.fieldTimes();
    for (std::size_t i = 0; i < path.size(); ++i) {
        while (to < path.size() && field[to] <= field[i] + half) {
            sum = sum + path[to++];
        }
        while (field[from] < field[i] - half) {
            sum = sum - path[from++];
        }
        const model::Point2 mean = sum * (1.0 / static_cast<double>(to - from));
        squares += std::pow(model::length(path[i] - mean), 2);
    }
    result.shakePx = std::sqrt(squares / static_cast<double>(path.size()));
    return result;
}

} // namespace kestrel::track
