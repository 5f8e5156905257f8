#include "report/face_blur.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>
#include <iterator>

namespace kestrel::report {
namespace {

/// Share of the standing height that the head is high: about 0.13 in adults, 0.16 in children of
/// eight (Tanner's growth tables); the larger, so that a face is never half covered.
constexpr double headOfHeight = 0.16;
/// Room round the head for a landmark that is off and a picture between two.
constexpr double room = 1.35;

struct Head {
    model::Point2 centre;
    double height = 0.0;
};

const model::LandmarkPoint* seen(const model::FrameLandmarks& points, model::Landmark landmark) {
    const auto found = points.find(landmark);
    return found == points.end() || found->second.hidden ? nullptr : &found->second;
}

/// Height of the body's landmarks in the frame where they reach farthest, pixels.
double bodyPixels(const model::LandmarkTrack& track) {
    double most = 0.0;
    for (const auto& [frame, points] : track) {
        double top = 1e9;
        double bottom = -1e9;
        for (const auto& [landmark, point] : points) {
            if (!point.hidden && model::isOfBody(landmark)) {
                top = std::min(top, point.px.y);
                bottom = std::max(bottom, point.px.y);
            }
        }
        most = std::max(most, bottom - top);
    }
    return most;
}

std::optional<Head> headAt(const model::FrameLandmarks& points, double bodyPx) {
    const auto* head = seen(points, model::Landmark::head);
    const auto* top = seen(points, model::Landmark::headTop);
    const double usual = headOfHeight * bodyPx;
    if (head != nullptr) {
        const double measured =
            top == nullptr ? 0.0 : 2.0 * std::hypot(top->px.x - head->px.x, top->px.y - head->px.y);
        return Head{head->px, std::max(usual, measured)};
    }
    if (top != nullptr) {
        return Head{{top->px.x, top->px.y + usual / 2}, usual};
    }
    const auto* left = seen(points, model::Landmark::leftShoulder);
    const auto* right = seen(points, model::Landmark::rightShoulder);
    if (left != nullptr && right != nullptr) {
        // A head sits its own height above the shoulders' middle, leaned over as it may be.
        constexpr double larger = 1.8;
        return Head{{(left->px.x + right->px.x) / 2, (left->px.y + right->px.y) / 2 - usual},
                    larger * usual};
    }
    return std::nullopt;
}

} // namespace

std::optional<QRectF> headRegion(const model::LandmarkTrack& track, int frame) {
    const double bodyPx = bodyPixels(track);
    std::map<int, Head> heads;
    for (const auto& [at, points] : track) {
        if (const auto head = headAt(points, bodyPx)) {
            heads[at] = *head;
        }
    }
    if (heads.empty()) {
        return std::nullopt;
    }
    const auto after = heads.lower_bound(frame);
    Head head;
    double travel = 0.0; // between frames the head may be off the straight way
    if (after != heads.end() && after->first == frame) {
        head = after->second;
    } else if (after == heads.begin() || after == heads.end()) {
        head = after == heads.end() ? std::prev(after)->second : after->second;
    } else {
        const auto before = std::prev(after);
        const double part =
            static_cast<double>(frame - before->first) / (after->first - before->first);
        const Head& a = before->second;
        const Head& b = after->second;
        head.centre = {std::lerp(a.centre.x, b.centre.x, part),
                       std::lerp(a.centre.y, b.centre.y, part)};
        head.height = std::max(a.height, b.height);
        const double chord = std::hypot(a.centre.x - b.centre.x, a.centre.y - b.centre.y);
        // Most in the middle: a quarter of the frames in, the head may have gone half of the way.
        travel = chord * 2.0 * part * (1.0 - part);
    }
    const double half = room * head.height / 2 + travel;
    return QRectF(head.centre.x - half, head.centre.y - half, 2 * half, 2 * half);
}

bool blurFace(QImage& picture, const model::LandmarkTrack& track, int frame, double scale) {
    const auto head = headRegion(track, frame);
    if (!head) {
        return false;
    }
    const QRectF region(head->topLeft() * scale, head->size() * scale);
    const QRect box = region.toAlignedRect().intersected(picture.rect());
    if (box.isEmpty()) {
        return true; // the head is outside of the picture
    }
    // As few blocks as tell nothing of a face, smoothed so that they do not catch the eye.
    constexpr int blocks = 4;
    const QImage few =
        picture.copy(box).scaled(blocks, blocks, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    const QImage blot = few.scaled(box.size(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    picture = picture.convertToFormat(QImage::Format_RGB32);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath oval;
    oval.addEllipse(region);
    painter.setClipPath(oval);
    painter.drawImage(box.topLeft(), blot);
    return true;
}

} // namespace kestrel::report
