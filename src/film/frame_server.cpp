#include "film/frame_server.h"

#include "film/picture_reader.h"

#include <algorithm>
#include <exception>

namespace kestrel::film {
namespace {

/// How many frames are decoded ahead of the one looked at: enough to hide a key-frame seek.
constexpr int readAheadFrames = 24;

} // namespace

FrameServer::FrameServer(const FilmIndex& index, Deliver deliver, std::shared_ptr<FrameCache> cache)
    : index_(index),
      deliver_(std::move(deliver)),
      cache_(std::move(cache)),
      film_(cache_->join()),
      thread_([this] { run(); }) {}

FrameServer::~FrameServer() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
    }
    wake_.notify_all();
    thread_.join();
    cache_->leave(film_);
}

void FrameServer::want(int frame) {
    const std::lock_guard lock(mutex_);
    frame = std::clamp(frame, 0, index_.frameCount() - 1);
    if (frame != current_) {
        direction_ = frame > current_ ? 1 : -1;
    }
    current_ = frame;
    cache_->lookAt(film_, frame);
    wanted_ = frame;
    wake_.notify_all();
}

int FrameServer::nextToReadAhead() const {
    const std::size_t frameBytes = static_cast<std::size_t>(index_.width) * index_.height * 4;
    // A third of this film's share: with half of it kept for key positions nothing read ahead is
    // evicted again before it is looked at.
    const int room = static_cast<int>(cache_->share() / std::max<std::size_t>(frameBytes, 1)) / 3;
    const auto firstMissing = [&](int direction) {
        for (int step = 1; step <= std::min(readAheadFrames, room); ++step) {
            const int frame = current_ + direction * step;
            if (frame < 0 || frame >= index_.frameCount()) {
                break;
            }
            if (!cache_->contains(film_, frame)) {
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
        while (start < missing && cache_->contains(film_, start)) {
            ++start;
        }
        return start;
    }
    return firstMissing(1);
}

void FrameServer::run() {
    std::unique_ptr<PictureReader> reader;
    const auto decode = [&](int frame) -> PicturePtr {
        if (!reader) {
            reader = std::make_unique<PictureReader>(index_);
        }
        return std::make_shared<const Picture>(reader->read(frame));
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
            picture = cache_->find(film_, frame);
        }
        std::string problem;
        if (!picture) {
            try {
                picture = decode(frame);
                cache_->keep(film_, frame, picture);
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
