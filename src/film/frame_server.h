#pragma once

#include "film/film_index.h"
#include "film/frame_cache.h"
#include "film/picture.h"

#include <condition_variable>
#include <deque>
#include <exception>
#include <functional>
#include <memory>
#include <mutex>
#include <set>
#include <string>
#include <thread>
#include <utility>

namespace kestrel::film {

class FrameReader;

using PicturePtr = std::shared_ptr<const Picture>;

/// Decodes frames of one film on a thread of its own into a cache that open films share, reads
/// ahead in the direction of travel, and turns the frames that are looked at into pictures.
class FrameServer {
  public:
    /// Called on the server's thread: the picture of `frame`, or null and what was thrown instead.
    using Deliver =
        std::function<void(int frame, PicturePtr picture, const std::exception_ptr& problem)>;

    /// Default bound on the decoded frames of all open films.
    static constexpr std::size_t defaultCacheBytes = std::size_t{768} << 20;
    /// The share of that bound that pictures made from frames may fill; frames have the rest.
    static constexpr std::size_t pictureShare = 8;
    static constexpr std::size_t bytesForFrames =
        defaultCacheBytes / pictureShare * (pictureShare - 1);

    FrameServer(const FilmIndex& index, Deliver deliver, std::shared_ptr<FrameCache> cache);
    ~FrameServer();
    FrameServer(const FrameServer&) = delete;
    FrameServer& operator=(const FrameServer&) = delete;

    /// Asks for a frame; a newer wish replaces one not yet begun. Frames outside the film are
    /// clamped to it.
    void want(int frame);

    /// The picture of `frame` when it was looked at not long ago, else null. Any thread.
    [[nodiscard]] PicturePtr cached(int frame) const;

    /// Of the pictures looked at last, the one nearest to `frame`, and its number; null when there
    /// is none. To show while the exact one is decoded. Any thread.
    [[nodiscard]] std::pair<int, PicturePtr> nearestCached(int frame) const;

    /// Whether `frame` is decoded, so that its picture takes no more than the time to make it. Any
    /// thread.
    [[nodiscard]] bool decoded(int frame) const;

    /// Frames to keep decoded whatever is looked at (key positions).
    void keepAlways(const std::set<int>& frames);

  private:
    struct Work;

    void run();
    void serve(Work& work, int frame);
    void readAhead(Work& work, int whole);
    PicturePtr picture(Work& work, int frame, const AVFrame& decoded);
    [[nodiscard]] int wish() const;
    [[nodiscard]] int reach() const;
    [[nodiscard]] bool worthKeeping(int whole) const;
    [[nodiscard]] int nextToReadAhead() const;

    FilmIndex index_;
    int wholeFrames_; ///< number of the file's own frames
    Deliver deliver_;
    std::shared_ptr<FrameCache> cache_;
    FrameCache::FilmId film_;

    mutable std::mutex mutex_;
    std::condition_variable wake_;
    std::deque<std::pair<int, PicturePtr>> shown_; ///< the pictures made last, newest first
    int wanted_ = -1;                              ///< the wish not yet served, −1 when none
    int current_ = 0;                              ///< the last wish
    int direction_ = 1;
    bool stop_ = false;

    std::thread thread_;
};

} // namespace kestrel::film
