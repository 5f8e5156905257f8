#include "app/shared/stage.h"

#include "report/construct_painter.h"
#include "report/palette.h"
#include "report/position_picture.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace kestrel::app {
namespace {

constexpr double mostZoom = 24.0;
constexpr double grabRadius = 9.0; ///< widget pixels round a landmark that take hold of it
constexpr double dragThreshold = 3.0;

/// Landmarks are coloured by role: throwing side, other side, midline, ball.
QColor landmarkColour(model::Landmark landmark, model::Hand hand) {
    if (landmark == model::Landmark::ball) {
        return report::roleColour(model::Role::reference);
    }
    const auto side = model::sideOf(landmark);
    if (!side) {
        return report::roleColour(model::Role::trunk);
    }
    const model::Side dominant =
        hand == model::Hand::right ? model::Side::right : model::Side::left;
    return report::roleColour(*side == dominant ? model::Role::throwingSide
                                                : model::Role::otherSide);
}

} // namespace

Stage::Stage(desk::OpenClip& open, QWidget* parent) : QWidget(parent), open_(open) {
    setObjectName("stage");
    setAccessibleName(tr("Frame"));
    setMinimumSize(320, 200);
    setMouseTracking(true);
    setCursor(Qt::CrossCursor);
    connect(&open_, &desk::OpenClip::opened, this, [this] {
        shown_ = {};
        readings_.clear();
        guides_ = {};
        selected_.reset();
        fit();
    });
    connect(&open_, &desk::OpenClip::closed, this, [this] {
        shown_ = {};
        update();
    });
    connect(&open_, &desk::OpenClip::frameChanged, this, [this] { update(); });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { update(); });
    connect(&open_, &desk::OpenClip::pictureReady, this, [this](int frame) {
        if (open_.hasClip() && frame == open_.frame()) {
            update();
        }
    });
}

void Stage::setPlacing(bool placing) {
    placing_ = placing;
}

void Stage::setSelected(std::optional<model::Landmark> landmark) {
    selected_ = landmark;
    update();
}

void Stage::setReadings(std::vector<model::Reading> readings) {
    readings_ = std::move(readings);
    update();
}

void Stage::setGuides(Guides guides) {
    guides_ = std::move(guides);
    update();
}

void Stage::setReportingClicks(bool reporting) {
    reportingClicks_ = reporting;
}

void Stage::fit() {
    zoom_ = 1.0;
    if (open_.hasClip()) {
        centre_ = QPointF(open_.index().width - 1, open_.index().height - 1) / 2.0;
    }
    update();
}

QTransform Stage::pictureToWidget() const {
    if (!open_.hasClip()) {
        return {};
    }
    const double fitted = std::min(width() / static_cast<double>(open_.index().width),
                                   height() / static_cast<double>(open_.index().height));
    const double scale = fitted * zoom_;
    QTransform map;
    map.translate(width() / 2.0, height() / 2.0);
    map.scale(scale, scale);
    map.translate(-centre_.x(), -centre_.y());
    return map;
}

QPointF Stage::toPicture(QPointF widget) const {
    return pictureToWidget().inverted().map(widget);
}

void Stage::zoomBy(double factor, QPointF around) {
    if (!open_.hasClip()) {
        return;
    }
    const QPointF before = toPicture(around);
    zoom_ = std::clamp(zoom_ * factor, 1.0, mostZoom);
    if (zoom_ == 1.0) {
        fit();
        return;
    }
    centre_ += before - toPicture(around); // the spot under the pointer stays there
    update();
}

std::optional<model::Landmark> Stage::landmarkAt(QPointF widget) const {
    if (!open_.hasClip()) {
        return std::nullopt;
    }
    const auto placed = open_.rep().landmarks.find(open_.frame());
    if (placed == open_.rep().landmarks.end()) {
        return std::nullopt;
    }
    const QTransform map = pictureToWidget();
    std::optional<model::Landmark> nearest;
    double best = grabRadius;
    for (const auto& [landmark, point] : placed->second) {
        const QPointF at = map.map(QPointF(point.px.x, point.px.y));
        const double distance = std::hypot(at.x() - widget.x(), at.y() - widget.y());
        if (!point.hidden && distance < best) {
            best = distance;
            nearest = landmark;
        }
    }
    return nearest;
}

void Stage::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.fillRect(rect(), report::nearBlack);
    if (!open_.hasClip()) {
        painter.setPen(report::cream);
        painter.drawText(rect(), Qt::AlignCenter,
                         tr("No clip is open. Choose one on the Squad station,\n"
                            "or bring a film in on the Film station."));
        return;
    }
    ++paints_;
    // The exact picture when it is there; until pictureReady() brings it, the nearest.
    QImage picture = open_.picture(open_.frame());
    paintedFrame_ = picture.isNull() ? -1 : open_.frame();
    if (picture.isNull()) {
        picture = open_.nearestPicture(open_.frame());
    }
    if (!picture.isNull()) {
        shown_ = std::move(picture);
    }
    const QTransform map = pictureToWidget();
    if (!shown_.isNull()) {
        painter.save();
        painter.setRenderHint(QPainter::SmoothPixmapTransform, map.m11() < 3.0);
        painter.setTransform(map);
        // Pixel (0, 0) is centred on the origin.
        painter.drawImage(QPointF(-0.5, -0.5), shown_);
        painter.restore();
    }
    paintGrid(painter);
    report::paintConstructs(painter, guides_.marks, map, {});
    report::paintConstructs(painter, report::constructsOn(open_.frame(), readings_), map, {});
    if (placing_) {
        paintLandmarks(painter);
    }
}

void Stage::paintGrid(QPainter& painter) const {
    const QTransform map = pictureToWidget();
    painter.save();
    painter.setClipRect(map.mapRect(QRectF(-0.5, -0.5, open_.index().width, open_.index().height)));
    painter.setRenderHint(QPainter::Antialiasing);
    for (const technique::SeenLine& line : guides_.grid) {
        QPolygonF seen;
        for (const model::Point2 p : line) {
            seen << map.map(QPointF(p.x, p.y));
        }
        // A dark edge under a light line reads on grass and on clay.
        QColor dark = report::nearBlack;
        dark.setAlpha(70);
        painter.setPen(QPen(dark, 2.6));
        painter.drawPolyline(seen);
        QColor light = report::cream;
        light.setAlpha(150);
        painter.setPen(QPen(light, 1.0));
        painter.drawPolyline(seen);
    }
    paintHorizon(painter, map);
    painter.restore();
}

void Stage::paintHorizon(QPainter& painter, const QTransform& map) const {
    if (guides_.horizon.empty()) {
        return;
    }
    QPolygonF seen;
    for (const model::Point2 p : guides_.horizon) {
        seen << map.map(QPointF(p.x, p.y));
    }
    painter.setPen(QPen(report::nearBlack, 2.6));
    painter.drawPolyline(seen);
    painter.setPen(QPen(report::cream, 1.4, Qt::DashLine));
    painter.drawPolyline(seen);
    // Named where it comes in at the left of the picture.
    const double left = painter.clipBoundingRect().left();
    const auto first = std::find_if(seen.begin(), seen.end(), [&](const QPointF& p) {
        return p.x() > left && p.x() < left + width();
    });
    if (first != seen.end()) {
        constexpr QPointF beside(6.0, -5.0);
        const QPointF at = QPointF(left, first->y()) + beside;
        painter.setPen(report::nearBlack);
        painter.drawText(at + QPointF(1.0, 1.0), tr("horizon"));
        painter.setPen(report::cream);
        painter.drawText(at, tr("horizon"));
    }
}

void Stage::paintLandmarks(QPainter& painter) const {
    const auto placed = open_.rep().landmarks.find(open_.frame());
    if (placed == open_.rep().landmarks.end()) {
        return;
    }
    const QTransform map = pictureToWidget();
    painter.setRenderHint(QPainter::Antialiasing);
    for (const auto& [landmark, point] : placed->second) {
        if (point.hidden) {
            continue;
        }
        const bool held = moved_ && landmark == pressedOn_;
        const QPointF at = held ? dragTo_ : map.map(QPointF(point.px.x, point.px.y));
        const QColor colour = landmarkColour(landmark, open_.player().hand);
        // An open ring leaves the pixels of the joint itself visible. What a machine set is dashed,
        // dotted where it takes it for covered; the one that is asked for is as wide as it may be
        // off.
        constexpr double smallest = 4.0;
        const bool machine = point.source != model::Source::placed;
        const double mayBeOff = model::coverage95 * point.sdPx * map.m11();
        const double radius =
            machine && landmark == selected_ ? std::max(smallest, mayBeOff) : smallest;
        const Qt::PenStyle line = !machine         ? Qt::SolidLine
                                  : point.occluded ? Qt::DotLine
                                                   : Qt::DashLine;
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(report::nearBlack, machine ? 2.2 : 3.4));
        painter.drawEllipse(at, radius, radius);
        painter.setPen(QPen(colour, machine ? 1.2 : 1.6, line));
        painter.drawEllipse(at, radius, radius);
        if (landmark == selected_) {
            constexpr double reach = 11.0;
            painter.setPen(QPen(colour, 1.6));
            for (const QPointF& way :
                 {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)}) {
                painter.drawLine(at + way * (radius + 2.0), at + way * reach);
            }
        }
    }
}

void Stage::wheelEvent(QWheelEvent* event) {
    constexpr double perNotch = 1.25;
    constexpr double notch = 120.0;
    zoomBy(std::pow(perNotch, event->angleDelta().y() / notch), event->position());
    event->accept();
}

void Stage::mousePressEvent(QMouseEvent* event) {
    if (!open_.hasClip()) {
        return;
    }
    if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) {
        panFrom_ = event->position();
        setCursor(Qt::ClosedHandCursor);
    } else if (event->button() == Qt::LeftButton && placing_) {
        pressedAt_ = event->position();
        pressedOn_ = landmarkAt(pressedAt_);
        moved_ = false;
    }
}

void Stage::mouseMoveEvent(QMouseEvent* event) {
    if (!open_.hasClip()) {
        return;
    }
    if (panFrom_) {
        const double scale = pictureToWidget().m11();
        centre_ -= (event->position() - *panFrom_) / scale;
        panFrom_ = event->position();
        update();
        return;
    }
    if ((event->buttons() & Qt::LeftButton) != 0 && placing_ && pressedOn_) {
        const QPointF way = event->position() - pressedAt_;
        moved_ = moved_ || std::hypot(way.x(), way.y()) > dragThreshold;
        update(); // the landmark follows the pointer; it is stored where it is let go
        dragTo_ = event->position();
    }
    emit pointed(toPicture(event->position()));
}

void Stage::mouseReleaseEvent(QMouseEvent* event) {
    if (panFrom_) {
        panFrom_.reset();
        setCursor(Qt::CrossCursor);
        return;
    }
    if (event->button() == Qt::LeftButton && reportingClicks_ && open_.hasClip()) {
        emit clicked(toPicture(event->position()));
        return;
    }
    if (event->button() != Qt::LeftButton || !placing_ || !open_.hasClip()) {
        return;
    }
    if (moved_ && pressedOn_) {
        const model::Landmark landmark = *pressedOn_;
        pressedOn_.reset();
        moved_ = false;
        emit dragged(landmark, toPicture(event->position()));
        return;
    }
    if ((event->modifiers() & Qt::ControlModifier) != 0 && pressedOn_) {
        emit picked(*pressedOn_);
    } else {
        emit clicked(toPicture(event->position()));
    }
}

void Stage::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (zoom_ == 1.0) {
        fit();
    }
}

} // namespace kestrel::app
