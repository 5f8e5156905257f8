#include "app/film/ground_plan.h"

#include "report/palette.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace kestrel::app {
namespace {

constexpr double margin = 20.0;
constexpr double forTarget = 14.0; ///< room for the word above the points
constexpr double spotRadius = 7.0;

} // namespace

GroundPlan::GroundPlan(QWidget* parent) : QWidget(parent) {
    setObjectName("groundPlan");
    setAccessibleName(tr("The place from above"));
    setMinimumHeight(150);
}

void GroundPlan::show(const technique::GroundPlace& place, const std::set<std::string>& marked,
                      const std::string& asked) {
    place_ = place;
    marked_ = marked;
    asked_ = asked;
    update();
}

std::optional<QPointF> GroundPlan::spotOf(const std::string& point) const {
    if (!place_) {
        return std::nullopt;
    }
    // Rank by rank, so that points 20 cm and 18 m apart can both be told apart and pressed: this
    // is a plan of what lies before what, not a scale drawing.
    const auto rank = [&](int axis, double at) {
        std::set<double> all;
        for (const technique::GroundPoint& p : place_->points) {
            all.insert(p.at[axis]);
        }
        const auto place = std::distance(all.begin(), all.find(at));
        return all.size() < 2 ? 0.5
                              : static_cast<double>(place) / static_cast<double>(all.size() - 1);
    };
    const auto found = std::find_if(place_->points.begin(), place_->points.end(),
                                    [&](const auto& p) { return p.id == point; });
    if (found == place_->points.end()) {
        return std::nullopt;
    }
    // Target up: x of the ground runs upwards, y to the left.
    return QPointF(margin + (1.0 - rank(1, found->at.y())) * (width() - 2.0 * margin),
                   margin + forTarget +
                       (1.0 - rank(0, found->at.x())) * (height() - 2.0 * margin - forTarget));
}

void GroundPlan::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), report::cream);
    painter.setPen(QPen(report::slate, 1.0));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
    if (!place_) {
        return;
    }
    painter.drawText(QRectF(0, 2, width(), forTarget + 4), Qt::AlignCenter, tr("▲ target"));
    int number = 0;
    for (const technique::GroundPoint& point : place_->points) {
        ++number;
        const QPointF at = *spotOf(point.id);
        const bool marked = marked_.contains(point.id);
        const bool asked = point.id == asked_;
        painter.setPen(QPen(asked ? report::chestnut : report::slate, asked ? 2.6 : 1.4));
        painter.setBrush(marked ? report::slate : report::cream);
        const double radius = asked ? spotRadius + 3.0 : spotRadius;
        painter.drawEllipse(at, radius, radius);
        painter.setPen(marked ? report::cream : report::nearBlack);
        painter.drawText(QRectF(at.x() - 12, at.y() - 10, 24, 20), Qt::AlignCenter,
                         QString::number(number));
    }
}

void GroundPlan::mouseReleaseEvent(QMouseEvent* event) {
    if (!place_) {
        return;
    }
    for (const technique::GroundPoint& point : place_->points) {
        const QPointF way = event->position() - *spotOf(point.id);
        if (std::hypot(way.x(), way.y()) <= 2.0 * spotRadius) {
            emit chosen(QString::fromStdString(point.id));
            return;
        }
    }
}

} // namespace kestrel::app
