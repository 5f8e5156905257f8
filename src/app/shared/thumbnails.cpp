#include "app/shared/thumbnails.h"

#include "film/picture_reader.h"
#include "report/picture_image.h"

#include <exception>
#include <memory>

namespace kestrel::app {

Thumbnails::Thumbnails(QObject* parent) : QObject(parent), thread_([this] { run(); }) {}

Thumbnails::~Thumbnails() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
    }
    wake_.notify_all();
    thread_.join();
}

void Thumbnails::setFilm(const film::FilmIndex& index) {
    const std::lock_guard lock(mutex_);
    index_ = index;
    ++generation_;
    made_.clear();
    wanted_.clear();
}

QImage Thumbnails::at(int frame) {
    const std::lock_guard lock(mutex_);
    if (const auto found = made_.find(frame); found != made_.end()) {
        return found->second;
    }
    if (frame >= 0 && frame < index_.frameCount()) {
        wanted_.insert(frame);
        wake_.notify_all();
    }
    return {};
}

bool Thumbnails::busy() {
    const std::lock_guard lock(mutex_);
    return making_ || !wanted_.empty();
}

void Thumbnails::run() {
    constexpr int height = 90;
    std::unique_ptr<film::PictureReader> reader;
    int readerGeneration = -1;
    while (true) {
        int frame = 0;
        int generation = 0;
        film::FilmIndex index;
        {
            std::unique_lock lock(mutex_);
            making_ = false;
            wake_.wait(lock, [this] { return stop_ || !wanted_.empty(); });
            if (stop_) {
                return;
            }
            frame = *wanted_.begin(); // ascending, so that the film is decoded onwards
            wanted_.erase(wanted_.begin());
            making_ = true;
            generation = generation_;
            if (generation != readerGeneration) {
                index = index_;
            }
        }
        QImage small;
        try {
            if (generation != readerGeneration) {
                reader = std::make_unique<film::PictureReader>(index);
                readerGeneration = generation;
            }
            const auto picture = std::make_shared<const film::Picture>(reader->read(frame));
            small = report::imageOf(picture).scaledToHeight(height, Qt::SmoothTransformation);
        } catch (const std::exception&) {
            continue; // a damaged frame has no thumbnail; the stage says so when it is opened
        }
        {
            const std::lock_guard lock(mutex_);
            if (generation != generation_) {
                continue;
            }
            made_[frame] = small;
        }
        emit ready(frame); // queued to the interface thread by Qt
    }
}

} // namespace kestrel::app
