#include "film/frame_server.h"

#include "film/fields.h"
#include "film/frame_reader.h"

extern "C" {
#include <libavutil/frame.h>
}

#include <algorithm>
#include <cstdlib>
#include <exception>
#include <optional>

namespace kestrel::film {
namespace {

/// How many frames are decoded ahead when going on: enough to hide a key-frame seek.
constexpr int readAheadFrames = 24;

/// Frames kept on the other side of the one looked at: a coach steps back and forth.
constexpr int besideFrames = 12;

} // namespace

/// What only the server's thread uses.
struct FrameServer::Work {
    std::optional<FrameReader> reader;
    PictureMaker maker;
    int damagedAhead = -1; ///< a frame that cannot be read ahead is not tried again and again

    explicit Work(const FilmIndex& index) : maker(index) {}
};

FrameServer::FrameServer(const FilmIndex& index, Deliver deliver, std::shared_ptr<FrameCache> cache)
    : index_(index),
      wholeFrames_(wholeFrameOf(index, index.frameCount() - 1) + 1),
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
    cache_->lookAt(film_, wholeFrameOf(index_, frame));
    wanted_ = frame;
    wake_.notify_all();
}

PicturePtr FrameServer::cached(int frame) const {
    const std::lock_guard lock(mutex_);
    const auto found = std::find_if(shown_.begin(), shown_.end(),
                                    [&](const auto& shown) { return shown.first == frame; });
    return found == shown_.end() ? nullptr : found->second;
}

std::pair<int, PicturePtr> FrameServer::nearestCached(int frame) const {
    const std::lock_guard lock(mutex_);
    const auto nearest =
        std::min_element(shown_.begin(), shown_.end(), [&](const auto& a, const auto& b) {
            return std::abs(a.first - frame) < std::abs(b.first - frame);
        });
    return nearest == shown_.end() ? std::pair<int, PicturePtr>{-1, nullptr} : *nearest;
}

bool FrameServer::decoded(int frame) const {
    return cache_->contains(film_, wholeFrameOf(index_, frame));
}

void FrameServer::keepAlways(const std::set<int>& frames) {
    std::set<int> whole;
    for (const int frame : frames) {
        whole.insert(wholeFrameOf(index_, frame));
    }
    cache_->keepAlways(film_, std::move(whole));
}

int FrameServer::wish() const {
    const std::lock_guard lock(mutex_);
    return wanted_;
}

int FrameServer::reach() const {
    const std::size_t pixels = static_cast<std::size_t>(index_.codedWidth) * index_.codedHeight;
    // 4:2:0 with eight bits takes one and a half bytes a pixel, other kinds up to twice that. Half
    // of the film's share, because as much lies on the other side before it is evicted.
    const std::size_t frameBytes = std::max<std::size_t>(pixels * 3 / 2, 1);
    return static_cast<int>(cache_->share() / 2 / frameBytes) - 1;
}

bool FrameServer::worthKeeping(int whole) const {
    const std::lock_guard lock(mutex_);
    const int from = wholeFrameOf(index_, current_);
    const int beside = std::min(besideFrames, reach());
    const int back = direction_ < 0 ? reach() : beside;
    const int on = direction_ > 0 ? std::min(readAheadFrames, reach()) : beside;
    return whole >= from - back && whole <= from + on;
}

int FrameServer::nextToReadAhead() const {
    const int from = wholeFrameOf(index_, current_);
    const int room = reach();
    const auto firstMissing = [&](int direction, int most) {
        for (int step = 1; step <= std::min(most, room); ++step) {
            const int whole = from + direction * step;
            if (whole < 0 || whole >= wholeFrames_) {
                break;
            }
            if (!cache_->contains(film_, whole)) {
                return whole;
            }
        }
        return -1;
    };
    if (direction_ > 0) {
        return firstMissing(1, readAheadFrames);
    }
    // Going back, a whole stretch is decoded onwards at once, as soon as less than half of it is
    // left: the last frame that is missing is asked for, and those before it come on the way.
    return firstMissing(-1, std::max(1, room / 2));
}

PicturePtr FrameServer::picture(Work& work, int frame, const AVFrame& decoded) {
    auto made = std::make_shared<const Picture>(work.maker.make(decoded, linesOf(index_, frame)));
    const std::lock_guard lock(mutex_);
    shown_.emplace_front(frame, made);
    std::size_t bytes = 0;
    std::size_t count = 0;
    for (const auto& [number, shown] : shown_) {
        bytes += shown->bytes();
        if (bytes > cache_->share() / (pictureShare - 1) && count > 0) {
            break;
        }
        ++count;
    }
    shown_.resize(count);
    return made;
}

void FrameServer::serve(Work& work, int frame) {
    PicturePtr made = cached(frame);
    std::exception_ptr problem;
    if (!made) {
        try {
            const int whole = wholeFrameOf(index_, frame);
            DecodedPtr decoded = cache_->find(film_, whole);
            if (!decoded) {
                work.reader->readThrough(whole, [&](int passed, const AVFrame& on) {
                    if (passed == whole || worthKeeping(passed)) {
                        DecodedPtr kept = shared(on);
                        if (passed == whole) {
                            decoded = kept;
                        }
                        cache_->keep(film_, passed, std::move(kept));
                    }
                    return true;
                });
            }
            made = picture(work, frame, *decoded);
        } catch (const std::exception&) {
            problem = std::current_exception();
        }
    }
    deliver_(frame, made, problem);
}

void FrameServer::readAhead(Work& work, int whole) {
    try {
        work.reader->readThrough(whole, [&](int passed, const AVFrame& on) {
            if (worthKeeping(passed) && !cache_->contains(film_, passed)) {
                cache_->keep(film_, passed, shared(on));
            }
            const int wished = wish();
            if (wished < 0) {
                return true;
            }
            // A wish comes first. What is decoded already is served on the way; for anything else
            // this is broken off.
            if (!cache_->contains(film_, wholeFrameOf(index_, wished))) {
                return false;
            }
            {
                const std::lock_guard lock(mutex_);
                wanted_ = -1;
            }
            serve(work, wished);
            return true;
        });
    } catch (const std::exception&) {
        work.damagedAhead = whole; // said when it is looked at
    }
}

void FrameServer::run() {
    Work work(index_);
    while (true) {
        int asked = -1;
        int ahead = -1;
        {
            std::unique_lock lock(mutex_);
            wake_.wait(lock, [&] {
                ahead = nextToReadAhead();
                ahead = ahead == work.damagedAhead ? -1 : ahead;
                return stop_ || wanted_ >= 0 || ahead >= 0;
            });
            if (stop_) {
                return;
            }
            asked = std::exchange(wanted_, -1);
        }
        if (!work.reader) {
            try {
                work.reader.emplace(asWholeFrames(index_));
            } catch (const std::exception&) {
                if (asked >= 0) {
                    deliver_(asked, nullptr, std::current_exception());
                }
                work.damagedAhead = ahead;
                continue;
            }
        }
        if (asked >= 0) {
            serve(work, asked);
        } else {
            readAhead(work, ahead);
        }
    }
}

} // namespace kestrel::film
