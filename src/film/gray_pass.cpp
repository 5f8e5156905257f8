#include "film/gray_pass.h"

#include "film/picture_reader.h"
#include "model/input_error.h"

#include <future>
#include <optional>

namespace kestrel::film {

bool forEachGray(const FilmIndex& index, int width, const GrayVisit& visit) {
    PictureReader reader(index, 1);
    const auto read = [&](int frame) {
        return std::async(std::launch::async,
                          [&reader, frame, width] { return reader.readGray(frame, width); });
    };
    std::future<GrayPicture> next = read(0);
    for (int frame = 0; frame < index.frameCount(); ++frame) {
        std::optional<GrayPicture> picture;
        try {
            picture = next.get();
        } catch (const model::InputError&) {
            picture.reset();
        }
        if (frame + 1 < index.frameCount()) {
            next = read(frame + 1);
        }
        if (picture && !visit(frame, *picture)) {
            return false;
        }
    }
    return true;
}

} // namespace kestrel::film
