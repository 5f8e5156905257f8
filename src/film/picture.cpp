#include "film/picture.h"

#include "model/input_error.h"

extern "C" {
#include <libavutil/frame.h>
#include <libswscale/swscale.h>
}

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <string>
#include <utility>

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

template <class Buffer> Buffer turned(const Buffer& source, int width, int height, int rotation) {
    Buffer result(source.size());
    const int rowLength = rotation == 180 ? width : height;
    const auto place = [&](int x, int y) -> std::size_t {
        int tx = width - 1 - x;
        int ty = height - 1 - y;
        if (rotation == 90) {
            tx = height - 1 - y;
            ty = x;
        } else if (rotation == 270) {
            tx = y;
            ty = width - 1 - x;
        }
        return static_cast<std::size_t>(ty) * rowLength + tx;
    };
    // Tile by tile: a quarter turn writes columns, which would miss the processor's cache at each
    // pixel of a whole row.
    constexpr int tile = 32;
    for (int top = 0; top < height; top += tile) {
        for (int left = 0; left < width; left += tile) {
            for (int y = top; y < std::min(top + tile, height); ++y) {
                for (int x = left; x < std::min(left + tile, width); ++x) {
                    result[place(x, y)] = source[static_cast<std::size_t>(y) * width + x];
                }
            }
        }
    }
    return result;
}

/// Turns a picture with `width`, `height` and `pixels` clockwise by `rotation`.
template <class AnyPicture> AnyPicture turned(AnyPicture picture, int rotation) {
    if (rotation != 0) {
        picture.pixels = turned(picture.pixels, picture.width, picture.height, rotation);
        if (rotation != 180) {
            std::swap(picture.width, picture.height);
        }
    }
    return picture;
}

void checkSize(const AVFrame& frame) {
    if (std::int64_t{frame.width} * frame.height > mostPixels) {
        throw model::InputError(model::message("film.frame_too_large", frame.width, frame.height),
                                model::message("safe.nothing_changed"),
                                model::message("todo.step_on"));
    }
}

/// Sets the scaler up for `rows` rows of the frame and a target size and format.
void prepare(ScalerHandle& scaler, const AVFrame& frame, int rows, int width, int height,
             AVPixelFormat format, int method) {
    scaler.reset(sws_getCachedContext(scaler.release(), frame.width, rows,
                                      static_cast<AVPixelFormat>(frame.format), width, height,
                                      format, method, nullptr, nullptr, nullptr));
    if (!scaler) {
        throw model::InputError(model::message("film.colours_unknown", frame.format),
                                model::message("safe.file_not_changed"),
                                model::message("todo.save_as_mp4"));
    }
    const int* matrix = sws_getCoefficients(scalerMatrix(frame));
    const int fullRange = frame.color_range == AVCOL_RANGE_JPEG ? 1 : 0;
    constexpr int neutral = 1 << 16;
    sws_setColorspaceDetails(scaler.get(), matrix, fullRange, sws_getCoefficients(SWS_CS_DEFAULT),
                             1, 0, neutral, neutral);
}

/// What of a frame is scaled: all its rows, or every other one.
struct Rows {
    std::array<const std::uint8_t*, AV_NUM_DATA_POINTERS> data{};
    std::array<int, AV_NUM_DATA_POINTERS> stride{};
    int count = 0;
};

Rows rowsOf(const AVFrame& frame, Lines lines) {
    Rows rows;
    const int skip = lines == Lines::bottom ? 1 : 0;
    const int step = lines == Lines::all ? 1 : 2;
    for (std::size_t plane = 0; plane < rows.data.size(); ++plane) {
        rows.stride[plane] = frame.linesize[plane] * step;
        rows.data[plane] = frame.data[plane] == nullptr
                               ? nullptr
                               : frame.data[plane] + std::ptrdiff_t{frame.linesize[plane]} * skip;
    }
    rows.count = lines == Lines::all ? frame.height : frame.height / 2;
    return rows;
}

/// Spreads the rows of a field over the lines they were taken from and fills the lines between with
/// the mean of their neighbours.
Pixels linesFilled(const Pixels& field, int width, int height, Lines lines) {
    Pixels whole(static_cast<std::size_t>(width) * height);
    const int fieldRows = height / 2;
    const int parity = lines == Lines::bottom ? 1 : 0;
    const auto row = [&](int r) {
        return field.data() + static_cast<std::size_t>(std::clamp(r, 0, fieldRows - 1)) * width;
    };
    for (int y = 0; y < height; ++y) {
        std::uint32_t* to = whole.data() + static_cast<std::size_t>(y) * width;
        const bool own = y % 2 == parity;
        const int above = own ? y / 2 : (y - parity + 1) / 2 - 1;
        const std::uint32_t* a = row(above);
        const std::uint32_t* b = own ? a : row(above + 1);
        for (int x = 0; x < width; ++x) {
            // Byte-wise mean without carries between the bytes.
            to[x] = (a[x] & b[x]) + (((a[x] ^ b[x]) & 0xFEFEFEFEU) >> 1U);
        }
    }
    return whole;
}

} // namespace

PictureMaker::PictureMaker(const FilmIndex& index, double scale)
    : rotation_(index.rotation), width_(index.width), height_(index.height) {
    if (rotation_ == 90 || rotation_ == 270) {
        std::swap(width_, height_);
    }
    if (scale < 1.0) {
        width_ = std::max(1, static_cast<int>(std::lround(width_ * scale)));
        height_ = std::max(1, static_cast<int>(std::lround(height_ * scale)));
    }
}

Picture PictureMaker::make(const AVFrame& frame, Lines lines) {
    checkSize(frame);
    if (lines != Lines::all && (frame.height < 2 || height_ < 2)) {
        lines = Lines::all; // a single line has no fields
    }
    Picture picture;
    picture.width = width_;
    picture.height = lines == Lines::all ? height_ : height_ / 2;
    const std::size_t count = static_cast<std::size_t>(picture.width) * picture.height;
    constexpr std::size_t slack = 64; // vector code may write a few pixels past the last row
    picture.pixels.reserve(count + slack);
    picture.pixels.resize(count);

    const Rows rows = rowsOf(frame, lines);
    // Without SWS_ACCURATE_RND and full chroma FFmpeg takes its vector code, four times as fast;
    // the colours stay within three 8-bit steps (tests/film/test_film_kinds.cpp).
    prepare(scaler_, frame, rows.count, picture.width, picture.height, AV_PIX_FMT_BGRA,
            SWS_BILINEAR);
    const std::array<std::uint8_t*, 4> target{
        reinterpret_cast<std::uint8_t*>(picture.pixels.data()), nullptr, nullptr, nullptr};
    const std::array<int, 4> stride{picture.width * 4, 0, 0, 0};
    sws_scale(scaler_.get(), rows.data.data(), rows.stride.data(), 0, rows.count, target.data(),
              stride.data());
    if (lines != Lines::all) {
        picture.pixels = linesFilled(picture.pixels, width_, height_, lines);
        picture.height = height_;
    }
    return turned(std::move(picture), rotation_);
}

GrayPicture PictureMaker::makeGray(const AVFrame& frame, int width) {
    checkSize(frame);
    const bool quarter = rotation_ == 90 || rotation_ == 270;
    const int across = quarter ? height_ : width_;
    const double factor = std::min(1.0, static_cast<double>(width) / across);
    GrayPicture picture;
    picture.width = std::max(1, static_cast<int>(std::lround(width_ * factor)));
    picture.height = std::max(1, static_cast<int>(std::lround(height_ * factor)));
    const std::size_t count = static_cast<std::size_t>(picture.width) * picture.height;
    constexpr std::size_t slack = 64;
    picture.pixels.reserve(count + slack);
    picture.pixels.resize(count);
    prepare(scaler_, frame, frame.height, picture.width, picture.height, AV_PIX_FMT_GRAY8,
            SWS_AREA);
    const std::array<std::uint8_t*, 4> target{picture.pixels.data(), nullptr, nullptr, nullptr};
    const std::array<int, 4> stride{picture.width, 0, 0, 0};
    sws_scale(scaler_.get(), frame.data, frame.linesize, 0, frame.height, target.data(),
              stride.data());
    return turned(std::move(picture), rotation_);
}

} // namespace kestrel::film
