#pragma once

#include "film/av_handles.h"
#include "film/film_index.h"

#include <cstddef>
#include <cstdint>
#include <memory>
#include <new>
#include <utility>
#include <vector>

namespace kestrel::film {

/// Leaves new elements as they are: a picture is written whole right after, and clearing eight
/// megabytes first would take as long as filling them.
template <class T> struct UnsetAllocator : std::allocator<T> {
    template <class U> struct rebind { using other = UnsetAllocator<U>; };
    template <class U> void construct(U* place) { ::new (static_cast<void*>(place)) U; }
    template <class U, class... Arguments> void construct(U* place, Arguments&&... arguments) {
        ::new (static_cast<void*>(place)) U(std::forward<Arguments>(arguments)...);
    }
};
using Pixels = std::vector<std::uint32_t, UnsetAllocator<std::uint32_t>>;

/// A frame ready to show: 32-bit pixels 0xffRRGGBB, rows without padding, upright and with square
/// pixels. Landmark coordinates are in this picture.
struct Picture {
    int width = 0;
    int height = 0;
    Pixels pixels;

    [[nodiscard]] std::size_t bytes() const { return pixels.size() * sizeof(std::uint32_t); }
};

/// A small picture of brightness only, 0 black to 255 white, rows without padding, upright. Frame
/// of reference: the centre of pixel (0, 0) shows the middle of the corner block it averages.
struct GrayPicture {
    int width = 0;
    int height = 0;
    std::vector<std::uint8_t> pixels;
};

/// The largest picture that is shown: four times an 8K film. A damaged header may claim far more.
inline constexpr std::int64_t mostPixels = std::int64_t{4} * 7680 * 4320;

/// Which lines of a frame make the picture.
enum class Lines { all, top, bottom };

/// Turns decoded frames of one film into pictures: colour matrix and range, pixel aspect, rotation.
/// A frame of another size than the film's (some films change size on the way) is fitted to it, so
/// that landmarks mean the same place throughout. Keeps its scaler between frames; not thread-safe.
class PictureMaker {
  public:
    /// Pictures are made `scale` times as large as the film (not makeGray's): 1 or less.
    explicit PictureMaker(const FilmIndex& index, double scale = 1.0);

    /// With `lines` other than all, the lines of the other field are filled in from their
    /// neighbours. Throws model::InputError for a frame of more than mostPixels, or in a format
    /// that FFmpeg cannot convert.
    Picture make(const AVFrame& frame, Lines lines = Lines::all);

    /// The frame averaged down to `width` pixels across (or the film's width when that is less).
    /// Throws as make().
    GrayPicture makeGray(const AVFrame& frame, int width);

  private:
    int rotation_;
    int width_;  ///< before rotation
    int height_; ///< before rotation
    ScalerHandle scaler_;
};

} // namespace kestrel::film
