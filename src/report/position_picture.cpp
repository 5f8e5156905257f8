#include "report/position_picture.h"

#include "report/construct_painter.h"

#include <algorithm>
#include <cmath>

namespace kestrel::report {

QRectF playerRegion(const model::FrameLandmarks& landmarks, QSize picture, double aspect) {
    QRectF box;
    for (const auto& [landmark, point] : landmarks) {
        if (!point.hidden && landmark != model::Landmark::ball) {
            const QPointF at(point.px.x, point.px.y);
            box = box.isNull() ? QRectF(at, QSizeF(1, 1)) : box.united(QRectF(at, QSizeF(1, 1)));
        }
    }
    const QRectF whole(QPointF(0, 0), QSizeF(picture));
    if (box.isNull()) {
        return whole;
    }
    constexpr double room = 0.22; // of the larger side: head, hands and feet beyond the joints
    const double margin = room * std::max(box.width(), box.height());
    box.adjust(-margin, -margin, margin, margin);
    double width = std::max(box.width(), box.height() * aspect);
    double height = width / aspect;
    const double shrink = std::min({1.0, whole.width() / width, whole.height() / height});
    width *= shrink;
    height *= shrink;
    const QPointF centre = box.center();
    return {std::clamp(centre.x() - width / 2, 0.0, whole.width() - width),
            std::clamp(centre.y() - height / 2, 0.0, whole.height() - height), width, height};
}

QImage positionPicture(const QImage& picture, int frame, const QRectF& region, int width,
                       const std::vector<model::Reading>& readings) {
    const double scale = width / region.width();
    QImage result(width, static_cast<int>(std::lround(region.height() * scale)),
                  QImage::Format_RGB32);
    result.fill(Qt::black);
    QPainter painter(&result);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(QRectF(result.rect()), picture, region);
    const QTransform map =
        QTransform::fromTranslate(-region.x(), -region.y()) * QTransform::fromScale(scale, scale);
    for (const model::Reading& reading : readings) {
        for (const model::Construct& construct : reading.constructs) {
            if (construct.frame == frame) {
                paintConstruct(painter, construct, map, {});
            }
        }
    }
    return result;
}

} // namespace kestrel::report
