#include "pose/pose_region.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <stdexcept>

namespace kestrel::pose {
namespace {

/// From the middle of the hips to the edge of the region, in reaches: a margin of a quarter.
constexpr double sidePerReach = 2.5;
constexpr double boxMargin = 1.25;
constexpr double mostShrink = 2.0; ///< of bilinear sampling; beyond it fine detail would flicker

double wrapped(double angle) {
    return std::remainder(angle, 2.0 * std::numbers::pi);
}

} // namespace

PoseRegion regionFrom(model::Point2 hips, model::Point2 reach) {
    const model::Point2 up = reach - hips;
    // In the picture y runs down; straight up is (0, −1).
    return {hips, sidePerReach * length(up), wrapped(std::atan2(up.x, -up.y))};
}

PoseRegion regionAroundBox(model::Point2 corner, model::Point2 opposite) {
    const model::Point2 size = opposite - corner;
    return {(corner + opposite) * 0.5, boxMargin * std::max(std::abs(size.x), std::abs(size.y)),
            0.0};
}

model::Point2 inPicture(const PoseRegion& region, double x, double y) {
    const double right = (x - 0.5) * region.side;
    const double down = (y - 0.5) * region.side;
    const double c = std::cos(region.turn);
    const double s = std::sin(region.turn);
    return region.centre + model::Point2{c * right - s * down, s * right + c * down};
}

void cutOut(const film::Picture& picture, const PoseRegion& region, int size, float black,
            float white, std::span<float> target) {
    const auto numbers = static_cast<std::size_t>(size) * static_cast<std::size_t>(size) * 3;
    if (target.size() < numbers || !(region.side > 0.0)) {
        throw std::invalid_argument("no room for the cut, or an empty region");
    }
    // OpenCV wants a pointer it could write through; it only reads.
    const cv::Mat whole(picture.height, picture.width, CV_8UC4,
                        const_cast<std::uint32_t*>(picture.pixels.data()));
    const double half =
        region.side * (std::abs(std::cos(region.turn)) + std::abs(std::sin(region.turn))) / 2.0 +
        2.0;
    const cv::Rect around =
        cv::Rect(static_cast<int>(std::floor(region.centre.x - half)),
                 static_cast<int>(std::floor(region.centre.y - half)),
                 static_cast<int>(std::ceil(2.0 * half)), static_cast<int>(std::ceil(2.0 * half))) &
        cv::Rect(0, 0, picture.width, picture.height);
    cv::Mat cut(size, size, CV_8UC4, cv::Scalar::all(0.0));
    if (around.area() > 0) {
        cv::Mat near = whole(around);
        double scale = 1.0; // of `near` against the picture
        if (const double shrink = region.side / size; shrink > mostShrink) {
            scale = 1.0 / std::floor(shrink);
            cv::Mat smaller;
            cv::resize(near, smaller, {}, scale, scale, cv::INTER_AREA);
            near = smaller;
        }
        // From a pixel of the cut to a pixel of `near`, pixel centres at whole numbers.
        const model::Point2 corner = inPicture(region, 0.5 / size, 0.5 / size);
        const double step = region.side / size;
        const double c = std::cos(region.turn) * step;
        const double s = std::sin(region.turn) * step;
        const auto toNear = [&](double value, int origin) {
            return (value - origin + 0.5) * scale - 0.5;
        };
        const cv::Matx23d map(c * scale, -s * scale, toNear(corner.x, around.x), s * scale,
                              c * scale, toNear(corner.y, around.y));
        cv::warpAffine(near, cut, map, {size, size}, cv::INTER_LINEAR | cv::WARP_INVERSE_MAP,
                       cv::BORDER_CONSTANT, cv::Scalar::all(0.0));
    }
    constexpr float brightest = 255.0F;
    const float gain = (white - black) / brightest;
    auto* to = target.data();
    for (int y = 0; y < size; ++y) {
        const auto* from = cut.ptr<cv::Vec4b>(y);
        for (int x = 0; x < size; ++x) {
            for (const int channel : {2, 1, 0}) { // stored blue, green, red, opacity
                *to++ = black + gain * static_cast<float>(from[x][channel]);
            }
        }
    }
}

} // namespace kestrel::pose
