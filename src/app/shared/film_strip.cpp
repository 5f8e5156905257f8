#include "app/shared/film_strip.h"

#include "report/palette.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace kestrel::app {

FilmStrip::FilmStrip(Session& session, Thumbnails& thumbnails, QWidget* parent)
    : QWidget(parent), session_(session), thumbnails_(thumbnails) {
    setObjectName("filmStrip");
    setAccessibleName(tr("Film strip"));
    setToolTip(tr("Drag along the strip to move through the film"));
    setFixedHeight(sizeHint().height());
    const auto redraw = [this] { update(); };
    connect(&session_, &Session::clipOpened, this, redraw);
    connect(&session_, &Session::clipClosed, this, redraw);
    connect(&session_, &Session::frameChanged, this, redraw);
    connect(&session_, &Session::marksChanged, this, redraw);
    connect(&thumbnails_, &Thumbnails::ready, this, redraw);
}

double FilmStrip::placeOf(int frame) const {
    const int last = std::max(1, session_.index().frameCount() - 1);
    return static_cast<double>(frame) / last * (width() - 1);
}

int FilmStrip::frameAt(double x) const {
    const int last = session_.index().frameCount() - 1;
    const double part = std::clamp(x / std::max(1, width() - 1), 0.0, 1.0);
    return static_cast<int>(std::lround(part * last));
}

void FilmStrip::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.fillRect(rect(), report::nearBlack);
    if (!session_.hasClip()) {
        return;
    }
    const film::FilmIndex& index = session_.index();
    constexpr int markBand = 10; // below the pictures: position marks
    const int pictureHeight = height() - markBand;
    const double pictureWidth =
        std::max(12.0, pictureHeight * static_cast<double>(index.width) / index.height);
    for (double x = 0.0; x < width(); x += pictureWidth) {
        const QImage small = thumbnails_.at(frameAt(x + 0.5 * pictureWidth));
        if (!small.isNull()) {
            painter.drawImage(QRectF(x, 0, pictureWidth, pictureHeight), small);
        }
    }
    painter.setRenderHint(QPainter::Antialiasing);
    for (const auto& [id, frame] : session_.rep().positions) {
        const double x = placeOf(frame);
        const technique::Position* position = technique::findPosition(session_.pack(), id);
        const bool event = position != nullptr && position->event;
        painter.setPen(QPen(event ? QColor(0xA9, 0xB6, 0xC2) : QColor(0xF0, 0x8C, 0x5A), 2.0));
        painter.drawLine(QPointF(x, pictureHeight + (event ? 4 : 1)), QPointF(x, height()));
    }
    const double now = placeOf(session_.frame());
    painter.setPen(QPen(report::nearBlack, 4.0));
    painter.drawLine(QPointF(now, 0), QPointF(now, height()));
    painter.setPen(QPen(report::cream, 2.0));
    painter.drawLine(QPointF(now, 0), QPointF(now, height()));
}

void FilmStrip::mousePressEvent(QMouseEvent* event) {
    if (session_.hasClip() && event->button() == Qt::LeftButton) {
        session_.goTo(frameAt(event->position().x()));
    }
}

void FilmStrip::mouseMoveEvent(QMouseEvent* event) {
    if (session_.hasClip() && (event->buttons() & Qt::LeftButton) != 0) {
        session_.goTo(frameAt(event->position().x()));
    }
}

} // namespace kestrel::app
