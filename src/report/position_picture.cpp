#include "report/position_picture.h"

#include "report/between_frames.h"
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

/// How high a stretched arm may reach at a frame, `heightPx` being how tall the player looks: hands
/// overhead are often not placed.
double reachOf(const model::FrameLandmarks& landmarks, const QRectF& box, double heightPx) {
    constexpr double arm = 0.44; // of height: upper arm, forearm, hand (Drillis and Contini 1966)
    double top = box.top();
    for (const auto shoulder : {model::Landmark::leftShoulder, model::Landmark::rightShoulder}) {
        const auto found = landmarks.find(shoulder);
        if (found != landmarks.end() && !found->second.hidden) {
            top = std::min(top, found->second.px.y - arm * heightPx);
        }
    }
    return top;
}

} // namespace

QRectF playerRegion(const model::LandmarkTrack& track, int frame, QSize picture, double aspect) {
    std::map<int, QRectF> boxes;
    std::map<int, double> middles; ///< of the body, across the picture
    for (const auto& [at, landmarks] : track) {
        if (const QRectF box = bodyBox(landmarks); !box.isNull()) {
            boxes[at] = box;
            middles[at] = box.center().x();
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
    const double tall = tallest->second.height();
    constexpr double someBody = 0.1; // of the picture's height
    if (tall < someBody * whole.height()) {
        return whole; // a point or two say nothing of where the rest of the body is
    }
    // All frames are cut alike, so that a jump shows as one.
    double top = tallest->second.top();
    double bottom = tallest->second.bottom();
    for (const auto& [at, box] : boxes) {
        top = std::min(top, reachOf(track.at(at), box, tall));
        bottom = std::max(bottom, box.bottom());
    }
    constexpr double air = 0.1;    // of how tall the player looks: a ball above the hand
    constexpr double soles = 0.12; // below the ankles
    top -= air * tall;
    bottom += soles * tall;
    double height = bottom - top;
    double width = height * aspect;
    const double shrink = std::min({1.0, whole.width() / width, whole.height() / height});
    width *= shrink;
    height *= shrink;
    const QPointF centre(betweenFrames(middles, frame), (top + bottom) / 2);
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
