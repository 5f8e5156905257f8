#include "film/picture_reader.h"

namespace kestrel::film {

PictureReader::PictureReader(const FilmIndex& index, int threads)
    : readAs_(index.readAs), reader_(asWholeFrames(index), threads), maker_(index) {}

const AVFrame& PictureReader::decoded(int frame) {
    if (readAs_ == Fields::none || frame < 0) {
        return reader_.read(frame);
    }
    return reader_.read(frame / 2);
}

Picture PictureReader::read(int frame) {
    const AVFrame& whole = decoded(frame);
    if (readAs_ == Fields::none) {
        return maker_.make(whole);
    }
    const bool top = (frame % 2 == 0) == (readAs_ == Fields::topFirst);
    return maker_.make(whole, top ? Lines::top : Lines::bottom);
}

GrayPicture PictureReader::readGray(int frame, int width) {
    return maker_.makeGray(decoded(frame), width);
}

} // namespace kestrel::film
