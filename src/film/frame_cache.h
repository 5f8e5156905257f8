#pragma once

#include "film/av_handles.h"

#include <cstddef>
#include <map>
#include <memory>
#include <mutex>
#include <set>

namespace kestrel::film {

/// A decoded frame in its own pixel format, which takes a third of the room of a picture.
using DecodedPtr = std::shared_ptr<const AVFrame>;

/// Another owner of a decoded frame's buffers; nothing is copied.
DecodedPtr shared(const AVFrame& frame);

/// Decoded frames of all open films within one bound in bytes. What goes first is what lies
/// farthest from the frame its film is looked at; key positions stay as long as they fill no more
/// than half of the bound. All functions may be called from any thread.
class FrameCache {
  public:
    using FilmId = int;

    explicit FrameCache(std::size_t bytes) : bound_(bytes) {}
    FrameCache(const FrameCache&) = delete;
    FrameCache& operator=(const FrameCache&) = delete;

    /// Takes part with a film of its own; its frames go with leave().
    FilmId join();
    void leave(FilmId film);

    /// The frame looked at in that film.
    void lookAt(FilmId film, int frame);
    /// Frames of that film to keep whatever is looked at.
    void keepAlways(FilmId film, std::set<int> frames);

    void keep(FilmId film, int frame, DecodedPtr decoded);
    /// The frame, or null when it is not here.
    [[nodiscard]] DecodedPtr find(FilmId film, int frame) const;
    [[nodiscard]] bool contains(FilmId film, int frame) const;
    [[nodiscard]] std::size_t bytes() const;
    /// What one of the films that take part may fill.
    [[nodiscard]] std::size_t share() const;

  private:
    struct Film {
        std::map<int, DecodedPtr> frames;
        std::set<int> always;
        int current = 0;
    };

    void evict(FilmId newest);

    std::size_t bound_;
    mutable std::mutex mutex_;
    std::map<FilmId, Film> films_;
    std::size_t bytes_ = 0; ///< of all frames
    FilmId next_ = 0;
};

} // namespace kestrel::film
