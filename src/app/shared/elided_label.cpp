#include "app/shared/elided_label.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>

namespace kestrel::app {

QSize ElidedLabel::minimumSizeHint() const {
    constexpr int fewestLetters = 12;
    return {fontMetrics().averageCharWidth() * fewestLetters, QLabel::minimumSizeHint().height()};
}

QString ElidedLabel::shown() const {
    return fontMetrics().elidedText(text(), Qt::ElideRight, contentsRect().width());
}

bool ElidedLabel::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip && shown() != text()) {
        QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(), text(), this);
        return true;
    }
    return QLabel::event(event);
}

void ElidedLabel::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setPen(palette().color(foregroundRole()));
    painter.drawText(contentsRect(), static_cast<int>(alignment()), shown());
}

} // namespace kestrel::app
