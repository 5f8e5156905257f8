#pragma once

#include "film/frame_reader.h"
#include "film/picture.h"

namespace kestrel::film {

/// The pictures of a film by frame number, exact, in whole frames or in fields as the index says.
/// Not thread-safe: one for each thread.
class PictureReader {
  public:
    /// Throws model::InputError when the file cannot be opened or its codec is missing. With
    /// `threads` 0 the decoder uses all cores. Pictures are `scale` times as large as the film, 1
    /// or less.
    explicit PictureReader(const FilmIndex& index, int threads = 0, double scale = 1.0);

    /// Throws std::out_of_range for a frame the film does not have, model::InputError for one that
    /// is damaged.
    Picture read(int frame);

    /// Brightness only, averaged down to `width` pixels across; of the whole frame, also in fields.
    GrayPicture readGray(int frame, int width);

  private:
    FilmIndex index_;
    FrameReader reader_;
    PictureMaker maker_;
};

} // namespace kestrel::film
