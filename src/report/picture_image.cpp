#include "report/picture_image.h"

namespace kestrel::report {

QImage imageOf(film::PicturePtr picture) {
    if (!picture) {
        return {};
    }
    auto* const keeper = new film::PicturePtr(std::move(picture));
    const film::Picture& p = **keeper;
    return {reinterpret_cast<const uchar*>(p.pixels.data()),
            p.width,
            p.height,
            static_cast<qsizetype>(p.width) * 4,
            QImage::Format_RGB32,
            [](void* held) { delete static_cast<film::PicturePtr*>(held); },
            keeper};
}

} // namespace kestrel::report
