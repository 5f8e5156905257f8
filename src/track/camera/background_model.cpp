#include "track/camera/background_model.h"

#include "film/picture_reader.h"
#include "model/input_error.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <span>
#include <vector>

namespace kestrel::track {
namespace {

constexpr int mostPictures = 25;
constexpr int edge = 30;           ///< 8-bit steps over three pixels
constexpr int sameColour = 20;     ///< 8-bit steps of one colour
constexpr double nearlyAll = 0.92; ///< of the pictures

/// Carries points of a frame's small picture to those of the first frame's.
cv::Matx23d toFirst(const model::CameraMotion& camera, int frame, double scale) {
    if (camera.empty()) {
        return cv::Matx23d::eye();
    }
    const model::CameraPose& pose = camera[static_cast<std::size_t>(frame)];
    return {pose.a, -pose.b, scale * pose.dx, pose.b, pose.a, scale * pose.dy};
}

std::vector<int> spread(model::FrameSpan span) {
    const int count = std::min(mostPictures, span.last - span.first + 1);
    std::vector<int> frames;
    for (int i = 0; i < count; ++i) {
        frames.push_back(span.first + (count > 1 ? (span.last - span.first) * i / (count - 1) : 0));
    }
    return frames;
}

/// Whether a corner of the picture goes farther than the motion is known to.
bool moves(const model::CameraMotion& camera, const film::FilmIndex& index) {
    constexpr double stillPx = 2.0;
    constexpr double deviations = 4.0;
    const auto width = static_cast<double>(index.width);
    const auto height = static_cast<double>(index.height);
    return std::any_of(camera.begin(), camera.end(), [&](const model::CameraPose& pose) {
        for (const model::Point2 corner :
             {model::Point2{0.0, 0.0}, {width, 0.0}, {0.0, height}, {width, height}}) {
            if (length(model::carriedToFirst(pose, corner) - corner) >
                std::max(stillPx, deviations * pose.sdPx)) {
                return true;
            }
        }
        return false;
    });
}

} // namespace

cv::Mat shrunk(const film::Picture& picture, double scale) {
    const cv::Mat whole(picture.height, picture.width, CV_8UC4,
                        const_cast<std::uint32_t*>(picture.pixels.data()));
    cv::Mat colours;
    cv::cvtColor(whole, colours, cv::COLOR_BGRA2BGR);
    cv::Mat small;
    cv::resize(colours, small, {}, scale, scale, cv::INTER_AREA);
    return small;
}

namespace {

/// A picture brought to where the first one stands, and which of it there is.
struct Carried {
    cv::Mat colours;
    cv::Mat known;
};

/// Pictures spread over `span`; damaged ones are left out.
std::vector<Carried> carriedPictures(const film::FilmIndex& index, model::FrameSpan span,
                                     const model::CameraMotion& camera, double scale) {
    film::PictureReader reader(index);
    std::vector<Carried> all;
    for (const int frame : spread(span)) {
        cv::Mat small;
        try {
            small = shrunk(reader.read(frame), scale);
        } catch (const model::InputError&) {
            continue;
        }
        cv::Mat known(small.size(), CV_8U, cv::Scalar(255));
        const cv::Matx23d way = toFirst(camera, frame, scale);
        cv::Mat carried;
        cv::Mat carriedKnown;
        cv::warpAffine(small, carried, way, small.size(), cv::INTER_LINEAR);
        cv::warpAffine(known, carriedKnown, way, small.size(), cv::INTER_NEAREST);
        all.push_back({carried, carriedKnown});
    }
    return all;
}

/// How much a pixel that shows the place scatters, 8-bit steps, from how often the first picture is
/// off the middle by so much.
double noiseFrom(std::span<const int> offBy) {
    // The middle deviation holds against the share of the picture that moves.
    int half = 0;
    for (const int count : offBy) {
        half += count;
    }
    half /= 2;
    constexpr double perMiddleDeviation = 1.4826; // of a normal distribution
    int passed = 0;
    for (std::size_t off = 0; off < offBy.size(); ++off) {
        if (passed + offBy[off] > half) {
            const double inside = static_cast<double>(half - passed) / std::max(1, offBy[off]);
            return perMiddleDeviation * std::max(0.0, static_cast<double>(off) - 0.5 + inside);
        }
        passed += offBy[off];
    }
    return 0.0;
}

/// Where the place changes its colour from one pixel to the next.
cv::Mat edgesIn(const cv::Mat& place) {
    cv::Mat lightest;
    cv::Mat darkest;
    cv::dilate(place, lightest, {});
    cv::erode(place, darkest, {});
    std::array<cv::Mat, 3> range;
    cv::split(lightest - darkest, range.data());
    return cv::max(range[0], cv::max(range[1], range[2])) > edge;
}

} // namespace

BackgroundModel::BackgroundModel(const film::FilmIndex& index, model::FrameSpan span,
                                 const model::CameraMotion& camera, double scale)
    : camera_(moves(camera, index) ? camera : model::CameraMotion{}), scale_(scale) {
    const std::vector<Carried> pictures = carriedPictures(index, span, camera_, scale);
    if (pictures.empty()) {
        return;
    }
    place_ = cv::Mat::zeros(pictures.front().colours.size(), CV_8UC3);
    certain_ = cv::Mat::zeros(place_.size(), CV_8U);
    std::array<std::vector<std::uint8_t>, 3> values;
    std::array<int, 256> offBy{};
    for (int y = 0; y < place_.rows; ++y) {
        for (int x = 0; x < place_.cols; ++x) {
            for (auto& channel : values) {
                channel.clear();
            }
            for (const Carried& picture : pictures) {
                if (picture.known.at<std::uint8_t>(y, x) != 0) {
                    const auto& pixel = picture.colours.at<cv::Vec3b>(y, x);
                    for (int c = 0; c < 3; ++c) {
                        values[static_cast<std::size_t>(c)].push_back(pixel[c]);
                    }
                }
            }
            if (values[0].empty()) {
                continue;
            }
            std::size_t alike = values[0].size();
            for (int c = 0; c < 3; ++c) {
                auto& channel = values[static_cast<std::size_t>(c)];
                const auto middle =
                    channel.begin() + static_cast<std::ptrdiff_t>(channel.size() / 2);
                const std::uint8_t first = channel.front();
                std::nth_element(channel.begin(), middle, channel.end());
                place_.at<cv::Vec3b>(y, x)[c] = *middle;
                ++offBy[static_cast<std::size_t>(std::abs(first - *middle))];
                alike = std::min(alike, static_cast<std::size_t>(std::count_if(
                                            channel.begin(), channel.end(), [&](int value) {
                                                return std::abs(value - *middle) <= sameColour;
                                            })));
            }
            if (static_cast<double>(alike) >= nearlyAll * static_cast<double>(values[0].size())) {
                certain_.at<std::uint8_t>(y, x) = 255;
            }
        }
    }
    edges_ = camera_.empty() ? cv::Mat(cv::Mat::zeros(place_.size(), CV_8U)) : edgesIn(place_);
    noise_ = noiseFrom(offBy);
}

cv::Mat BackgroundModel::seenFrom(int frame, const cv::Mat& place) const {
    if (camera_.empty() || place.empty()) {
        return place;
    }
    cv::Mat seen;
    cv::warpAffine(place, seen, toFirst(camera_, frame, scale_), place.size(),
                   cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
    return seen;
}

Background BackgroundModel::at(int frame) const {
    return {seenFrom(frame, place_), seenFrom(frame, certain_), seenFrom(frame, edges_)};
}

} // namespace kestrel::track
