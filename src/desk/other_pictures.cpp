#include "desk/other_pictures.h"

#include "report/picture_image.h"

#include <algorithm>
#include <cstdlib>

namespace kestrel::desk {

OtherPictures::OtherPictures(const film::FilmIndex& index, std::shared_ptr<film::FrameCache> cache)
    : size_(index.width, index.height) {
    server_ = std::make_unique<film::FrameServer>(
        index,
        // Called on the server's own thread, which ends before this object does.
        [this](int frame, const film::PicturePtr&, const std::exception_ptr& trouble) {
            QMetaObject::invokeMethod(
                this,
                [this, frame, trouble] {
                    if (trouble) {
                        emit failed(trouble);
                    }
                    emit ready(frame);
                },
                Qt::QueuedConnection);
        },
        std::move(cache));
}

OtherPictures::OtherPictures(std::shared_ptr<const prepare::PoseModel> model)
    : size_(model->film.width, model->film.height), model_(std::move(model)) {}

OtherPictures::~OtherPictures() {
    job_.cancel();
    server_.reset();
}

void OtherPictures::want(int frame) {
    if (server_) {
        server_->want(frame);
        return;
    }
    wanted_ = frame;
    if (!busy_) {
        drawNext();
    }
}

QImage OtherPictures::picture(int frame) const {
    if (server_) {
        return report::imageOf(server_->cached(frame));
    }
    const auto found = drawn_.find(frame);
    return found == drawn_.end() ? QImage() : found->second;
}

QImage OtherPictures::nearest(int frame) const {
    if (server_) {
        return report::imageOf(server_->nearestCached(frame).second);
    }
    const auto best =
        std::min_element(drawn_.begin(), drawn_.end(), [&](const auto& a, const auto& b) {
            return std::abs(a.first - frame) < std::abs(b.first - frame);
        });
    return best == drawn_.end() ? QImage() : best->second;
}

void OtherPictures::drawNext() {
    const int last = model_->judged.circumstances.time.frameCount() - 1;
    constexpr int ahead = 60;
    int next = wanted_;
    while (next <= std::min(last, wanted_ + ahead) && drawn_.contains(next)) {
        ++next;
    }
    busy_ = next <= std::min(last, wanted_ + ahead);
    if (!busy_) {
        return;
    }
    struct Drawn {
        std::shared_ptr<const prepare::PoseModelPictures> by;
        QImage image;
    };
    job_ = runJob(
        this,
        [model = model_, by = drawing_, next](const TellShare&) {
            Drawn drawn{by, {}};
            if (!drawn.by) {
                drawn.by = std::make_shared<const prepare::PoseModelPictures>(*model);
            }
            drawn.image =
                report::imageOf(std::make_shared<const film::Picture>(drawn.by->frame(next)));
            return drawn;
        },
        [this, next](const Drawn& drawn) {
            drawing_ = drawn.by;
            keep(next, drawn.image);
            drawNext();
            emit ready(next);
        },
        [this](const std::exception_ptr& error) {
            busy_ = false;
            emit failed(error);
        });
}

void OtherPictures::keep(int frame, QImage image) {
    drawn_[frame] = std::move(image);
    constexpr std::size_t most = 160; // some 200 megabytes
    while (drawn_.size() > most) {
        const bool lowIsFarther =
            wanted_ - drawn_.begin()->first > drawn_.rbegin()->first - wanted_;
        drawn_.erase(lowIsFarther ? drawn_.begin() : std::prev(drawn_.end()));
    }
}

} // namespace kestrel::desk
