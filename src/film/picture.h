#pragma once

#include "film/av_handles.h"

#include <cstddef>
#include <cstdint>
#include <vector>

namespace kestrel::film {

/// A frame ready to show: 32-bit pixels 0xffRRGGBB, rows without padding, upright and with square
/// pixels. Landmark coordinates are in this picture.
struct Picture {
    int width = 0;
    int height = 0;
    std::vector<std::uint32_t> pixels;

    [[nodiscard]] std::size_t bytes() const { return pixels.size() * sizeof(std::uint32_t); }
};

/// The largest picture that is shown: four times an 8K film. A damaged header may claim far more.
inline constexpr std::int64_t mostPixels = std::int64_t{4} * 7680 * 4320;

/// Turns decoded frames into pictures: colour matrix and range, pixel aspect, rotation. Keeps its
/// scaler between frames; not thread-safe.
class PictureMaker {
  public:
    /// `rotation` in clockwise quarter turns times 90; `pixelAspect` is width over height of a
    /// pixel.
    PictureMaker(int rotation, double pixelAspect);

    /// Throws model::InputError for a frame of more than mostPixels, or in a format that FFmpeg
    /// cannot convert.
    Picture make(const AVFrame& frame);

  private:
    int rotation_;
    double pixelAspect_;
    ScalerHandle scaler_;
};

} // namespace kestrel::film
