#include "report/construct_painter.h"

#include "report/palette.h"
#include "words/words.h"

#include <QFontMetricsF>
#include <QLineF>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace kestrel::report {
namespace {

class Drawing {
  public:
    Drawing(QPainter& painter, const QTransform& map, const ConstructStyle& style)
        : painter_(painter), map_(map), style_(style) {}

    void operator()(const model::Segment& s) const {
        const bool dashed = s.role == model::Role::reference;
        line(QLineF(at(s.from), at(s.to)), roleColour(s.role), dashed);
    }

    void operator()(const model::AngleArc& arc) const {
        const QPointF vertex = at(arc.vertex);
        const QLineF first(vertex, at(arc.from));
        const QLineF second(vertex, at(arc.to));
        const double radius = std::min({first.length(), second.length(), 34.0}) * 0.6;
        const double start = first.angle();
        double sweep = first.angleTo(second);
        if (sweep > 180.0) {
            sweep -= 360.0; // the short way round
        }
        QPainterPath path;
        const QRectF circle(vertex - QPointF(radius, radius), QSizeF(2 * radius, 2 * radius));
        path.arcMoveTo(circle, start);
        path.arcTo(circle, start, sweep);
        stroke(path, roleColour(model::Role::trunk), false);
    }

    void operator()(const model::Gap& gap) const {
        const QLineF main(at(gap.from), at(gap.to));
        line(main, roleColour(model::Role::trunk), false);
        if (main.length() < 1.0) {
            return;
        }
        constexpr double halfTick = 5.0;
        QLineF across = main.normalVector();
        across.setLength(halfTick);
        const QPointF tick(across.dx(), across.dy());
        for (const QPointF& end : {main.p1(), main.p2()}) {
            line(QLineF(end - tick, end + tick), roleColour(model::Role::trunk), false);
        }
    }

    void operator()(const model::Dot& dot) const {
        const double r = 1.6 * style_.lineWidth;
        painter_.setPen(QPen(nearBlack, 0.5 * style_.lineWidth));
        painter_.setBrush(roleColour(dot.role));
        painter_.drawEllipse(at(dot.at), r, r);
    }

    /// Writes the label where it covers none of `taken`, and adds its own place.
    void label(const model::Construct& construct, std::vector<QRectF>& taken) const {
        if (construct.label.empty()) {
            return;
        }
        QFont font = painter_.font();
        font.setPixelSize(static_cast<int>(std::lround(style_.fontPixels)));
        font.setBold(true);
        painter_.setFont(font);
        const QString text = words::inWords(construct.label);
        const QRectF box = QFontMetricsF(font).boundingRect(text).adjusted(-5, -2, 5, 2);
        const QRectF place = freePlace(box, at(construct.labelAt), taken);
        taken.push_back(place);
        painter_.setPen(Qt::NoPen);
        painter_.setBrush(QColor(nearBlack.red(), nearBlack.green(), nearBlack.blue(), 205));
        painter_.drawRoundedRect(place, 3, 3);
        painter_.setPen(cream);
        painter_.drawText(place, Qt::AlignCenter, text);
    }

  private:
    /// The box moved beside `anchor`, nearest first, clear of `taken` and inside the paint area.
    [[nodiscard]] QRectF freePlace(QRectF box, QPointF anchor,
                                   const std::vector<QRectF>& taken) const {
        const QRectF room = painter_.viewport();
        QRectF first;
        for (const double away : {1.0, 2.0, 3.0, 4.0}) {
            for (const QPointF& way : {QPointF(1, -1), QPointF(-1, -1), QPointF(1, 1),
                                       QPointF(-1, 1), QPointF(0, -1.4), QPointF(0, 1.4)}) {
                const QPointF shift(way.x() * (0.5 * box.width() + 8.0 + 6.0 * away),
                                    way.y() * away * 1.1 * box.height());
                QRectF place = box;
                place.moveCenter(anchor + shift);
                place.moveLeft(
                    std::clamp(place.left(), 0.0, std::max(0.0, room.width() - place.width())));
                place.moveTop(
                    std::clamp(place.top(), 0.0, std::max(0.0, room.height() - place.height())));
                const bool clear = std::none_of(taken.begin(), taken.end(), [&](const QRectF& t) {
                    return t.intersects(place.adjusted(-1, -1, 1, 1));
                });
                if (clear) {
                    return place;
                }
                if (first.isNull()) {
                    first = place;
                }
            }
        }
        return first;
    }

    [[nodiscard]] QPointF at(model::Point2 p) const { return map_.map(QPointF(p.x, p.y)); }

    void line(const QLineF& l, const QColor& colour, bool dashed) const {
        QPainterPath path(l.p1());
        path.lineTo(l.p2());
        stroke(path, colour, dashed);
    }

    void stroke(const QPainterPath& path, const QColor& colour, bool dashed) const {
        painter_.setBrush(Qt::NoBrush);
        QPen edge(QColor(nearBlack.red(), nearBlack.green(), nearBlack.blue(), 170),
                  style_.lineWidth + 2.0);
        edge.setCapStyle(Qt::RoundCap);
        painter_.setPen(edge);
        painter_.drawPath(path);
        QPen pen(colour, style_.lineWidth);
        pen.setCapStyle(dashed ? Qt::FlatCap : Qt::RoundCap);
        if (dashed) {
            pen.setDashPattern({4.0, 3.0});
        }
        painter_.setPen(pen);
        painter_.drawPath(path);
    }

    QPainter& painter_;
    const QTransform& map_;
    const ConstructStyle& style_;
};

} // namespace

void paintConstructs(QPainter& painter, const std::vector<model::Construct>& constructs,
                     const QTransform& pictureToPaint, const ConstructStyle& style) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const Drawing drawing(painter, pictureToPaint, style);
    for (const model::Construct& construct : constructs) {
        for (const model::Shape& shape : construct.shapes) {
            std::visit(drawing, shape);
        }
    }
    std::vector<QRectF> taken;
    for (const model::Construct& construct : constructs) {
        drawing.label(construct, taken);
    }
    painter.restore();
}

} // namespace kestrel::report
