#include "app/bench/curves_plot.h"

#include "app/shared/clip_map.h"
#include "report/palette.h"
#include "words/measured.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

#include <algorithm>
#include <array>
#include <cmath>

namespace kestrel::app {
namespace {

constexpr int plotHeight = 132;
constexpr double top = 16.0; ///< room for the names of the positions
constexpr double foot = 4.0;

/// A curve is told from the others by its colour, its dashes and the number at its peak.
struct Pen {
    QColor colour;
    Qt::PenStyle style;
};
const std::array<Pen, 5> pens{{{QColor(0xA9, 0xB6, 0xC2), Qt::SolidLine},
                               {QColor(0x8F, 0xBF, 0x9F), Qt::DashLine},
                               {QColor(0xE8, 0xC9, 0x6A), Qt::DashDotLine},
                               {QColor(0xF0, 0x8C, 0x5A), Qt::SolidLine},
                               {QColor(0xF7, 0xF1, 0xE4), Qt::DashLine}}};
const QColor positionLine(0x6B, 0x79, 0x88);
const QColor goodBand(0x3C, 0x4A, 0x40);

} // namespace

CurvesPlot::CurvesPlot(desk::OpenClip& open, ClipMap& map, QWidget* parent)
    : QWidget(parent), open_(open), map_(map) {
    setObjectName("curvesPlot");
    setAccessibleName(tr("Curves over time"));
    setFixedHeight(plotHeight);
    setMouseTracking(true);
    const auto redraw = [this] { update(); };
    connect(&map_, &ClipMap::viewChanged, this, redraw);
    connect(&open_, &desk::OpenClip::frameChanged, this, redraw);
}

void CurvesPlot::setCurves(std::vector<PlottedCurve> curves, PlotFoot foot,
                           const std::optional<model::Range>& good) {
    curves_ = std::move(curves);
    foot_ = foot;
    good_ = good;
    update();
}

CurvesPlot::Scale CurvesPlot::scaleOf(const PlottedCurve& curve) const {
    const bool fromZero = foot_ == PlotFoot::zero;
    Scale scale{fromZero ? 0.0 : curve.points.front().value, curve.points.front().value};
    for (const technique::CurvePoint& p : curve.points) {
        scale.low = std::min(scale.low, p.value);
        scale.high = std::max(scale.high, p.value);
    }
    if (curve.peak) {
        scale.high = std::max(scale.high, curve.peak->value);
    }
    if (good_) {
        scale.low = std::min(scale.low, good_->low.value_or(scale.low));
        scale.high = std::max(scale.high, good_->high.value_or(scale.high));
    }
    constexpr double margin = 0.06;
    if (foot_ == PlotFoot::minusHighest) {
        const double most = (1.0 + margin) * std::max({1e-9, scale.high, -scale.low});
        return {-most, most};
    }
    const double room = std::max(1e-9, scale.high - scale.low);
    return {fromZero ? 0.0 : scale.low - margin * room, scale.high + margin * room};
}

double CurvesPlot::placeOfTime(double time) const {
    const model::ClipTime& clip = open_.circumstances().time;
    const int frame = model::frameAtFieldTime(clip, model::Seconds(time));
    const int next = std::min(frame + 1, clip.frameCount() - 1);
    const double there = clip.fieldTimes()[static_cast<std::size_t>(frame)].value;
    const double step = clip.fieldTimes()[static_cast<std::size_t>(next)].value - there;
    const double share = step > 0.0 ? std::clamp((time - there) / step, 0.0, 1.0) : 0.0;
    return map_.placeOf(frame) + share * (map_.placeOf(next) - map_.placeOf(frame));
}

double CurvesPlot::heightOf(double value, const Scale& scale) const {
    const double share = (value - scale.low) / (scale.high - scale.low);
    return height() - foot - share * (height() - foot - top);
}

void CurvesPlot::paintPositions(QPainter& painter) const {
    double free = -1.0; // names that would run into each other are left out
    for (const technique::Position& position : open_.pack().positions) {
        const auto frame = model::frameOf(open_.rep(), position.id);
        if (!frame) {
            continue;
        }
        const double x = map_.placeOf(*frame);
        painter.setPen(QPen(positionLine, 1.0, Qt::DotLine));
        painter.drawLine(QPointF(x, top), QPointF(x, height()));
        const QString name = QString::fromStdString(position.name);
        const double wide = painter.fontMetrics().horizontalAdvance(name);
        const double left = std::clamp(x - wide / 2.0, 0.0, std::max(0.0, width() - wide));
        if (left > free && x >= 0.0 && x <= width()) {
            painter.setPen(positionLine.lighter(150));
            painter.drawText(QPointF(left, top - 4.0), name);
            constexpr double gap = 6.0;
            free = left + wide + gap;
        }
    }
}

void CurvesPlot::paintCurve(QPainter& painter, std::size_t number) const {
    const PlottedCurve& curve = curves_[number];
    const Pen& pen = pens[number % pens.size()];
    const Scale scale = scaleOf(curve);
    if (good_ && curves_.size() == 1) {
        const double upper = heightOf(good_->high.value_or(scale.high), scale);
        const double lower = heightOf(good_->low.value_or(scale.low), scale);
        painter.fillRect(QRectF(0.0, upper, width(), lower - upper), goodBand);
    }
    // Frames without a value leave a gap.
    const model::ClipTime& clip = open_.circumstances().time;
    constexpr int mostFramesApart = 2;
    const auto frameOf = [&](double time) {
        constexpr double rounding = 1e-6;
        return model::frameAtFieldTime(clip, model::Seconds(time + rounding));
    };
    QPainterPath line;
    QColor shade = pen.colour;
    constexpr int shadeAlpha = 50;
    shade.setAlpha(shadeAlpha);
    for (std::size_t i = 0; i < curve.points.size(); ++i) {
        const technique::CurvePoint& p = curve.points[i];
        const QPointF at(placeOfTime(p.time), heightOf(p.value, scale));
        if (i == 0 || frameOf(p.time) - frameOf(curve.points[i - 1].time) > mostFramesApart) {
            line.moveTo(at);
            continue;
        }
        const technique::CurvePoint& before = curve.points[i - 1];
        const auto edge = [&](const technique::CurvePoint& point, double side) {
            return QPointF(placeOfTime(point.time),
                           heightOf(point.value + side * model::coverage95 * point.sd, scale));
        };
        painter.setPen(Qt::NoPen);
        painter.setBrush(shade);
        painter.drawPolygon(
            QPolygonF({edge(before, 1), edge(p, 1), edge(p, -1), edge(before, -1)}));
        line.lineTo(at);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(pen.colour, 2.0, pen.style));
    painter.drawPath(line);
}

void CurvesPlot::paintPeaks(QPainter& painter) const {
    for (std::size_t i = 0; i < curves_.size(); ++i) {
        const PlottedCurve& curve = curves_[i];
        if (!curve.peak) {
            if (curve.numberedAt) {
                paintNumber(painter, i,
                            {placeOfTime(curve.numberedAt->time),
                             heightOf(curve.numberedAt->value, scaleOf(curve))});
            }
            continue;
        }
        const QColor colour = pens[i % pens.size()].colour;
        const double early = placeOfTime(curve.peak->time - model::coverage95 * curve.peak->timeSd);
        const double late = placeOfTime(curve.peak->time + model::coverage95 * curve.peak->timeSd);
        // Where the peaks' times are: a bar of their 95 % interval, one row for each curve.
        constexpr double rowHeight = 9.0;
        const double y = height() - foot - rowHeight * (static_cast<double>(curves_.size() - i));
        painter.setPen(QPen(colour, 3.0));
        painter.drawLine(QPointF(early, y), QPointF(std::max(late, early + 1.0), y));
        paintNumber(painter, i,
                    {placeOfTime(curve.peak->time), heightOf(curve.peak->value, scaleOf(curve))});
    }
}

void CurvesPlot::paintNumber(QPainter& painter, std::size_t number, QPointF at) const {
    const QColor colour = pens[number % pens.size()].colour;
    painter.setPen(Qt::NoPen);
    painter.setBrush(report::nearBlack);
    constexpr double radius = 8.0;
    painter.drawEllipse(at, radius, radius);
    painter.setPen(QPen(colour, 1.5));
    painter.drawEllipse(at, radius, radius);
    painter.drawText(QRectF(at.x() - radius, at.y() - radius, 2 * radius, 2 * radius),
                     Qt::AlignCenter, QString::number(number + 1));
}

void CurvesPlot::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.fillRect(rect(), report::nearBlack);
    if (!open_.hasClip()) {
        return;
    }
    painter.setRenderHint(QPainter::Antialiasing);
    if (foot_ == PlotFoot::minusHighest && !curves_.empty()) {
        const double zero = heightOf(0.0, {-1.0, 1.0});
        painter.setPen(QPen(positionLine, 1.0));
        painter.drawLine(QPointF(0.0, zero), QPointF(width(), zero));
    }
    for (std::size_t i = 0; i < curves_.size(); ++i) {
        if (!curves_[i].points.empty()) {
            paintCurve(painter, i);
        }
    }
    paintPositions(painter);
    paintPeaks(painter);
    const double now = map_.placeOf(open_.frame());
    painter.setPen(QPen(report::cream, 2.0));
    painter.drawLine(QPointF(now, 0), QPointF(now, height()));
}

void CurvesPlot::mousePressEvent(QMouseEvent* event) {
    if (open_.hasClip()) {
        open_.goTo(map_.frameAt(event->position().x()));
    }
}

void CurvesPlot::mouseMoveEvent(QMouseEvent* event) {
    if (open_.hasClip() && (event->buttons() & Qt::LeftButton) != 0) {
        open_.goTo(map_.frameAt(event->position().x()));
    }
}

bool CurvesPlot::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip || !open_.hasClip()) {
        return QWidget::event(event);
    }
    const auto* help = static_cast<QHelpEvent*>(event);
    const int frame = map_.frameAt(help->pos().x());
    const double time =
        open_.circumstances().time.fieldTimes()[static_cast<std::size_t>(frame)].value;
    QStringList lines;
    for (std::size_t i = 0; i < curves_.size(); ++i) {
        const auto& points = curves_[i].points;
        constexpr double sameFrame = 1e-6;
        const auto at = std::find_if(points.begin(), points.end(), [&](const auto& p) {
            return std::abs(p.time - time) < sameFrame;
        });
        if (at != points.end()) {
            const auto in = [&](double value) { return words::valueText(value, curves_[i].unit); };
            lines << tr("%1 %2: %3 ± %4")
                         .arg(i + 1)
                         .arg(curves_[i].name, in(at->value), in(model::coverage95 * at->sd));
        }
    }
    QToolTip::showText(help->globalPos(),
                       lines.isEmpty() ? tr("Nothing is read in frame %1").arg(frame)
                                       : tr("Frame %1").arg(frame) + "\n" + lines.join('\n'),
                       this);
    return true;
}

} // namespace kestrel::app
