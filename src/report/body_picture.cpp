#include "report/body_picture.h"

#include "report/palette.h"

#include <QFontMetricsF>
#include <QPolygonF>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <span>

namespace kestrel::report {
namespace {

using Eigen::Vector3d;
using model::Landmark;

double radians(double degrees) {
    return model::toRadians(model::Degrees(degrees));
}

/// A part of the body as a rod: round ends at its two landmarks, in standing heights thick.
struct Rod {
    Landmark from;
    Landmark to;
    double thick;
};

/// About as thick as limbs are (de Leva 1996 has their masses).
constexpr std::array rods{
    Rod{Landmark::leftHip, Landmark::leftKnee, 0.075},
    Rod{Landmark::rightHip, Landmark::rightKnee, 0.075},
    Rod{Landmark::leftKnee, Landmark::leftAnkle, 0.055},
    Rod{Landmark::rightKnee, Landmark::rightAnkle, 0.055},
    Rod{Landmark::leftHeel, Landmark::leftToe, 0.035},
    Rod{Landmark::rightHeel, Landmark::rightToe, 0.035},
    Rod{Landmark::leftShoulder, Landmark::leftElbow, 0.050},
    Rod{Landmark::rightShoulder, Landmark::rightElbow, 0.050},
    Rod{Landmark::leftElbow, Landmark::leftWrist, 0.040},
    Rod{Landmark::rightElbow, Landmark::rightWrist, 0.040},
    Rod{Landmark::leftWrist, Landmark::leftHand, 0.040},
    Rod{Landmark::rightWrist, Landmark::rightHand, 0.040},
};

constexpr std::array trunkCorners{Landmark::leftShoulder, Landmark::rightShoulder,
                                  Landmark::rightHip, Landmark::leftHip};

/// Level axes onto paper, as from very far away.
class Projection {
  public:
    Projection(const QRectF& place, const BodyView& view, const Vector3d& middle)
        : around_(radians(view.aroundDeg)), above_(radians(view.aboveDeg)), middle_(middle) {
        constexpr double heightShare = 0.62; // of the place, a standing height
        constexpr double widthShare = 1.0;
        unit_ = std::min(heightShare * place.height(), widthShare * place.width());
        origin_ = place.center();
    }

    /// To the right, upwards on paper, and towards the one who looks.
    [[nodiscard]] Vector3d turned(const Vector3d& place) const {
        const Vector3d p = place - middle_;
        const double right = std::cos(around_) * p.x() + std::sin(around_) * p.y();
        const double away = -std::sin(around_) * p.x() + std::cos(around_) * p.y();
        return {right, std::cos(above_) * p.z() + std::sin(above_) * away,
                std::sin(above_) * p.z() - std::cos(above_) * away};
    }
    [[nodiscard]] QPointF at(const Vector3d& place) const {
        const Vector3d p = turned(place);
        return origin_ + QPointF(p.x(), -p.y()) * unit_;
    }
    [[nodiscard]] double nearness(const Vector3d& place) const { return turned(place).z(); }
    [[nodiscard]] double unit() const { return unit_; }

  private:
    double around_;
    double above_;
    Vector3d middle_;
    double unit_ = 1.0;
    QPointF origin_;
};

class BodyPainting {
  public:
    BodyPainting(QPainter& painter, const QRectF& place, const BodyScene& scene,
                 const BodyView& view)
        : painter_(painter),
          scene_(scene),
          hips_(0.5 * (at(Landmark::leftHip) + at(Landmark::rightHip))),
          projection_(place, view, middle()),
          place_(place),
          fromAbove_(view.aboveDeg) {}

    void paint() {
        if (scene_.light) {
            sticks();
            return;
        }
        ground();
        targetLine();
        shadow();
        for (std::size_t draw = 0; draw < scene_.body.drawCount(); draw += every) {
            softBody(draw);
        }
        firmBody();
        targetName();
        construct();
    }

  private:
    static constexpr std::size_t every = 8; ///< of the draws, one is drawn
    static constexpr double gridStep = 0.5; ///< standing heights

    [[nodiscard]] Vector3d at(Landmark landmark) const {
        return scene_.body.place({landmark, scene_.time});
    }
    [[nodiscard]] Vector3d onGround(Vector3d place) const {
        place.z() = scene_.body.groundBh();
        return place;
    }
    /// What stays in the middle: over the ground below the hips, at half of a standing height.
    [[nodiscard]] Vector3d middle() const {
        Vector3d middle = onGround(hips_);
        middle.z() += 0.5;
        return middle;
    }
    [[nodiscard]] QColor colourOf(Landmark landmark) const {
        return model::sideOf(landmark) == scene_.dominant ? chestnut : slate;
    }

    void ground() {
        constexpr int lines = 3; // to each side
        QColor faint = slate;
        constexpr int faintAlpha = 60;
        faint.setAlpha(faintAlpha);
        painter_.setPen(QPen(faint, 1.0));
        const Vector3d centre = onGround(hips_);
        const auto snapped = [](double v) { return gridStep * std::round(v / gridStep); };
        const Vector3d corner(snapped(centre.x()), snapped(centre.y()), centre.z());
        const double far = lines * gridStep;
        for (int i = -lines; i <= lines; ++i) {
            const double off = i * gridStep;
            painter_.drawLine(projection_.at(corner + Vector3d(off, -far, 0.0)),
                              projection_.at(corner + Vector3d(off, far, 0.0)));
            painter_.drawLine(projection_.at(corner + Vector3d(-far, off, 0.0)),
                              projection_.at(corner + Vector3d(far, off, 0.0)));
        }
    }

    [[nodiscard]] Vector3d towardsTarget() const {
        return {std::cos(*scene_.targetAzimuth), std::sin(*scene_.targetAzimuth), 0.0};
    }
    /// How far the line to the target runs from below the hips, to both sides.
    [[nodiscard]] double targetReach() const {
        constexpr double ofWidth = 0.42; // from the middle, where it runs across
        return ofWidth * place_.width() / projection_.unit();
    }
    [[nodiscard]] Vector3d targetTip() const {
        return onGround(hips_) + targetReach() * towardsTarget();
    }

    void targetLine() {
        if (!scene_.targetAzimuth) {
            return;
        }
        constexpr double head = 0.08; // of the arrow
        const Vector3d way = towardsTarget();
        const Vector3d aside(-way.y(), way.x(), 0.0);
        const Vector3d from = onGround(hips_) - targetReach() * way;
        const Vector3d tip = targetTip();
        painter_.setPen(QPen(chestnut, 2.0, Qt::DashLine));
        painter_.drawLine(projection_.at(from), projection_.at(tip));
        painter_.setPen(Qt::NoPen);
        painter_.setBrush(chestnut);
        painter_.drawPolygon(QPolygonF{projection_.at(tip),
                                       projection_.at(tip - head * (way + 0.6 * aside)),
                                       projection_.at(tip - head * (way - 0.6 * aside))});
    }

    /// Below the arrow's tip, before the body and inside the picture.
    void targetName() {
        if (!scene_.targetAzimuth) {
            return;
        }
        const QFontMetricsF metrics(painter_.font());
        const double wide = metrics.horizontalAdvance(scene_.target);
        const QPointF end = projection_.at(targetTip()) + QPointF(-0.5 * wide, metrics.height());
        const double right = place_.right() - wide;
        painter_.setPen(chestnut.darker());
        painter_.drawText(QPointF(std::max(std::min(end.x(), right), place_.left()),
                                  std::min(end.y(), place_.bottom() - metrics.descent())),
                          scene_.target);
    }

    /// Where the limbs stand over the ground; none when one looks along it.
    void shadow() {
        constexpr double flat = 4.0; // degrees
        if (fromAbove_ < flat) {
            return;
        }
        QColor dark = nearBlack;
        constexpr int shadowAlpha = 28;
        dark.setAlpha(shadowAlpha);
        for (const Rod& rod : rods) {
            rodLine(onGround(at(rod.from)), onGround(at(rod.to)), rod.thick, dark);
        }
    }

    void rodLine(const Vector3d& from, const Vector3d& to, double thick, const QColor& colour) {
        painter_.setPen(QPen(colour, thick * projection_.unit(), Qt::SolidLine, Qt::RoundCap));
        painter_.drawLine(projection_.at(from), projection_.at(to));
    }

    /// One body of those that are as likely, laid over the hips: where they part, the drawing is
    /// spread out. (How far all of it may stand elsewhere says nothing about the body.)
    void softBody(std::size_t draw) {
        const auto drawn = [&](Landmark landmark) {
            return scene_.body.drawn(draw, {landmark, scene_.time});
        };
        const Vector3d off = hips_ - 0.5 * (drawn(Landmark::leftHip) + drawn(Landmark::rightHip));
        constexpr int softAlpha = 16;
        for (const Rod& rod : rods) {
            QColor colour = colourOf(rod.from);
            colour.setAlpha(softAlpha);
            rodLine(drawn(rod.from) + off, drawn(rod.to) + off, rod.thick, colour);
        }
    }

    /// The middle lines of the limbs and the outlines of trunk and head, dashed, light on dark:
    /// what lies below stays to be seen.
    void sticks() {
        constexpr double edge = 4.6; // pixels
        constexpr double line = 2.2;
        QPolygonF outline;
        for (const Landmark corner : trunkCorners) {
            outline << projection_.at(at(corner));
        }
        const double radius = headRadius();
        painter_.setBrush(Qt::NoBrush);
        for (const QPen& pen : {QPen(nearBlack, edge, Qt::SolidLine, Qt::RoundCap),
                                QPen(cream, line, Qt::DashLine, Qt::RoundCap)}) {
            painter_.setPen(pen);
            for (const Rod& rod : rods) {
                painter_.drawLine(projection_.at(at(rod.from)), projection_.at(at(rod.to)));
            }
            painter_.drawPolygon(outline);
            painter_.drawEllipse(projection_.at(at(Landmark::head)), narrowHead * radius, radius);
        }
    }

    void firmBody() {
        struct Piece {
            double nearness;
            const Rod* rod; ///< null: the trunk with the head
        };
        std::vector<Piece> pieces;
        for (const Rod& rod : rods) {
            pieces.push_back({projection_.nearness(0.5 * (at(rod.from) + at(rod.to))), &rod});
        }
        Vector3d chest = Vector3d::Zero();
        for (const Landmark corner : trunkCorners) {
            chest += at(corner) / static_cast<double>(trunkCorners.size());
        }
        pieces.push_back({projection_.nearness(chest), nullptr});
        std::sort(pieces.begin(), pieces.end(),
                  [](const Piece& a, const Piece& b) { return a.nearness < b.nearness; });
        for (const Piece& piece : pieces) {
            if (piece.rod == nullptr) {
                trunk();
                head();
                continue;
            }
            constexpr double edge = 0.012; // standing heights
            const Vector3d from = at(piece.rod->from);
            const Vector3d to = at(piece.rod->to);
            rodLine(from, to, piece.rod->thick + edge, nearBlack);
            rodLine(from, to, piece.rod->thick, colourOf(piece.rod->from));
        }
    }

    void trunk() {
        QPolygonF outline;
        for (const Landmark corner : trunkCorners) {
            outline << projection_.at(at(corner));
        }
        constexpr double thick = 0.055; // standing heights
        painter_.setBrush(cream.darker(112));
        painter_.setPen(QPen(nearBlack, (thick + 0.012) * projection_.unit(), Qt::SolidLine,
                             Qt::RoundCap, Qt::RoundJoin));
        painter_.drawPolygon(outline);
        painter_.setPen(QPen(cream.darker(112), thick * projection_.unit(), Qt::SolidLine,
                             Qt::RoundCap, Qt::RoundJoin));
        painter_.drawPolygon(outline);
        // The line through the shoulders and the one through the hips tell the turns apart.
        painter_.setPen(QPen(nearBlack, 1.4));
        painter_.drawLine(outline[0], outline[1]);
        painter_.setPen(QPen(nearBlack, 1.4, Qt::DashLine));
        painter_.drawLine(outline[2], outline[3]);
    }

    static constexpr double narrowHead = 0.82; ///< a head is longer than it is broad

    [[nodiscard]] double headRadius() const {
        return (at(Landmark::headTop) - at(Landmark::head)).norm() * projection_.unit();
    }
    void head() {
        const Vector3d middle = at(Landmark::head);
        const double radius = headRadius();
        painter_.setPen(QPen(nearBlack, 1.2));
        painter_.setBrush(cream.darker(106));
        painter_.drawEllipse(projection_.at(middle), narrowHead * radius, radius);
    }

    [[nodiscard]] Vector3d meanOf(const BodyPoint& point) const {
        Vector3d sum = Vector3d::Zero();
        for (const auto& [landmark, weight] : point) {
            sum += weight * at(landmark);
        }
        return sum;
    }

    void construct() {
        std::optional<QPointF> labelAt;
        for (const std::vector<BodyPoint>& line : scene_.lines) {
            QPolygonF path;
            for (const BodyPoint& point : line) {
                path << projection_.at(meanOf(point));
            }
            painter_.setBrush(Qt::NoBrush);
            painter_.setPen(QPen(nearBlack, 5.0, Qt::SolidLine, Qt::RoundCap));
            painter_.drawPolyline(path);
            painter_.setPen(QPen(roleColour(model::Role::trunk), 2.6, Qt::SolidLine, Qt::RoundCap));
            painter_.drawPolyline(path);
            if (!labelAt && !path.isEmpty()) {
                labelAt = path[path.size() / 2];
            }
        }
        if (!labelAt || scene_.label.isEmpty()) {
            return;
        }
        QFont font = painter_.font();
        font.setBold(true);
        painter_.setFont(font);
        const QRectF box = QFontMetricsF(font).boundingRect(scene_.label).adjusted(-5, -2, 5, 2);
        constexpr double beside = 14.0;
        const QRectF place(*labelAt + QPointF(beside, -beside - box.height()), box.size());
        painter_.setPen(Qt::NoPen);
        painter_.setBrush(nearBlack);
        painter_.drawRoundedRect(place, 3, 3);
        painter_.setPen(cream);
        painter_.drawText(place, Qt::AlignCenter, scene_.label);
    }

    QPainter& painter_;
    const BodyScene& scene_;
    Vector3d hips_;
    Projection projection_;
    QRectF place_;
    double fromAbove_;
};

} // namespace

void paintBody(QPainter& painter, const QRectF& place, const BodyScene& scene,
               const BodyView& view) {
    if (!scene.body.covers(scene.time)) {
        return;
    }
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(place);
    BodyPainting(painter, place, scene, view).paint();
    painter.restore();
}

} // namespace kestrel::report
