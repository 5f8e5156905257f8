#pragma once

#include "film/film_index.h"
#include "film/picture.h"

namespace kestrel::film {

/// The file's own frame that a frame of the index lies in: the same but for film read as fields.
inline int wholeFrameOf(const FilmIndex& index, int frame) {
    return index.readAs == Fields::none ? frame : frame / 2;
}

/// The lines of that frame that make its picture.
inline Lines linesOf(const FilmIndex& index, int frame) {
    if (index.readAs == Fields::none) {
        return Lines::all;
    }
    return (frame % 2 == 0) == (index.readAs == Fields::topFirst) ? Lines::top : Lines::bottom;
}

} // namespace kestrel::film
