#include "film/frame_cache.h"

extern "C" {
#include <libavutil/frame.h>
}

#include <algorithm>
#include <cstdlib>

namespace kestrel::film {
namespace {

std::size_t bytesOf(const AVFrame& frame) {
    std::size_t bytes = 0;
    for (const AVBufferRef* buffer : frame.buf) {
        bytes += buffer == nullptr ? 0 : buffer->size;
    }
    return bytes;
}

} // namespace

DecodedPtr shared(const AVFrame& frame) {
    return {av_frame_clone(&frame), FreeFrame()};
}

FrameCache::FilmId FrameCache::join() {
    const std::lock_guard lock(mutex_);
    films_.emplace(next_, Film{});
    return next_++;
}

void FrameCache::leave(FilmId film) {
    const std::lock_guard lock(mutex_);
    for (const auto& [frame, decoded] : films_.at(film).frames) {
        bytes_ -= bytesOf(*decoded);
    }
    films_.erase(film);
}

void FrameCache::lookAt(FilmId film, int frame) {
    const std::lock_guard lock(mutex_);
    films_.at(film).current = frame;
}

void FrameCache::keepAlways(FilmId film, std::set<int> frames) {
    const std::lock_guard lock(mutex_);
    films_.at(film).always = std::move(frames);
}

void FrameCache::keep(FilmId film, int frame, DecodedPtr decoded) {
    const std::lock_guard lock(mutex_);
    const std::size_t size = bytesOf(*decoded);
    if (films_.at(film).frames.emplace(frame, std::move(decoded)).second) {
        bytes_ += size;
        evict(film);
    }
}

DecodedPtr FrameCache::find(FilmId film, int frame) const {
    const std::lock_guard lock(mutex_);
    const auto& frames = films_.at(film).frames;
    const auto found = frames.find(frame);
    return found == frames.end() ? nullptr : found->second;
}

bool FrameCache::contains(FilmId film, int frame) const {
    return find(film, frame) != nullptr;
}

std::size_t FrameCache::bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}

std::size_t FrameCache::share() const {
    const std::lock_guard lock(mutex_);
    return bound_ / std::max<std::size_t>(films_.size(), 1);
}

void FrameCache::evict(FilmId newest) {
    std::size_t alwaysBytes = 0;
    for (const auto& [id, film] : films_) {
        for (const int frame : film.always) {
            const auto found = film.frames.find(frame);
            alwaysBytes += found == film.frames.end() ? 0 : bytesOf(*found->second);
        }
    }
    const bool roomForAlways = alwaysBytes <= bound_ / 2;
    while (bytes_ > bound_) {
        Film* from = nullptr;
        std::map<int, DecodedPtr>::iterator farthest;
        int distance = -1;
        for (auto& [id, film] : films_) {
            for (auto it = film.frames.begin(); it != film.frames.end(); ++it) {
                const bool looked = id == newest && it->first == film.current;
                const bool kept = looked || (roomForAlways && film.always.contains(it->first));
                const int d = std::abs(it->first - film.current);
                if (!kept && d > distance) {
                    from = &film;
                    farthest = it;
                    distance = d;
                }
            }
        }
        if (from == nullptr) {
            return;
        }
        bytes_ -= bytesOf(*farthest->second);
        from->frames.erase(farthest);
    }
}

} // namespace kestrel::film
