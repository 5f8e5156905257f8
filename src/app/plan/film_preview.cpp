#include "app/plan/film_preview.h"

#include "desk/job.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace kestrel::app {

struct FilmPreview::Painting {
    explicit Painting(std::shared_ptr<const report::ReviewFilm> f) : film(std::move(f)) {}

    /// On the painting thread; opens the film the first time.
    QImage paint(const report::TimelineFrame& at) {
        if (!painter) {
            painter.emplace(*film);
        }
        return painter->paint(at);
    }

    std::shared_ptr<const report::ReviewFilm> film;
    std::optional<report::ReviewPainter> painter;
};

FilmPreview::FilmPreview(QWidget* parent) : QWidget(parent) {
    setObjectName("filmPreview");
    setAccessibleName(tr("Preview of the review film"));
    setMinimumHeight(180);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    timer_.setInterval(1000 / report::reviewRate);
    connect(&timer_, &QTimer::timeout, this, [this] {
        constexpr double msPerSecond = 1000.0;
        const auto number =
            playedFrom_ + static_cast<std::size_t>(static_cast<double>(clock_.elapsed()) /
                                                   msPerSecond * report::reviewRate);
        if (number >= timeline_.size()) {
            stop();
            return;
        }
        if (static_cast<int>(timeline_[number].step) != step_) {
            step_ = static_cast<int>(timeline_[number].step);
            emit stepReached(step_);
        }
        want(number);
    });
}

QSize FilmPreview::sizeHint() const {
    return {560, 330};
}

void FilmPreview::setFilm(std::shared_ptr<const report::ReviewFilm> film) {
    stop();
    timeline_.clear();
    painting_.reset();
    shown_ = 0;
    if (film && !film->script.empty()) {
        timeline_ = report::timelineOf(film->script, film->time, report::reviewRate);
        painting_ = std::make_shared<Painting>(std::move(film));
    } else {
        image_ = {};
        update();
    }
}

model::Seconds FilmPreview::length() const {
    return model::Seconds(static_cast<double>(timeline_.size()) / report::reviewRate);
}

void FilmPreview::showStep(std::size_t step) {
    const auto first = std::find_if(timeline_.begin(), timeline_.end(),
                                    [&](const auto& frame) { return frame.step == step; });
    if (first != timeline_.end()) {
        want(static_cast<std::size_t>(first - timeline_.begin()));
    }
}

void FilmPreview::play() {
    if (timeline_.empty()) {
        return;
    }
    playedFrom_ = shown_ + 1 >= timeline_.size() ? 0 : shown_;
    step_ = -1;
    clock_.start();
    timer_.start();
}

void FilmPreview::stop() {
    if (timer_.isActive()) {
        timer_.stop();
        emit stopped();
    }
}

void FilmPreview::want(std::size_t number) {
    wanted_ = number;
    if (painted_) {
        paintNext();
    }
}

void FilmPreview::paintNext() {
    if (!wanted_ || !painting_) {
        return;
    }
    const std::size_t number = *wanted_;
    wanted_.reset();
    painted_ = false;
    const auto done = [this] {
        painted_ = true;
        paintNext();
    };
    struct Painted {
        QImage image;
        QTransform map;
    };
    desk::runJob(
        this,
        [painting = painting_, at = timeline_[number]](const desk::TellShare&) {
            Painted painted;
            painted.image = painting->paint(at);
            painted.map = painting->painter->pictureToPaint();
            return painted;
        },
        [this, number, painting = painting_, done](const Painted& painted) {
            if (painting == painting_) {
                image_ = painted.image;
                pictureToPaint_ = painted.map;
                shown_ = number;
                update();
            }
            done();
        },
        [this, done](const std::exception_ptr&) {
            image_ = {}; // the film cannot be opened; the panel says so when it is written
            update();
            done();
        });
}

QRectF FilmPreview::imageArea() const {
    const QSizeF size = QSizeF(image_.size()).scaled(QSizeF(this->size()), Qt::KeepAspectRatio);
    return {QPointF((width() - size.width()) / 2, (height() - size.height()) / 2), size};
}

void FilmPreview::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.fillRect(rect(), QColor(0x1B, 0x1E, 0x22));
    if (!image_.isNull()) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(imageArea(), image_);
    }
}

void FilmPreview::mousePressEvent(QMouseEvent* event) {
    if (image_.isNull()) {
        return;
    }
    const QRectF area = imageArea();
    const QPointF onImage = (event->position() - area.topLeft()) * image_.width() / area.width();
    emit spotClicked(pictureToPaint_.inverted().map(onImage));
}

} // namespace kestrel::app
