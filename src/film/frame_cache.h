#pragma once

#include "film/picture.h"

#include <cstddef>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <utility>

namespace kestrel::film {

using PicturePtr = std::shared_ptr<const Picture>;

/// Pictures of all open films within one bound in bytes. What goes first is what lies farthest from
/// the frame its film is looked at; key positions stay as long as they fill no more than half of
/// the bound. All functions may be called from any thread.
class FrameCache {
  public:
    using FilmId = int;

    explicit FrameCache(std::size_t bytes) : bound_(bytes) {}
    FrameCache(const FrameCache&) = delete;
    FrameCache& operator=(const FrameCache&) = delete;

    /// Takes part with a film of its own; its pictures go with leave().
    FilmId join();
    void leave(FilmId film);

    /// The frame looked at in that film.
    void lookAt(FilmId film, int frame);
    /// Frames of that film to keep whatever is looked at.
    void keepAlways(FilmId film, std::set<int> frames);

    void keep(FilmId film, int frame, PicturePtr picture);
    /// The picture, or null when it is not here.
    [[nodiscard]] PicturePtr find(FilmId film, int frame) const;
    [[nodiscard]] bool contains(FilmId film, int frame) const;
    /// The picture of that film nearest to `frame`, with its number; {−1, null} when it has none.
    [[nodiscard]] std::pair<int, PicturePtr> nearest(FilmId film, int frame) const;

    [[nodiscard]] std::size_t bytes() const;
    /// What one of the films that take part may fill.
    [[nodiscard]] std::size_t share() const;

  private:
    struct Film {
        std::map<int, PicturePtr> pictures;
        std::set<int> always;
        int current = 0;
    };

    void evict(FilmId newest);

    std::size_t bound_;
    mutable std::mutex mutex_;
    std::map<FilmId, Film> films_;
    std::size_t bytes_ = 0;
    FilmId next_ = 0;
};

} // namespace kestrel::film
