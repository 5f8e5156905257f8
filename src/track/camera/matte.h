#pragma once

#include <opencv2/core.hpp>

#include <algorithm>
#include <cmath>

/// How much of a pixel a thing of known colour covers. Only within this room.
namespace kestrel::track {

struct Matte {
    float cover = 0.0F;  ///< share of the exposure in which the thing was before the pixel, 0 to 1
    bool telling = true; ///< false where thing and place look alike, and cover means nothing
};

/// Things of one colour before a place.
class Matting {
  public:
    /// `thing` is a colour and `noise` the standard deviation of the pictures, in 8-bit steps.
    Matting(const cv::Vec3f& thing, double noise)
        : thing_(thing), spread_(static_cast<float>(shading * shading + noise * noise)) {}

    /// A pixel that a thing passes over while the shutter is open is a mixture of the place behind
    /// and of the thing; so a blurred streak counts in its measure. Colours off the way from one to
    /// the other do not count as cover.
    [[nodiscard]] Matte of(const cv::Vec3f& pixel, const cv::Vec3f& behind) const {
        const cv::Vec3f way = thing_ - behind;
        const float square = way.dot(way);
        if (square < leastContrast * leastContrast) {
            return {0.0F, false};
        }
        const cv::Vec3f off = pixel - behind;
        const float share = std::min(off.dot(way) / square, mostCover);
        if (share <= 0.0F) {
            return {};
        }
        const cv::Vec3f miss = off - share * way;
        const float misfit = miss.dot(miss) / spread_;
        if (misfit > hopeless) {
            return {};
        }
        return {std::min(1.0F, share) * std::exp(-0.5F * misfit), true};
    }

  private:
    static constexpr float leastContrast = 28.0F; ///< 8-bit steps over all three colours
    /// A thing looks lighter and darker as it turns, and compression smears its colour; 8-bit
    /// steps.
    static constexpr double shading = 22.0;
    static constexpr float mostCover = 1.2F; ///< lighter than the thing's own colour
    static constexpr float hopeless = 10.0F; ///< squares of deviations

    cv::Vec3f thing_;
    float spread_;
};

} // namespace kestrel::track
