#include "report/film_images.h"

#include "film/picture_reader.h"
#include "model/input_error.h"
#include "report/picture_image.h"

#include <algorithm>
#include <memory>
#include <stdexcept>

namespace kestrel::report {
namespace {

struct Decoder {
    film::PictureReader reader;

    Decoder(const film::FilmIndex& index, double scale) : reader(index, 0, scale) {}

    QImage image(int frame) {
        try {
            return imageOf(std::make_shared<const film::Picture>(reader.read(frame)));
        } catch (const model::InputError&) {
            return {}; // the sheet goes without that picture
        } catch (const std::out_of_range&) {
            return {};
        }
    }
};

} // namespace

FrameImages filmImages(const film::FilmIndex& index, int mostWidth) {
    const double scale =
        mostWidth > 0 ? std::min(1.0, static_cast<double>(mostWidth) / index.width) : 1.0;
    return [decoder = std::make_shared<Decoder>(index, scale)](int frame) {
        return decoder->image(frame);
    };
}

} // namespace kestrel::report
