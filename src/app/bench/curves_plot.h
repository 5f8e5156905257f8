#pragma once

#include "desk/open_clip.h"
#include "technique/kinds/sequence.h"

#include <QString>
#include <QWidget>

#include <optional>
#include <vector>

namespace kestrel::app {

class ClipMap;

/// One curve with its 95 % band; each is drawn to its own height.
struct PlottedCurve {
    QString name;
    model::Unit unit = model::Unit::degrees;
    std::vector<technique::CurvePoint> points;
    std::optional<technique::CurvePeak> peak; ///< marked, numbered in the order of the curves
    std::optional<technique::CurvePoint> numberedAt; ///< where the number stands without a peak
};

/// What the lower edge of a plot stands for.
enum class PlotFoot {
    zero,
    lowest,       ///< the curve's lowest value
    minusHighest, ///< zero, which is drawn, is half-way up
};

/// Curves over the frames that the clip's map shows, with the key positions; a click goes to the
/// frame.
class CurvesPlot : public QWidget {
    Q_OBJECT
  public:
    CurvesPlot(desk::OpenClip& open, ClipMap& map, QWidget* parent = nullptr);

    /// Empty `curves` leave the axis empty. `good` is shaded behind a single curve.
    void setCurves(std::vector<PlottedCurve> curves, PlotFoot foot,
                   const std::optional<model::Range>& good = std::nullopt);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    bool event(QEvent* event) override;

  private:
    struct Scale {
        double low = 0.0;
        double high = 1.0;
    };
    [[nodiscard]] Scale scaleOf(const PlottedCurve& curve) const;
    [[nodiscard]] double placeOfTime(double time) const;
    [[nodiscard]] double heightOf(double value, const Scale& scale) const;
    void paintPositions(QPainter& painter) const;
    void paintCurve(QPainter& painter, std::size_t number) const;
    void paintPeaks(QPainter& painter) const;
    void paintNumber(QPainter& painter, std::size_t number, QPointF at) const;

    desk::OpenClip& open_;
    ClipMap& map_;
    std::vector<PlottedCurve> curves_;
    PlotFoot foot_ = PlotFoot::zero;
    std::optional<model::Range> good_;
};

} // namespace kestrel::app
