#include "film/gray_pass.h"

#include "film/picture_reader.h"
#include "model/input_error.h"

namespace kestrel::film {

bool forEachGray(const FilmIndex& index, int width, const GrayVisit& visit) {
    PictureReader reader(index, 1);
    for (int frame = 0; frame < index.frameCount(); ++frame) {
        GrayPicture picture;
        try {
            picture = reader.readGray(frame, width);
        } catch (const model::InputError&) {
            continue;
        }
        if (!visit(frame, picture)) {
            return false;
        }
    }
    return true;
}

} // namespace kestrel::film
