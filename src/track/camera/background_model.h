#pragma once

#include "film/film_index.h"
#include "film/picture.h"
#include "model/film_study.h"

#include <opencv2/core.hpp>

/// The place of a film without what moves in it, and pictures to hold against it. Only within this
/// room: OpenCV does not show outside.
namespace kestrel::track {

/// A picture made `scale` times as large, 8 bits blue, green and red.
cv::Mat shrunk(const film::Picture& picture, double scale);

/// What lies behind player and things in one picture.
struct Background {
    cv::Mat place; ///< 8 bits blue, green and red; black where no picture showed it
    /// 255 where nearly all pictures show the same, so that it is certainly the place; 0 where it
    /// may be something that rested there for a while, or nothing is known.
    cv::Mat certain;
    /// 255 where the place is not to be relied on: at its edges when the camera moves, which is
    /// known to about a pixel.
    cv::Mat unclear;
};

class BackgroundModel {
  public:
    /// The middle value, pixel by pixel, of pictures spread evenly over `span`, each carried to
    /// where the camera stood in the film's first frame. An empty `camera` stands still. Throws
    /// model::InputError when the film cannot be opened; damaged frames are passed over.
    BackgroundModel(const film::FilmIndex& index, model::FrameSpan span,
                    const model::CameraMotion& camera, double scale);

    [[nodiscard]] Background at(int frame) const;
    /// Standard deviation of the pictures about the place where nothing moves, 8-bit steps.
    [[nodiscard]] double noise() const { return noise_; }

  private:
    [[nodiscard]] cv::Mat seenFrom(int frame, const cv::Mat& place) const;

    model::CameraMotion camera_; ///< empty when it moves no more than it is known to
    double scale_;
    cv::Mat place_; ///< from where the camera stood in the first frame
    cv::Mat certain_;
    cv::Mat edges_;
    double noise_ = 0.0;
};

} // namespace kestrel::track
