#pragma once

#include "film/film_index.h"
#include "film/frame_cache.h"

#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <set>
#include <string>
#include <thread>
#include <utility>

namespace kestrel::film {

/// Decodes frames of one film on a thread of its own into a cache that open films share, and reads
/// ahead in the direction of travel.
class FrameServer {
  public:
    /// Called on the server's thread: the picture of `frame`, or null and what went wrong.
    using Deliver = std::function<void(int frame, PicturePtr picture, const std::string& problem)>;

    /// Default bound on the pictures of all open films.
    static constexpr std::size_t defaultCacheBytes = std::size_t{768} << 20;

    FrameServer(const FilmIndex& index, Deliver deliver, std::shared_ptr<FrameCache> cache);
    ~FrameServer();
    FrameServer(const FrameServer&) = delete;
    FrameServer& operator=(const FrameServer&) = delete;

    /// Asks for a frame; a newer wish replaces one not yet begun. Frames outside the film are
    /// clamped to it.
    void want(int frame);

    /// The picture of `frame` when it is in the cache, else null. Any thread.
    [[nodiscard]] PicturePtr cached(int frame) const { return cache_->find(film_, frame); }

    /// The cached picture nearest to `frame` and its number, to show while the exact one is
    /// decoded; null when nothing is cached. Any thread.
    [[nodiscard]] std::pair<int, PicturePtr> nearestCached(int frame) const {
        return cache_->nearest(film_, frame);
    }

    /// Frames to keep whatever is looked at (key positions).
    void keepAlways(std::set<int> frames) { cache_->keepAlways(film_, std::move(frames)); }

  private:
    void run();
    [[nodiscard]] int nextToReadAhead() const;

    FilmIndex index_;
    Deliver deliver_;
    std::shared_ptr<FrameCache> cache_;
    FrameCache::FilmId film_;

    mutable std::mutex mutex_;
    std::condition_variable wake_;
    int wanted_ = -1; ///< the wish not yet served, −1 when none
    int current_ = 0; ///< the last wish
    int direction_ = 1;
    bool stop_ = false;

    std::thread thread_;
};

} // namespace kestrel::film
