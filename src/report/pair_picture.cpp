#include "report/pair_picture.h"

#include "report/between_frames.h"
#include "report/palette.h"
#include "report/position_picture.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <utility>

namespace kestrel::report {
namespace {

using model::Landmark;

std::optional<QPointF> pointAt(const model::LandmarkTrack& track, int frame, Landmark landmark) {
    const model::LandmarkPoint* point = model::find(track, frame, landmark);
    return point != nullptr && !point->hidden ? std::optional(QPointF(point->px.x, point->px.y))
                                              : std::nullopt;
}

std::optional<QPointF> middleOf(const model::LandmarkTrack& track, int frame, Landmark left,
                                Landmark right) {
    const auto a = pointAt(track, frame, left);
    const auto b = pointAt(track, frame, right);
    return a && b ? std::optional((*a + *b) / 2) : std::nullopt;
}

/// The value that a share of all lies below.
double quantile(std::vector<double> values, double share) {
    const auto place = values.begin() +
                       static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size() - 1));
    std::nth_element(values.begin(), place, values.end());
    return *place;
}

/// From the ankles to the top of the head, or to the head's middle and what is usually above it.
std::optional<double> tallness(const model::LandmarkTrack& track, int frame) {
    const auto feet = middleOf(track, frame, Landmark::leftAnkle, Landmark::rightAnkle);
    const auto head = pointAt(track, frame, Landmark::head);
    if (!feet || !head) {
        return std::nullopt;
    }
    // Shares of standing height, Drillis and Contini 1966: ankles at 4 %, the ears' height at 94 %.
    constexpr double between = 0.90;
    return std::hypot(head->x() - feet->x(), head->y() - feet->y()) / between;
}

constexpr std::array limbs{
    std::pair{Landmark::leftShoulder, Landmark::rightShoulder},
    std::pair{Landmark::leftHip, Landmark::rightHip},
    std::pair{Landmark::leftShoulder, Landmark::leftHip},
    std::pair{Landmark::rightShoulder, Landmark::rightHip},
    std::pair{Landmark::leftShoulder, Landmark::leftElbow},
    std::pair{Landmark::rightShoulder, Landmark::rightElbow},
    std::pair{Landmark::leftElbow, Landmark::leftWrist},
    std::pair{Landmark::rightElbow, Landmark::rightWrist},
    std::pair{Landmark::leftHip, Landmark::leftKnee},
    std::pair{Landmark::rightHip, Landmark::rightKnee},
    std::pair{Landmark::leftKnee, Landmark::leftAnkle},
    std::pair{Landmark::rightKnee, Landmark::rightAnkle},
    std::pair{Landmark::leftHeel, Landmark::leftToe},
    std::pair{Landmark::rightHeel, Landmark::rightToe},
    std::pair{Landmark::implementButt, Landmark::implementTip},
};

constexpr double groundShare = 0.9; ///< of the panel's height, down to the ground

/// A light line on a dark edge reads on any film.
void onEdge(QPainter& painter, const QColor& colour, double width, Qt::PenStyle style,
            const auto& draw) {
    constexpr double edge = 1.6;
    painter.setPen(QPen(nearBlack, width + edge, style, Qt::RoundCap));
    draw();
    painter.setPen(QPen(colour, width, style, Qt::RoundCap));
    draw();
}

} // namespace

double StandingPlayer::hipsAt(int frame) const {
    return hipsPx.empty() ? 0.0 : betweenFrames(hipsPx, frame);
}

std::optional<StandingPlayer> standingPlayer(const model::LandmarkTrack& track,
                                             std::optional<double> bodyHeightPx) {
    StandingPlayer player;
    std::vector<double> feet;
    std::vector<double> tall;
    for (const auto& [frame, landmarks] : track) {
        if (const auto hips = middleOf(track, frame, Landmark::leftHip, Landmark::rightHip)) {
            player.hipsPx[frame] = hips->x();
        }
        std::optional<double> lowest;
        for (const Landmark foot :
             {Landmark::leftHeel, Landmark::rightHeel, Landmark::leftToe, Landmark::rightToe,
              Landmark::leftAnkle, Landmark::rightAnkle}) {
            if (const auto at = pointAt(track, frame, foot)) {
                lowest = std::max(lowest.value_or(at->y()), at->y());
            }
        }
        if (lowest) {
            feet.push_back(*lowest);
        }
        if (const auto height = tallness(track, frame)) {
            tall.push_back(*height);
        }
    }
    if (feet.empty() || player.hipsPx.empty() || (!bodyHeightPx && tall.empty())) {
        return std::nullopt;
    }
    constexpr double mostly = 0.8;  // a foot's low points; single landmarks may be wild
    constexpr double upright = 0.9; // players stand tall only at times
    player.groundPx = quantile(std::move(feet), mostly);
    player.heightPx =
        bodyHeightPx.value_or(tall.empty() ? 0.0 : quantile(std::move(tall), upright));
    return player.heightPx > 0.0 ? std::optional(std::move(player)) : std::nullopt;
}

QTransform standingMap(const PairSide& side, const QRectF& panel, double heightShare,
                       bool mirrored) {
    const double scale = heightShare * panel.height() / side.player.heightPx;
    const auto [least, most] =
        std::minmax_element(side.player.hipsPx.begin(), side.player.hipsPx.end(),
                            [](const auto& a, const auto& b) { return a.second < b.second; });
    constexpr double reach = 0.9; // standing heights beside the hips, both sides together
    const bool hasRoom =
        scale * (most->second - least->second + reach * side.player.heightPx) <= panel.width();
    const double middle =
        hasRoom ? (least->second + most->second) / 2 : side.player.hipsAt(side.frame);
    QTransform map;
    map.translate(panel.center().x(), panel.top() + groundShare * panel.height());
    map.scale(mirrored ? -scale : scale, scale);
    map.translate(-middle, -side.player.groundPx);
    return map;
}

QTransform mapOver(const PairSide& side, const QTransform& here, const PairSide& other,
                   const QTransform& there, const PairAnchor& anchor) {
    const auto a = anchor.here ? pointAt(*side.landmarks, side.frame, *anchor.here) : std::nullopt;
    const auto b =
        anchor.there ? pointAt(*other.landmarks, other.frame, *anchor.there) : std::nullopt;
    QPointF way;
    if (a && b) {
        way = here.map(*a) - there.map(*b);
    } else {
        const QPointF standsHere(side.player.hipsAt(side.frame), side.player.groundPx);
        const QPointF standsThere(other.player.hipsAt(other.frame), other.player.groundPx);
        way = here.map(standsHere) - there.map(standsThere);
    }
    return there * QTransform::fromTranslate(way.x(), way.y());
}

void paintSide(QPainter& painter, const QRectF& panel, const PairSide& side, const QTransform& map,
               const ConstructStyle& style) {
    painter.save();
    painter.setClipRect(panel, Qt::IntersectClip);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    if (!side.picture.isNull()) {
        painter.save();
        painter.setTransform(map, true);
        // Pixel (0, 0) is centred on the origin.
        painter.drawImage(QRectF(QPointF(-0.5, -0.5), side.pictureSize), side.picture);
        painter.restore();
    }
    paintConstructs(painter, constructsOn(side.frame, side.readings), map, style);
    painter.restore();
}

void paintBodyLines(QPainter& painter, const PairSide& side, const QTransform& map, bool dashed) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const model::Side dominant =
        side.hand == model::Hand::right ? model::Side::right : model::Side::left;
    const Qt::PenStyle style = dashed ? Qt::DashLine : Qt::SolidLine;
    constexpr double width = 2.4;
    for (const auto& [from, to] : limbs) {
        const auto a = pointAt(*side.landmarks, side.frame, from);
        const auto b = pointAt(*side.landmarks, side.frame, to);
        if (!a || !b) {
            continue;
        }
        const bool across = model::sideOf(from) != model::sideOf(to) || !model::sideOf(from);
        const model::Role role = across                            ? model::Role::trunk
                                 : model::sideOf(from) == dominant ? model::Role::throwingSide
                                                                   : model::Role::otherSide;
        onEdge(painter, roleColour(role), width, style,
               [&] { painter.drawLine(map.map(*a), map.map(*b)); });
    }
    if (const auto head = pointAt(*side.landmarks, side.frame, Landmark::head)) {
        constexpr double headShare = 0.065; // half a head's height, of standing height
        const double radius = headShare * side.player.heightPx * std::abs(map.m22());
        painter.setBrush(Qt::NoBrush);
        onEdge(painter, roleColour(model::Role::trunk), width, style,
               [&] { painter.drawEllipse(map.map(*head), radius, radius); });
    }
    painter.restore();
}

void paintAid(QPainter& painter, const QRectF& panel, const PairSide& side, const QTransform& map,
              PairAid aid, std::optional<model::Landmark> anchor) {
    if (aid == PairAid::none) {
        return;
    }
    painter.save();
    painter.setClipRect(panel, Qt::IntersectClip);
    painter.setRenderHint(QPainter::Antialiasing);
    const QColor colour = roleColour(model::Role::reference);
    const double unit = side.player.heightPx * std::abs(map.m22());
    const double ground = map.map(QPointF(0.0, side.player.groundPx)).y();
    constexpr double thin = 1.2;
    const auto at = anchor ? pointAt(*side.landmarks, side.frame, *anchor) : std::nullopt;
    if (aid == PairAid::heightGrid) {
        constexpr int quarters = 5;
        for (int i = 0; i <= quarters; ++i) {
            const double y = ground - 0.25 * i * unit;
            onEdge(painter, colour, thin, i % 4 == 0 ? Qt::SolidLine : Qt::DashLine,
                   [&] { painter.drawLine(QPointF(panel.left(), y), QPointF(panel.right(), y)); });
        }
    } else if (at && aid == PairAid::plumbLine) {
        const QPointF through = map.map(*at);
        onEdge(painter, colour, thin, Qt::SolidLine, [&] {
            painter.drawLine(QPointF(through.x(), panel.top()), QPointF(through.x(), ground));
        });
    } else if (at) {
        const QPointF middle = map.map(*at);
        constexpr double dial = 0.3; // standing heights
        const double radius = dial * unit;
        painter.setBrush(Qt::NoBrush);
        onEdge(painter, colour, thin, Qt::SolidLine,
               [&] { painter.drawEllipse(middle, radius, radius); });
        constexpr int hours = 12;
        for (int hour = 0; hour < hours; ++hour) {
            const double angle = 2.0 * std::numbers::pi * hour / hours;
            const QPointF way(std::sin(angle), -std::cos(angle));
            const double inner = hour % 3 == 0 ? 0.8 : 0.9;
            onEdge(painter, colour, thin, Qt::SolidLine,
                   [&] { painter.drawLine(middle + inner * radius * way, middle + radius * way); });
        }
    }
    painter.restore();
}

} // namespace kestrel::report
