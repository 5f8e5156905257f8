#include "app/shared/repeats_chart.h"

#include "report/palette.h"

#include <QtCharts/QAreaSeries>
#include <QtCharts/QCategoryAxis>
#include <QtCharts/QChart>
#include <QtCharts/QLineSeries>
#include <QtCharts/QValueAxis>

#include <algorithm>
#include <cmath>

namespace kestrel::app {
namespace {

constexpr int chartHeight = 210;

/// Places where a rep has a value, in stretches without a gap.
std::vector<QList<QPointF>> stretches(const std::vector<std::optional<double>>& rep) {
    std::vector<QList<QPointF>> all(1);
    for (std::size_t place = 0; place < rep.size(); ++place) {
        if (rep[place]) {
            all.back() << QPointF(static_cast<double>(place), *rep[place]);
        } else if (!all.back().isEmpty()) {
            all.emplace_back();
        }
    }
    return all;
}

} // namespace

RepeatsChart::RepeatsChart(QWidget* parent) : QChartView(parent) {
    setObjectName("repeatsChart");
    setAccessibleName(tr("Courses over the reps"));
    setFixedHeight(chartHeight);
    setRenderHint(QPainter::Antialiasing);
    chart()->legend()->hide();
    chart()->setMargins({0, 0, 0, 0});
    chart()->setBackgroundBrush(QColor(0xFF, 0xFB, 0xF2));
}

namespace {

/// The time scale with the names of the positions.
QCategoryAxis* positionAxis(const technique::Pack& pack, const coaching::NormalisedCurves& curves) {
    auto* across = new QCategoryAxis;
    across->setRange(0.0, 100.0);
    across->setLabelsPosition(QCategoryAxis::AxisLabelsPositionOnValue);
    across->setTruncateLabels(false);
    // Names that would run into each other are left out; both ends stay.
    constexpr double apart = 22.0; // of the scale
    double last = -apart;
    for (const auto& mark : curves.marks) {
        const bool end = &mark == &curves.marks.back();
        if (end || (mark.place - last >= apart && 100.0 - mark.place >= apart)) {
            across->append(
                QString::fromStdString(technique::findPosition(pack, mark.positionId)->name),
                mark.place);
            last = mark.place;
        }
    }
    return across;
}

} // namespace

void RepeatsChart::setCurves(const technique::Pack& pack, const technique::Measure& measure,
                             const coaching::NormalisedCurves& curves) {
    chart()->removeAllSeries();
    for (QAbstractAxis* axis : chart()->axes()) {
        chart()->removeAxis(axis);
        delete axis;
    }
    auto* across = positionAxis(pack, curves);
    auto* up = new QValueAxis;
    up->setTitleText(QString::fromUtf8(name(measure.unit).data()));
    up->setLabelFormat(measure.unit == model::Unit::degrees ? "%.0f" : "%.2f");
    chart()->addAxis(across, Qt::AlignBottom);
    chart()->addAxis(up, Qt::AlignLeft);
    double low = INFINITY;
    double high = -INFINITY;
    const auto put = [&](QAbstractSeries* series) {
        chart()->addSeries(series);
        series->attachAxis(across);
        series->attachAxis(up);
    };
    if (!curves.band.empty()) {
        auto* upper = new QLineSeries;
        auto* lower = new QLineSeries;
        auto* mean = new QLineSeries;
        for (const auto& p : curves.band) {
            upper->append(p.place, p.mean + p.sd);
            lower->append(p.place, p.mean - p.sd);
            mean->append(p.place, p.mean);
        }
        auto* band = new QAreaSeries(upper, lower);
        upper->setParent(band);
        lower->setParent(band);
        band->setPen(Qt::NoPen);
        QColor shade = report::chestnut;
        constexpr int shadeAlpha = 60;
        shade.setAlpha(shadeAlpha);
        band->setBrush(shade);
        put(band);
        mean->setPen(QPen(report::chestnut, 2.6));
        put(mean);
    }
    const bool pair = curves.reps.size() == 2;
    for (const auto& rep : curves.reps) {
        const bool first = &rep == &curves.reps.front();
        const QPen pen = !pair   ? QPen(report::slate, 0.9)
                         : first ? QPen(report::chestnut, 2.6)
                                 : QPen(report::slate, 2.0, Qt::DashLine);
        for (const QList<QPointF>& stretch : stretches(rep)) {
            auto* line = new QLineSeries;
            line->append(stretch);
            line->setPen(pen);
            put(line);
            for (const QPointF& p : stretch) {
                low = std::min(low, p.y());
                high = std::max(high, p.y());
            }
        }
    }
    constexpr double margin = 0.05;
    const double room = std::max(1e-6, high - low);
    up->setRange(low - margin * room, high + margin * room);
}

} // namespace kestrel::app
