#include "film/picture_reader.h"

#include "film/fields.h"

namespace kestrel::film {

PictureReader::PictureReader(const FilmIndex& index, int threads, double scale)
    : index_(index), reader_(asWholeFrames(index), threads), maker_(index, scale) {}

Picture PictureReader::read(int frame) {
    return maker_.make(reader_.read(wholeFrameOf(index_, frame)), linesOf(index_, frame));
}

GrayPicture PictureReader::readGray(int frame, int width) {
    return maker_.makeGray(reader_.read(wholeFrameOf(index_, frame)), width);
}

} // namespace kestrel::film
