#include "film/frame_cache.h"

#include <algorithm>
#include <cstdlib>
#include <iterator>

namespace kestrel::film {

FrameCache::FilmId FrameCache::join() {
    const std::lock_guard lock(mutex_);
    films_.emplace(next_, Film{});
    return next_++;
}

void FrameCache::leave(FilmId film) {
    const std::lock_guard lock(mutex_);
    for (const auto& [frame, picture] : films_.at(film).pictures) {
        bytes_ -= picture->bytes();
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

void FrameCache::keep(FilmId film, int frame, PicturePtr picture) {
    const std::lock_guard lock(mutex_);
    const std::size_t size = picture->bytes();
    if (films_.at(film).pictures.emplace(frame, std::move(picture)).second) {
        bytes_ += size;
        evict(film);
    }
}

PicturePtr FrameCache::find(FilmId film, int frame) const {
    const std::lock_guard lock(mutex_);
    const auto& pictures = films_.at(film).pictures;
    const auto found = pictures.find(frame);
    return found == pictures.end() ? nullptr : found->second;
}

bool FrameCache::contains(FilmId film, int frame) const {
    return find(film, frame) != nullptr;
}

std::pair<int, PicturePtr> FrameCache::nearest(FilmId film, int frame) const {
    const std::lock_guard lock(mutex_);
    const auto& pictures = films_.at(film).pictures;
    if (pictures.empty()) {
        return {-1, nullptr};
    }
    const auto after = pictures.lower_bound(frame);
    if (after == pictures.begin()) {
        return *after;
    }
    const auto before = std::prev(after);
    const bool earlier = after == pictures.end() || frame - before->first <= after->first - frame;
    return earlier ? *before : *after;
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
            const auto found = film.pictures.find(frame);
            alwaysBytes += found == film.pictures.end() ? 0 : found->second->bytes();
        }
    }
    const bool roomForAlways = alwaysBytes <= bound_ / 2;
    while (bytes_ > bound_) {
        // The farthest lies at one end of a film's pictures, but for those that are kept.
        Film* from = nullptr;
        std::map<int, PicturePtr>::iterator farthest;
        int distance = -1;
        for (auto& [id, film] : films_) {
            for (auto it = film.pictures.begin(); it != film.pictures.end(); ++it) {
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
        bytes_ -= farthest->second->bytes();
        from->pictures.erase(farthest);
    }
}

} // namespace kestrel::film
