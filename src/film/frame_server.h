#pragma once

#include "film/film_index.h"
#include "film/picture.h"

#include <condition_variable>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <string>
#include <thread>
#include <utility>

namespace kestrel::film {

using PicturePtr = std::shared_ptr<const Picture>;

/// Decodes frames of one film on a thread of its own, keeps those around the current one within a
/// byte bound, and reads ahead in the direction of travel.
class FrameServer {
  public:
    /// Called on the server's thread: the picture of `frame`, or null and what went wrong.
    using Deliver = std::function<void(int frame, PicturePtr picture, const std::string& problem)>;

    /// Default bound on cached pictures.
    static constexpr std::size_t defaultCacheBytes = std::size_t{768} << 20;

    FrameServer(const FilmIndex& index, Deliver deliver,
                std::size_t cacheBytes = defaultCacheBytes);
    ~FrameServer();
    FrameServer(const FrameServer&) = delete;
    FrameServer& operator=(const FrameServer&) = delete;

    /// Asks for a frame; a newer wish replaces one not yet begun. Frames outside the film are
    /// clamped to it.
    void want(int frame);

    /// The picture of `frame` when it is in the cache, else null. Any thread.
    [[nodiscard]] PicturePtr cached(int frame) const;

    /// The cached picture nearest to `frame` and its number, to show while the exact one is
    /// decoded; null when nothing is cached. Any thread.
    [[nodiscard]] std::pair<int, PicturePtr> nearestCached(int frame) const;

    /// Frames to keep whatever is looked at (key positions), as long as they fill no more than half
    /// of the bound.
    void keepAlways(std::set<int> frames);

    [[nodiscard]] std::size_t cachedBytes() const;

  private:
    void run();
    void keep(int frame, PicturePtr picture);
    void evict();
    [[nodiscard]] int nextToReadAhead() const;

    FilmIndex index_;
    Deliver deliver_;
    std::size_t cacheBytes_;

    mutable std::mutex mutex_;
    std::condition_variable wake_;
    std::map<int, PicturePtr> cache_;
    std::set<int> always_; ///< not evicted
    std::size_t cachedBytes_ = 0;
    int wanted_ = -1; ///< the wish not yet served, −1 when none
    int current_ = 0; ///< the last wish
    int direction_ = 1;
    bool stop_ = false;

    std::thread thread_;
};

} // namespace kestrel::film
