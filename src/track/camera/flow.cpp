#include "track/camera/flow.h"

#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

#include <algorithm>
#include <cmath>

namespace kestrel::track {
namespace {

constexpr int window = 21;    ///< pixels across, about a wrist at 1080p
constexpr int mostLevels = 5; ///< halvings of the picture
constexpr int iterations = 20;
constexpr double smallestStep = 0.03; ///< pixels at which the search ends
constexpr double flattest = 1e-4;     ///< smallest eigenvalue of a window that holds a point

} // namespace

struct FlowTracker::State {
    int levels = 1;
    std::vector<cv::Mat> before;
    std::vector<cv::Mat> now;
};

FlowTracker::FlowTracker(double reachPx) : state_(std::make_unique<State>()) {
    // On the top level the farthest way fits into half a window.
    const double halvings = std::log2(std::max(1.0, 2.0 * reachPx / window));
    state_->levels = std::clamp(static_cast<int>(std::ceil(halvings)), 1, mostLevels);
}

FlowTracker::~FlowTracker() = default;
FlowTracker::FlowTracker(FlowTracker&&) noexcept = default;
FlowTracker& FlowTracker::operator=(FlowTracker&&) noexcept = default;

std::vector<std::optional<Flow>> FlowTracker::next(const film::Picture& picture,
                                                   const std::vector<model::Point2>& points) {
    const cv::Size size(window, window);
    const cv::Mat colours(picture.height, picture.width, CV_8UC4,
                          const_cast<std::uint32_t*>(picture.pixels.data()));
    cv::Mat gray;
    cv::cvtColor(colours, gray, cv::COLOR_BGRA2GRAY);
    state_->before.swap(state_->now);
    state_->now.clear();
    cv::buildOpticalFlowPyramid(gray, state_->now, size, state_->levels);

    std::vector<std::optional<Flow>> flows(points.size());
    if (points.empty() || state_->before.empty()) {
        return flows;
    }
    std::vector<cv::Point2f> from;
    for (const model::Point2 p : points) {
        from.emplace_back(static_cast<float>(p.x), static_cast<float>(p.y));
    }
    std::vector<cv::Point2f> to;
    std::vector<cv::Point2f> back;
    std::vector<std::uint8_t> found;
    std::vector<std::uint8_t> foundBack;
    std::vector<float> error;
    const cv::TermCriteria end(cv::TermCriteria::COUNT | cv::TermCriteria::EPS, iterations,
                               smallestStep);
    cv::calcOpticalFlowPyrLK(state_->before, state_->now, from, to, found, error, size,
                             state_->levels, end, 0, flattest);
    cv::calcOpticalFlowPyrLK(state_->now, state_->before, to, back, foundBack, error, size,
                             state_->levels, end, 0, flattest);
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (found[i] == 0 || foundBack[i] == 0) {
            continue;
        }
        const cv::Point2f way = to[i] - from[i];
        const cv::Point2f miss = back[i] - from[i];
        flows[i] = Flow{{way.x, way.y}, std::hypot(miss.x, miss.y)};
    }
    return flows;
}

} // namespace kestrel::track
