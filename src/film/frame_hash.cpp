#include "film/frame_hash.h"

#include "film/hex.h"

extern "C" {
#include <libavutil/frame.h>
#include <libavutil/imgutils.h>
#include <libavutil/md5.h>
}

#include <array>
#include <cstdint>
#include <vector>

namespace kestrel::film {

std::string frameHash(const AVFrame& frame) {
    const auto format = static_cast<AVPixelFormat>(frame.format);
    const int bytes = av_image_get_buffer_size(format, frame.width, frame.height, 1);
    std::vector<std::uint8_t> packed(static_cast<std::size_t>(bytes > 0 ? bytes : 0));
    av_image_copy_to_buffer(packed.data(), bytes, frame.data, frame.linesize, format, frame.width,
                            frame.height, 1);
    std::array<std::uint8_t, 16> digest{};
    av_md5_sum(digest.data(), packed.data(), packed.size());
    return hexText(digest);
}

} // namespace kestrel::film
