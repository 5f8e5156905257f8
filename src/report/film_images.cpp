#include "report/film_images.h"

#include "film/frame_reader.h"
#include "film/picture.h"
#include "model/input_error.h"
#include "report/picture_image.h"

#include <memory>

namespace kestrel::report {
namespace {

struct Decoder {
    film::FrameReader reader;
    film::PictureMaker maker;

    explicit Decoder(const film::FilmIndex& index)
        : reader(index), maker(index.rotation, index.pixelAspect.toDouble()) {}

    QImage image(int frame) {
        try {
            return imageOf(std::make_shared<const film::Picture>(maker.make(reader.read(frame))));
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
