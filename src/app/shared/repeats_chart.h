#pragma once

#include "coaching/normalised_curves.h"
#include "technique/pack/pack.h"

#include <QtCharts/QChartView>

namespace kestrel::app {

/// A measure's courses over several reps on one scale of time: each rep thin, their mean thick, a
/// band of one standard deviation, the key positions below. Of two reps the first is a thick line
/// and the second a dashed one.
class RepeatsChart : public QChartView {
    Q_OBJECT
  public:
    explicit RepeatsChart(QWidget* parent = nullptr);

    void setCurves(const technique::Pack& pack, const technique::Measure& measure,
                   const coaching::NormalisedCurves& curves);
};

} // namespace kestrel::app
