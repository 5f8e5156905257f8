#include "report/chain_picture.h"

#include "report/fonts.h"
#include "report/palette.h"

#include <QFontMetricsF>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>
#include <vector>

namespace kestrel::report {
namespace {

struct Box {
    QRectF rect;
    QString text;
};

/// Boxes of one column, one above the other round the middle of `height`.
class Column {
  public:
    Column(const QStringList& texts, double left, double width, const QFontMetricsF& metrics)
        : metrics_(metrics) {
        const double pad = metrics.height() / 3;
        double top = 0.0;
        for (const QString& text : texts) {
            const QRectF bounds = metrics.boundingRect(QRectF(0, 0, width - 2 * pad, 1e4),
                                                       Qt::TextWordWrap | Qt::AlignCenter, text);
            const double height = bounds.height() + 2 * pad;
            boxes_.push_back({QRectF(left, top, width, height), text});
            top += height + pad;
        }
        height_ = boxes_.empty() ? 0.0 : top - pad;
    }

    [[nodiscard]] double height() const { return height_; }
    void centreIn(double height) {
        for (Box& box : boxes_) {
            box.rect.translate(0.0, (height - height_) / 2);
        }
    }
    [[nodiscard]] const std::vector<Box>& boxes() const { return boxes_; }

  private:
    const QFontMetricsF& metrics_;
    std::vector<Box> boxes_;
    double height_ = 0.0;
};

void arrow(QPainter& painter, QPointF from, QPointF to) {
    QPainterPath way(from);
    const double bend = (to.x() - from.x()) / 2;
    way.cubicTo(from + QPointF(bend, 0), to - QPointF(bend, 0), to);
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(way);
    const double head = std::abs(to.x() - from.x()) / 4;
    painter.setBrush(painter.pen().color());
    painter.drawPolygon(
        QPolygonF{{to, to + QPointF(-head, -head / 2), to + QPointF(-head, head / 2)}});
}

} // namespace

QImage chainPicture(const Chain& chain, int width, double fontPixels) {
    if (chain.from.isEmpty() && chain.to.isEmpty()) {
        return {};
    }
    QFont font(fontFamily);
    font.setPixelSize(std::max(1, static_cast<int>(std::lround(fontPixels))));
    const QFontMetricsF metrics(font);
    const int columns = 1 + (chain.from.isEmpty() ? 0 : 1) + (chain.to.isEmpty() ? 0 : 1);
    constexpr double edge = 1.0; // for the boxes' outline
    const double gap = 2.4 * metrics.height();
    const double box = (width - 2 * edge - (columns - 1) * gap) / columns;
    double left = edge;
    const auto next = [&](const QStringList& texts) {
        Column column(texts, left, box, metrics);
        if (!texts.isEmpty()) {
            left += box + gap;
        }
        return column;
    };
    Column from = next(chain.from);
    Column fault = next({chain.fault});
    Column to = next(chain.to);
    const double height = std::max({from.height(), fault.height(), to.height()}) + 2 * edge;
    QImage image(width, static_cast<int>(std::ceil(height)), QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(font);
    for (Column* column : {&from, &fault, &to}) {
        column->centreIn(height);
    }
    const Box& middle = fault.boxes().front();
    painter.setPen(QPen(slate, fontPixels / 8));
    for (const Box& cause : from.boxes()) {
        arrow(painter, {cause.rect.right(), cause.rect.center().y()},
              {middle.rect.left(), middle.rect.center().y()});
    }
    for (const Box& effect : to.boxes()) {
        arrow(painter, {middle.rect.right(), middle.rect.center().y()},
              {effect.rect.left(), effect.rect.center().y()});
    }
    const auto draw = [&](const Box& b, bool isFault) {
        painter.setPen(
            QPen(isFault ? chestnut : slate, isFault ? fontPixels / 6 : fontPixels / 12));
        painter.setBrush(isFault ? cream : QColor(Qt::white));
        painter.drawRoundedRect(b.rect.adjusted(1, 1, -1, -1), fontPixels / 3, fontPixels / 3);
        painter.setPen(nearBlack);
        const double pad = metrics.height() / 3;
        painter.drawText(b.rect.adjusted(pad, pad, -pad, -pad), Qt::TextWordWrap | Qt::AlignCenter,
                         b.text);
    };
    for (const Column* column : {&from, &to}) {
        for (const Box& b : column->boxes()) {
            draw(b, false);
        }
    }
    draw(middle, true);
    return image;
}

} // namespace kestrel::report
