#include "report/film_images.h"

#include "film/picture_reader.h"
#include "model/input_error.h"
#include "report/picture_image.h"

#include <memory>

namespace kestrel::report {
namespace {

struct Decoder {
    film::PictureReader reader;

    explicit Decoder(const film::FilmIndex& index) : reader(index) {}

    QImage image(int frame) {
        try {
            return imageOf(std::make_shared<const film::Picture>(reader.read(frame)));
        } catch (const model::InputError&) {
            return {}; // the sheet goes without that picture
        }
    }
};

} // namespace

FrameImages filmImages(const film::FilmIndex& index) {
    return
        [decoder = std::make_shared<Decoder>(index)](int frame) { return decoder->image(frame); };
}

} // namespace kestrel::report
