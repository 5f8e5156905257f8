#pragma once

extern "C" {
struct AVFrame;
}

#include <string>

namespace kestrel::film {

/// MD5 of a decoded frame in its own pixel format, planes one after the other without padding, in
/// lower-case hexadecimal: what `ffmpeg -noautorotate -fps_mode passthrough -f framehash -hash md5`
/// prints for it.
std::string frameHash(const AVFrame& frame);

} // namespace kestrel::film
