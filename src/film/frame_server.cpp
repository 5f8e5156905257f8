#include "film/frame_server.h"

#include "film/frame_reader.h"

#include <algorithm>
#include <cstdlib>
#include <exception>
#include <iterator>

namespace kestrel::film {
namespace {

/// How many frames are decoded ahead of the one looked at: enough to hide a key-frame seek.
constexpr int readAheadFrames = 24;

} // namespace

FrameServer::FrameServer(const FilmIndex& index, Deliver deliver, std::size_t cacheBytes)
    : index_(index),
      deliver_(std::move(deliver)),
      cacheBytes_(cacheBytes),
      thread_([this] { run(); }) {}

FrameServer::~FrameServer() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
    }
    wake_.notify_all();
    thread_.join();
}

void FrameServer::want(int frame) {
    const std::lock_guard lock(mutex_);
    frame = std::clamp(frame, 0, index_.frameCount() - 1);
    if (frame != current_) {
        direction_ = frame > current_ ? 1 : -1;
    }
    current_ = frame;
    wanted_ = frame;
    wake_.notify_all();
}

PicturePtr FrameServer::cached(int frame) const {
    const std::lock_guard lock(mutex_);
    const auto found = cache_.find(frame);
    return found == cache_.end() ? nullptr : found->second;
}

std::size_t FrameServer::cachedBytes() const {
    const std::lock_guard lock(mutex_);
    return cachedBytes_;
}

std::pair<int, PicturePtr> FrameServer::nearestCached(int frame) const {
    const std::lock_guard lock(mutex_);
    if (cache_.empty()) {
        return {-1, nullptr};
    }
    const auto after = cache_.lower_bound(frame);
    if (after == cache_.begin()) {
        return *after;
    }
    const auto before = std::prev(after);
    if (after == cache_.end() || frame - before->first <= after->first - frame) {
        return *before;
    }
    return *after;
}

void FrameServer::keepAlways(std::set<int> frames) {
    const std::lock_guard lock(mutex_);
    always_ = std::move(frames);
}

void FrameServer::keep(int frame, PicturePtr picture) {
    const std::lock_guard lock(mutex_);
    if (cache_.contains(frame)) {
        return;
    }
    cachedBytes_ += picture->bytes();
    cache_.emplace(frame, std::move(picture));
    evict();
}

void FrameServer::evict() {
    std::size_t alwaysBytes = 0;
    for (const int frame : always_) {
        const auto found = cache_.find(frame);
        alwaysBytes += found == cache_.end() ? 0 : found->second->bytes();
    }
    const bool roomForAlways = alwaysBytes <= cacheBytes_ / 2;
    while (cachedBytes_ > cacheBytes_ && cache_.size() > 1) {
        auto farthest = cache_.end();
        for (auto it = cache_.begin(); it != cache_.end(); ++it) {
            const bool kept =
                it->first == current_ || (roomForAlways && always_.contains(it->first));
            if (!kept && (farthest == cache_.end() ||
                          std::abs(it->first - current_) > std::abs(farthest->first - current_))) {
                farthest = it;
            }
        }
        if (farthest == cache_.end()) {
            return;
        }
        cachedBytes_ -= farthest->second->bytes();
        cache_.erase(farthest);
    }
}

int FrameServer::nextToReadAhead() const {
    const std::size_t frameBytes = static_cast<std::size_t>(index_.width) * index_.height * 4;
    // A third of the bound: with half of it kept for key positions nothing read ahead is evicted
    // again before it is looked at.
    const int room = static_cast<int>(cacheBytes_ / std::max<std::size_t>(frameBytes, 1)) / 3;
    const auto firstMissing = [&](int direction) {
        for (int step = 1; step <= std::min(readAheadFrames, room); ++step) {
            const int frame = current_ + direction * step;
            if (frame < 0 || frame >= index_.frameCount()) {
                break;
            }
            if (!cache_.contains(frame)) {
                return frame;
            }
        }
        return -1;
    };
    // Going back, whole groups are decoded forwards once instead of once a frame.
    if (direction_ < 0) {
        const int missing = firstMissing(-1);
        if (missing < 0) {
            return -1;
        }
        int start = std::max(0, std::max(current_ - std::min(readAheadFrames, room), 0));
        while (start < missing && cache_.contains(start)) {
            ++start;
        }
        return start;
    }
    return firstMissing(1);
}

void FrameServer::run() {
    std::unique_ptr<FrameReader> reader;
    std::unique_ptr<PictureMaker> maker;
    const auto decode = [&](int frame) -> PicturePtr {
        if (!reader) {
            reader = std::make_unique<FrameReader>(index_);
            maker = std::make_unique<PictureMaker>(index_.rotation, index_.pixelAspect.toDouble());
        }
        return std::make_shared<const Picture>(maker->make(reader->read(frame)));
    };
    int damagedAhead = -1; // a frame that cannot be read ahead is not tried again and again
    while (true) {
        int frame = -1;
        bool asked = false;
        PicturePtr picture;
        {
            std::unique_lock lock(mutex_);
            const auto ahead = [&] {
                const int next = nextToReadAhead();
                return next == damagedAhead ? -1 : next;
            };
            wake_.wait(lock, [&] { return stop_ || wanted_ >= 0 || ahead() >= 0; });
            if (stop_) {
                return;
            }
            asked = wanted_ >= 0;
            frame = asked ? wanted_ : ahead();
            wanted_ = -1;
            if (const auto found = cache_.find(frame); found != cache_.end()) {
                picture = found->second;
            }
        }
        std::string problem;
        if (!picture) {
            try {
                picture = decode(frame);
                keep(frame, picture);
            } catch (const std::exception& error) {
                problem = error.what();
                damagedAhead = frame;
            }
        }
        if (asked) {
            deliver_(frame, picture, problem);
        }
    }
}

} // namespace kestrel::film
