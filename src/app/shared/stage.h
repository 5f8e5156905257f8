#pragma once

#include "desk/open_clip.h"

#include <QTransform>
#include <QWidget>

#include <optional>

namespace kestrel::app {

/// Shows the frame looked at, with landmarks and constructs on it; zooms and pans. Coordinates in
/// its signals are picture pixels with sub-pixel precision.
class Stage : public QWidget {
    Q_OBJECT
  public:
    explicit Stage(desk::OpenClip& open, QWidget* parent = nullptr);

    /// Landmarks are drawn, and clicks on the picture are reported, only on the Bench.
    void setPlacing(bool placing);
    /// The landmark drawn as the chosen one.
    void setSelected(std::optional<model::Landmark> landmark);
    /// The readings whose constructs are drawn.
    void setReadings(std::vector<model::Reading> readings);

    /// Drawn over every frame: lines on the ground, and marks above them.
    struct Guides {
        std::vector<technique::SeenLine> grid;
        technique::SeenLine horizon; ///< empty: none is shown
        std::vector<model::Construct> marks;
    };
    void setGuides(Guides guides);
    /// Clicks on the picture are reported without landmarks being drawn.
    void setReportingClicks(bool reporting);

    void fit();
    void zoomBy(double factor, QPointF around);
    [[nodiscard]] QTransform pictureToWidget() const;

    /// The frame whose own picture was painted last; −1 while another one stands in for it.
    [[nodiscard]] int paintedFrame() const { return paintedFrame_; }
    /// How often the stage was painted since the start.
    [[nodiscard]] int paints() const { return paints_; }

    [[nodiscard]] QSize sizeHint() const override { return {720, 420}; }

  signals:
    /// The pointer is over this spot of the picture.
    void pointed(QPointF picture);
    void clicked(QPointF picture);
    /// A landmark was dragged to a new place and let go there.
    void dragged(kestrel::model::Landmark landmark, QPointF picture);
    void picked(kestrel::model::Landmark landmark);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    [[nodiscard]] QPointF toPicture(QPointF widget) const;
    [[nodiscard]] std::optional<model::Landmark> landmarkAt(QPointF widget) const;
    void paintLandmarks(QPainter& painter) const;
    void paintGrid(QPainter& painter) const;
    void paintHorizon(QPainter& painter, const QTransform& map) const;

    desk::OpenClip& open_;
    bool placing_ = false;
    std::optional<model::Landmark> selected_;
    std::vector<model::Reading> readings_;
    Guides guides_;
    bool reportingClicks_ = false;
    QImage shown_; ///< the nearest picture that was in memory
    int paintedFrame_ = -1;
    int paints_ = 0;
    double zoom_ = 1.0; ///< 1 shows the whole picture
    QPointF centre_;    ///< picture point in the middle
    std::optional<QPointF> panFrom_;
    std::optional<model::Landmark> pressedOn_;
    QPointF pressedAt_;
    QPointF dragTo_;
    bool moved_ = false;
};

} // namespace kestrel::app
