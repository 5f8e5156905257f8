#include "app/shared/loupe.h"

#include "report/palette.h"

#include <QPainter>

namespace kestrel::app {

Loupe::Loupe(desk::OpenClip& open, QWidget* parent) : QWidget(parent), open_(open) {
    setObjectName("loupe");
    setAccessibleName(tr("Loupe"));
    setToolTip(tr("The pixels under the pointer, eight times as large"));
    setFixedSize(sizeHint());
    connect(&open_, &desk::OpenClip::pictureReady, this, [this] { update(); });
}

void Loupe::lookAt(QPointF picture) {
    at_ = picture;
    update();
}

void Loupe::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.fillRect(rect(), report::nearBlack);
    const QImage picture = open_.hasClip() ? open_.picture(open_.frame()) : QImage();
    if (at_ && !picture.isNull()) {
        constexpr double enlargement = 8.0;
        painter.save();
        painter.translate(width() / 2.0, height() / 2.0);
        painter.scale(enlargement, enlargement);
        painter.translate(-at_->x(), -at_->y());
        painter.drawImage(QPointF(-0.5, -0.5), picture);
        painter.restore();
        const QPointF middle(width() / 2.0, height() / 2.0);
        constexpr double gap = 6.0;
        constexpr double reach = 26.0;
        for (const QPointF& way : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)}) {
            painter.setPen(QPen(report::nearBlack, 3.0));
            painter.drawLine(middle + way * gap, middle + way * reach);
            painter.setPen(QPen(report::cream, 1.0));
            painter.drawLine(middle + way * gap, middle + way * reach);
        }
    }
    if (!at_) {
        painter.setPen(report::cream);
        painter.drawText(rect(), Qt::AlignCenter, tr("loupe"));
    }
    painter.setPen(QPen(report::slate, 1.0));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
}

} // namespace kestrel::app
