#include "report/position_picture.h"

#include "report/construct_painter.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <map>

namespace kestrel::report {

namespace {

/// Smallest rectangle round the body's visible landmarks; null when there are none.
QRectF bodyBox(const model::FrameLandmarks& landmarks) {
    QRectF box;
    for (const auto& [landmark, point] : landmarks) {
        if (!point.hidden && landmark != model::Landmark::ball) {
            const QRectF spot(point.px.x, point.px.y, 1.0, 1.0);
            box = box.isNull() ? spot : box.united(spot);
        }
    }
    return box;
}

/// Where the body's middle is across the picture at `frame`, between the frames that have boxes.
double middleAcross(const std::map<int, QRectF>& boxes, int frame) {
    const auto after = boxes.lower_bound(frame);
    if (after == boxes.begin()) {
        return after->second.center().x();
    }
    const auto before = std::prev(after);
    if (after == boxes.end()) {
        return before->second.center().x();
    }
    const double part = static_cast<double>(frame - before->first) / (after->first - before->first);
    return std::lerp(before->second.center().x(), after->second.center().x(), part);
}

} // namespace

QRectF playerRegion(const model::LandmarkTrack& track, int frame, QSize picture, double aspect) {
    std::map<int, QRectF> boxes;
    for (const auto& [at, landmarks] : track) {
        if (const QRectF box = bodyBox(landmarks); !box.isNull()) {
            boxes[at] = box;
        }
    }
    const QRectF whole(QPointF(0, 0), QSizeF(picture));
    if (boxes.empty()) {
        return whole;
    }
    const auto tallest =
        std::max_element(boxes.begin(), boxes.end(), [](const auto& a, const auto& b) {
            return a.second.height() < b.second.height();
        });
    constexpr double room = 1.5; // feet, hair and stretched arms beyond the joints
    double height = room * tallest->second.height();
    double width = height * aspect;
    const double shrink = std::min({1.0, whole.width() / width, whole.height() / height});
    width *= shrink;
    height *= shrink;
    const QPointF centre(middleAcross(boxes, frame), tallest->second.center().y());
    return {std::clamp(centre.x() - width / 2, 0.0, whole.width() - width),
            std::clamp(centre.y() - height / 2, 0.0, whole.height() - height), width, height};
}

std::vector<model::Construct> constructsOn(int frame, const std::vector<model::Reading>& readings) {
    std::vector<model::Construct> constructs;
    for (const model::Reading& reading : readings) {
        std::copy_if(reading.constructs.begin(), reading.constructs.end(),
                     std::back_inserter(constructs),
                     [frame](const model::Construct& c) { return c.frame == frame; });
    }
    return constructs;
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
    ConstructStyle style;
    // The picture is printed small: lines and numbers must still be read there.
    style.lineWidth = width / 140.0;
    style.fontPixels = width / 15.0;
    paintConstructs(painter, constructsOn(frame, readings), map, style);
    return result;
}

} // namespace kestrel::report
