#pragma once

#include "film/av_handles.h"
#include "film/film_index.h"

#include <functional>

namespace kestrel::film {

/// Decodes frames of one film by index, exactly: reaching a frame by any path gives the frame a
/// straight decode would. Not thread-safe; one reader a thread.
class FrameReader {
  public:
    /// Reads the file's own frames: `index` as buildIndex gives it. With `threads` 0 the decoder
    /// uses all cores. Throws model::InputError when the film cannot be opened or its codec is not
    /// known.
    explicit FrameReader(const FilmIndex& index, int threads = 0);

    /// The decoded frame in its own pixel format, valid until the next call. Throws
    /// std::out_of_range for a frame that is not in the index, model::InputError when the film is
    /// damaged there.
    const AVFrame& read(int frame);

    /// Called with each frame that is decoded on the way; returning false breaks off there.
    using Visit = std::function<bool(int frame, const AVFrame& decoded)>;

    /// As read(), showing all frames that it decodes to `visit`, the wanted one too. Frames that
    /// need not be decoded to reach it are not shown. Throws as read().
    void readThrough(int frame, const Visit& visit);

  private:
    [[nodiscard]] int keyFrameAtOrBefore(int frame) const;
    [[nodiscard]] int indexOf(const AVFrame& decoded) const;
    void seekTo(int keyFrame);
    void rewind();
    void reach(int frame, const Visit& visit);
    void reachByCounting(int frame, const Visit& visit);
    [[noreturn]] void damaged(int frame);
    bool decodeNext();

    FilmIndex index_;
    InputHandle input_;
    CodecHandle codec_;
    FrameHandle frame_;
    PacketHandle packet_;
    int streamNumber_ = 0;
    int lastDecoded_ = -1; ///< index of frame_, −1 after a seek
    bool draining_ = false;
    int damaged_ = -1;        ///< the frame that was last found to be damaged
    bool positioned_ = false; ///< the decoder has been set to a key frame since opening
};

} // namespace kestrel::film
