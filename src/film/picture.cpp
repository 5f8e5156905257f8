#include "film/picture.h"

#include "model/input_error.h"

extern "C" {
#include <libavutil/frame.h>
#include <libswscale/swscale.h>
}

#include <algorithm>
#include <array>
#include <cmath>

namespace kestrel::film {
namespace {

int scalerMatrix(const AVFrame& frame) {
    switch (frame.colorspace) {
    case AVCOL_SPC_BT709:
        return SWS_CS_ITU709;
    case AVCOL_SPC_BT2020_NCL:
    case AVCOL_SPC_BT2020_CL:
        return SWS_CS_BT2020;
    case AVCOL_SPC_BT470BG:
    case AVCOL_SPC_SMPTE170M:
        return SWS_CS_ITU601;
    default:
        // Unmarked film follows the usual rule: high definition is BT.709, the rest BT.601.
        return frame.height >= 720 ? SWS_CS_ITU709 : SWS_CS_ITU601;
    }
}

Picture turned(const Picture& source, int rotation) {
    Picture result;
    const bool quarter = rotation == 90 || rotation == 270;
    result.width = quarter ? source.height : source.width;
    result.height = quarter ? source.width : source.height;
    result.pixels.resize(source.pixels.size());
    for (int y = 0; y < source.height; ++y) {
        for (int x = 0; x < source.width; ++x) {
            int tx = source.width - 1 - x;
            int ty = source.height - 1 - y;
            if (rotation == 90) {
                tx = source.height - 1 - y;
                ty = x;
            } else if (rotation == 270) {
                tx = y;
                ty = source.width - 1 - x;
            }
            result.pixels[static_cast<std::size_t>(ty) * result.width + tx] =
                source.pixels[static_cast<std::size_t>(y) * source.width + x];
        }
    }
    return result;
}

} // namespace

PictureMaker::PictureMaker(int rotation, double pixelAspect)
    : rotation_(rotation), pixelAspect_(pixelAspect) {}

Picture PictureMaker::make(const AVFrame& frame) {
    if (std::int64_t{frame.width} * frame.height > mostPixels) {
        throw model::InputError("A frame says it is " + std::to_string(frame.width) + " × " +
                                    std::to_string(frame.height) + " pixels large.",
                                "Nothing was changed.",
                                "The film is damaged there; step on, or copy it again.");
    }
    Picture picture;
    picture.width = std::max(1, static_cast<int>(std::lround(frame.width * pixelAspect_)));
    picture.height = frame.height;
    const std::size_t count = static_cast<std::size_t>(picture.width) * picture.height;
    constexpr std::size_t slack = 64; // vector code may write a few pixels past the last row
    picture.pixels.reserve(count + slack);
    picture.pixels.resize(count);

    // Without SWS_ACCURATE_RND and full chroma FFmpeg takes its vector code, four times as fast;
    // the colours stay within three 8-bit steps (tests/film/test_film_kinds.cpp).
    scaler_.reset(sws_getCachedContext(
        scaler_.release(), frame.width, frame.height, static_cast<AVPixelFormat>(frame.format),
        picture.width, picture.height, AV_PIX_FMT_BGRA, SWS_BILINEAR, nullptr, nullptr, nullptr));
    if (!scaler_) {
        throw model::InputError("The colours of a frame are stored in a way that cannot be shown "
                                "here (format " +
                                    std::to_string(frame.format) + ").",
                                "The file was not changed.",
                                "Save it as MP4 (H.264) and try again.");
    }
    const int* matrix = sws_getCoefficients(scalerMatrix(frame));
    const int fullRange = frame.color_range == AVCOL_RANGE_JPEG ? 1 : 0;
    constexpr int neutral = 1 << 16;
    sws_setColorspaceDetails(scaler_.get(), matrix, fullRange, sws_getCoefficients(SWS_CS_DEFAULT),
                             1, 0, neutral, neutral);

    const std::array<std::uint8_t*, 4> target{
        reinterpret_cast<std::uint8_t*>(picture.pixels.data()), nullptr, nullptr, nullptr};
    const std::array<int, 4> stride{picture.width * 4, 0, 0, 0};
    sws_scale(scaler_.get(), frame.data, frame.linesize, 0, frame.height, target.data(),
              stride.data());
    return rotation_ == 0 ? std::move(picture) : turned(picture, rotation_);
}

} // namespace kestrel::film
