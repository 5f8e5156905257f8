#include "app/shared/clip_map.h"

#include "report/palette.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace kestrel::app {
namespace {

// Bands from top to bottom, widget pixels.
constexpr double thumbnailHeight = 40.0;
constexpr double energyTop = thumbnailHeight;
constexpr double energyHeight = 22.0;
constexpr double repsTop = energyTop + energyHeight;
constexpr double repsHeight = 18.0;
constexpr double coverageTop = repsTop + repsHeight + 2.0;
constexpr double coverageHeight = 6.0;
constexpr double marksTop = coverageTop + coverageHeight + 2.0;

constexpr double fewestFrames = 6.0; ///< in view when zoomed in to single frames
constexpr double edgeReach = 5.0;    ///< widget pixels round a rep's end that take hold of it

const QColor quietBand(0x2A, 0x2F, 0x36);
const QColor energyColour(0x7F, 0x93, 0xA6);
const QColor eventColour(0xA9, 0xB6, 0xC2);
const QColor positionColour(0xF0, 0x8C, 0x5A);

QString nameOf(model::FilmBreak::Kind kind) {
    switch (kind) {
    case model::FilmBreak::Kind::cut:
        return ClipMap::tr("cut");
    case model::FilmBreak::Kind::dark:
        return ClipMap::tr("dark");
    case model::FilmBreak::Kind::still:
        break;
    }
    return ClipMap::tr("held");
}

} // namespace

ClipMap::ClipMap(desk::OpenClip& open, desk::ClipEdits& clipEdits, Thumbnails& thumbnails,
                 QWidget* parent)
    : QWidget(parent), open_(open), clipEdits_(clipEdits), thumbnails_(thumbnails) {
    setObjectName("clipMap");
    setAccessibleName(tr("Map of the clip"));
    setFixedHeight(sizeHint().height());
    setMouseTracking(true);
    const auto redraw = [this] { update(); };
    connect(&open_, &desk::OpenClip::opened, this, [this] { showWholeClip(); });
    connect(&open_, &desk::OpenClip::closed, this, redraw);
    connect(&open_, &desk::OpenClip::repOpened, this, redraw);
    connect(&open_, &desk::OpenClip::frameChanged, this, [this] {
        follow();
        update();
    });
    connect(&open_, &desk::OpenClip::marksChanged, this, redraw);
    connect(&open_, &desk::OpenClip::studyProgress, this, [this](double share) {
        studied_ = share;
        update();
    });
    connect(&thumbnails_, &Thumbnails::ready, this, redraw);
}

double ClipMap::placeOf(int frame) const {
    return (frame + 0.5 - from_) / frames_ * width();
}

int ClipMap::frameAt(double x) const {
    const double frame = std::floor(from_ + x / std::max(1, width()) * frames_);
    return std::clamp(static_cast<int>(frame), 0, open_.index().frameCount() - 1);
}

model::FrameSpan ClipMap::inView() const {
    return {frameAt(0.0), frameAt(width() - 1.0)};
}

void ClipMap::setView(double from, double frames) {
    const double all = open_.index().frameCount();
    frames_ = std::clamp(frames, std::min(fewestFrames, all), all);
    from_ = std::clamp(from, 0.0, all - frames_);
    update();
    emit viewChanged();
}

void ClipMap::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    emit viewChanged();
}

void ClipMap::showWholeClip() {
    setView(0.0, open_.index().frameCount());
}

void ClipMap::showRep() {
    show(spanOf(open_.rep()));
}

void ClipMap::show(model::FrameSpan span) {
    constexpr double margin = 0.03;
    const double length = span.last - span.first + 1.0;
    setView(span.first - margin * length, length * (1.0 + 2.0 * margin));
}

void ClipMap::zoom(double factor, double x) {
    if (!open_.hasClip()) {
        return;
    }
    const double under = from_ + x / std::max(1, width()) * frames_;
    const double all = open_.index().frameCount();
    const double frames = std::clamp(frames_ / factor, std::min(fewestFrames, all), all);
    setView(under - x / std::max(1, width()) * frames, frames);
}

void ClipMap::follow() {
    if (open_.frame() < from_ || open_.frame() + 1.0 > from_ + frames_) {
        setView(open_.frame() + 0.5 - frames_ / 2.0, frames_);
    }
}

model::FrameSpan ClipMap::spanOf(const model::Rep& rep) const {
    model::FrameSpan span = rep.span.value_or(model::FrameSpan{0, open_.index().frameCount() - 1});
    if (dragged_ && dragged_->rep == rep.id) {
        (dragged_->last ? span.last : span.first) = dragged_->frame;
    }
    return span;
}

QRectF ClipMap::repBox(const model::FrameSpan& span) const {
    const double frameWidth = width() / frames_;
    return {placeOf(span.first) - frameWidth / 2.0, repsTop,
            (span.last - span.first + 1) * frameWidth, repsHeight};
}

void ClipMap::paintThumbnails(QPainter& painter) {
    const film::FilmIndex& index = open_.index();
    const double frameWidth = width() / frames_;
    const double pictureWidth =
        std::max({12.0, thumbnailHeight * static_cast<double>(index.width) / index.height});
    // When a frame is wider than its picture, each frame has one, else they stand side by side.
    const double step = std::max(pictureWidth, frameWidth);
    const bool eachFrame = frameWidth >= pictureWidth;
    const double first = eachFrame ? placeOf(inView().first) - frameWidth / 2.0 : 0.0;
    for (double x = first; x < width(); x += step) {
        const int frame = frameAt(x + 0.5 * step);
        const QImage small = thumbnails_.at(frame);
        if (!small.isNull()) {
            painter.drawImage(QRectF(x, 0, pictureWidth, thumbnailHeight), small);
        }
        if (eachFrame && frameWidth > pictureWidth + 4.0) {
            painter.setPen(eventColour);
            painter.drawText(
                QRectF(x + pictureWidth + 2.0, 0, frameWidth - pictureWidth - 4.0, thumbnailHeight),
                Qt::AlignLeft | Qt::AlignVCenter, QString::number(frame));
        }
    }
}

void ClipMap::paintEnergy(QPainter& painter) const {
    painter.fillRect(QRectF(0, energyTop, width(), energyHeight), quietBand);
    if (!open_.study()) {
        painter.setPen(eventColour);
        painter.drawText(QRectF(6, energyTop, width() - 12, energyHeight), Qt::AlignVCenter,
                         tr("looking at what moves when… %1 %").arg(std::lround(100 * studied_)));
        return;
    }
    const std::vector<float>& energy = open_.study()->energy;
    const float most = std::max(1.0F, *std::max_element(energy.begin(), energy.end()));
    QPainterPath path(QPointF(0, energyTop + energyHeight));
    for (int x = 0; x < width(); ++x) {
        // The strongest frame of those that fall on this column.
        const int first = frameAt(x);
        const int last =
            std::min(std::max(first, frameAt(x + 1.0) - 1), static_cast<int>(energy.size()) - 1);
        float value = 0.0F;
        for (int f = first; f <= last; ++f) {
            value = std::max(value, energy[static_cast<std::size_t>(f)]);
        }
        // Square root: the leg lift is seen beside the throw.
        const double height = (energyHeight - 2.0) * std::sqrt(value / most);
        path.lineTo(x, energyTop + energyHeight - height);
    }
    path.lineTo(width(), energyTop + energyHeight);
    painter.fillPath(path, energyColour);
}

void ClipMap::paintEdits(QPainter& painter) const {
    if (!open_.study()) {
        return;
    }
    const double frameWidth = width() / frames_;
    const auto boxOf = [&](const model::FrameSpan& span) {
        return QRectF(placeOf(span.first) - frameWidth / 2.0, energyTop,
                      (span.last - span.first + 1) * frameWidth, energyHeight);
    };
    for (const model::FilmBreak& b : open_.study()->breaks) {
        const QRectF box = boxOf(b.span);
        if (b.kind == model::FilmBreak::Kind::cut) {
            painter.setPen(QPen(report::cream, 1.5, Qt::DashLine));
            painter.drawLine(QPointF(box.center().x(), 0.0),
                             QPointF(box.center().x(), energyTop + energyHeight));
            continue;
        }
        painter.fillRect(box, quietBand);
        painter.fillRect(box, QBrush(eventColour, Qt::BDiagPattern));
        const QString name = nameOf(b.kind);
        const double wide = painter.fontMetrics().horizontalAdvance(name) + 8.0;
        if (box.width() > wide) {
            const QRectF plate(box.center().x() - wide / 2.0, box.top() + 2.0, wide,
                               box.height() - 4.0);
            painter.fillRect(plate, report::nearBlack);
            painter.setPen(eventColour);
            painter.drawText(plate, Qt::AlignCenter, name);
        }
    }
    for (const model::GraphicSeen& graphic : open_.study()->graphics) {
        constexpr double thin = 3.0;
        QRectF box = boxOf(graphic.span);
        box.setHeight(thin);
        painter.fillRect(box, positionColour);
    }
}

QString ClipMap::energyTip(double x) const {
    const QString energy = tr("How much moves, frame by frame");
    if (!open_.hasClip() || !open_.study()) {
        return energy;
    }
    QStringList lines;
    const int frame = frameAt(x);
    for (const model::FilmBreak& b : open_.study()->breaks) {
        // A cut is as thin as a line; a little beside it will do.
        const bool near = b.kind == model::FilmBreak::Kind::cut &&
                          std::abs(placeOf(b.span.last) - x) <= edgeReach;
        if (!near && !b.span.contains(frame)) {
            continue;
        }
        switch (b.kind) {
        case model::FilmBreak::Kind::cut:
            lines << tr("The film is cut here; no rep goes on over it");
            break;
        case model::FilmBreak::Kind::dark:
            lines << tr("The film is dark or fades here; it is left out");
            break;
        case model::FilmBreak::Kind::still:
            lines << tr("One picture is held here; a duration over it is too long by as much");
            break;
        }
    }
    for (const model::GraphicSeen& graphic : open_.study()->graphics) {
        if (graphic.span.contains(frame)) {
            lines << tr("A graphic is laid over the picture; what moves there does not count");
        }
    }
    return lines.isEmpty() ? energy : lines.join("\n");
}

void ClipMap::paintReps(QPainter& painter) const {
    const auto box = [&](const QRectF& where, const QColor& fill, const QPen& pen,
                         const QString& title, const QColor& ink) {
        painter.setBrush(fill);
        painter.setPen(pen);
        painter.drawRoundedRect(where.adjusted(0.5, 1.0, -0.5, -1.0), 3.0, 3.0);
        const QRectF inside = where.intersected(QRectF(rect())).adjusted(6, 0, -4, 0);
        painter.setPen(ink);
        painter.drawText(inside, Qt::AlignVCenter | Qt::AlignLeft,
                         painter.fontMetrics().elidedText(title, Qt::ElideRight,
                                                          static_cast<int>(inside.width())));
    };
    for (const model::Rep& rep : open_.reps()) {
        const bool open = rep.id == open_.rep().id;
        box(repBox(spanOf(rep)), open ? report::chestnut : report::slate,
            QPen(open ? report::cream : eventColour, open ? 1.6 : 0.8),
            QString::fromStdString(rep.title), report::cream);
    }
    for (const model::FrameSpan& span : open_.proposedReps()) {
        box(repBox(span), Qt::transparent, QPen(report::cream, 1.4, Qt::DashLine), QString(),
            report::cream);
    }
}

void ClipMap::paintMarks(QPainter& painter) const {
    painter.setPen(Qt::NoPen);
    const double frameWidth = std::max(1.5, width() / frames_);
    for (const auto& [frame, points] : open_.rep().landmarks) {
        const double x = placeOf(frame) - frameWidth / 2.0;
        painter.fillRect(QRectF(x, coverageTop, frameWidth, coverageHeight), energyColour);
    }
    painter.setRenderHint(QPainter::Antialiasing);
    for (const auto& [id, frame] : model::allPositions(open_.rep())) {
        const technique::Position* position = technique::findPosition(open_.pack(), id);
        if (position == nullptr) {
            continue; // of a technique that this clip was said to show before
        }
        const bool event = position->event;
        const double x = placeOf(frame);
        const bool found = model::onlyFound(open_.rep(), id) != nullptr;
        painter.setPen(
            QPen(event ? eventColour : positionColour, 2.0, found ? Qt::DotLine : Qt::SolidLine));
        painter.drawLine(QPointF(x, marksTop + (event ? 4.0 : 0.0)), QPointF(x, height()));
    }
}

void ClipMap::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.fillRect(rect(), report::nearBlack);
    if (!open_.hasClip()) {
        return;
    }
    paintThumbnails(painter);
    paintEnergy(painter);
    paintEdits(painter);
    painter.setRenderHint(QPainter::Antialiasing);
    paintReps(painter);
    painter.setRenderHint(QPainter::Antialiasing, false);
    paintMarks(painter);
    const double now = placeOf(open_.frame());
    painter.setPen(QPen(report::nearBlack, 4.0));
    painter.drawLine(QPointF(now, 0), QPointF(now, height()));
    painter.setPen(QPen(report::cream, 2.0));
    painter.drawLine(QPointF(now, 0), QPointF(now, height()));
}

std::optional<ClipMap::Edge> ClipMap::edgeAt(QPointF place) const {
    if (place.y() < repsTop || place.y() > repsTop + repsHeight) {
        return std::nullopt;
    }
    for (const model::Rep& rep : open_.reps()) {
        if (!rep.span) {
            continue;
        }
        const QRectF box = repBox(*rep.span);
        if (std::abs(place.x() - box.left()) <= edgeReach) {
            return Edge{rep.id, false, rep.span->first};
        }
        if (std::abs(place.x() - box.right()) <= edgeReach) {
            return Edge{rep.id, true, rep.span->last};
        }
    }
    return std::nullopt;
}

void ClipMap::mousePressEvent(QMouseEvent* event) {
    if (!open_.hasClip() || event->button() != Qt::LeftButton) {
        return;
    }
    dragged_ = edgeAt(event->position());
    if (dragged_) {
        return;
    }
    if (event->position().y() >= repsTop && event->position().y() < repsTop + repsHeight) {
        for (const model::Rep& rep : open_.reps()) {
            if (rep.id != open_.rep().id && repBox(spanOf(rep)).contains(event->position())) {
                open_.openRep(rep.id);
                return;
            }
        }
    }
    scrubbing_ = true;
    open_.goTo(frameAt(event->position().x()));
}

void ClipMap::mouseMoveEvent(QMouseEvent* event) {
    if (!open_.hasClip()) {
        return;
    }
    if (dragged_) {
        dragged_->frame = frameAt(event->position().x());
        update();
    } else if (scrubbing_) {
        open_.goTo(frameAt(event->position().x()));
    } else {
        setCursor(edgeAt(event->position()) ? Qt::SizeHorCursor : Qt::ArrowCursor);
    }
}

void ClipMap::mouseReleaseEvent(QMouseEvent* /*event*/) {
    scrubbing_ = false;
    if (!dragged_) {
        return;
    }
    const Edge edge = *dragged_;
    const auto found = std::find_if(open_.reps().begin(), open_.reps().end(),
                                    [&](const model::Rep& rep) { return rep.id == edge.rep; });
    model::Rep rep = *found;
    rep.span = spanOf(rep);
    dragged_.reset();
    if (rep.span->last < rep.span->first) {
        std::swap(rep.span->first, rep.span->last);
    }
    if (rep.span != found->span) {
        clipEdits_.setRep(rep, tr("Move an end of %1").arg(QString::fromStdString(rep.title)));
    }
    update();
}

void ClipMap::wheelEvent(QWheelEvent* event) {
    if (!open_.hasClip()) {
        return;
    }
    const QPoint turned = event->angleDelta();
    const bool sideways = std::abs(turned.x()) > std::abs(turned.y()) ||
                          (event->modifiers() & Qt::ShiftModifier) != 0;
    const double notches = (turned.y() != 0 ? turned.y() : turned.x()) / 120.0;
    if (sideways) {
        constexpr double shareOfView = 0.1;
        setView(from_ - notches * shareOfView * frames_, frames_);
    } else {
        constexpr double nearer = 1.3;
        zoom(std::pow(nearer, notches), event->position().x());
    }
    event->accept();
}

bool ClipMap::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip && open_.hasClip()) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const double y = help->pos().y();
        const QString text =
            y < energyTop ? tr("Drag to move through the film; turn the wheel to zoom")
            : y < repsTop ? energyTip(help->pos().x())
            : y < coverageTop
                ? tr("The reps: click one to work on it, drag its ends to change where it lies")
            : y < marksTop ? tr("Frames that have landmarks")
                           : tr("The key positions");
        QToolTip::showText(help->globalPos(), text, this);
        return true;
    }
    return QWidget::event(event);
}

} // namespace kestrel::app
