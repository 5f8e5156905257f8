#pragma once

#include "desk/body_fitting.h"
#include "desk/open_clip.h"
#include "model/reading.h"
#include "report/body_picture.h"

#include <QWidget>

#include <optional>
#include <vector>

class QLabel;
class QToolButton;

namespace kestrel::app {

/// The picture of the body itself; turned by dragging.
class BodyCanvas : public QWidget {
    Q_OBJECT
  public:
    explicit BodyCanvas(const desk::OpenClip& open, QWidget* parent = nullptr);

    [[nodiscard]] const report::BodyView& view() const { return view_; }
    void setView(const report::BodyView& view);
    /// The measure that is drawn out; empty: none.
    void setMeasure(const std::string& measureId);

    [[nodiscard]] QSize sizeHint() const override { return {300, 360}; }

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void turnBy(double aroundDeg, double aboveDeg);

    const desk::OpenClip& open_;
    report::BodyView view_;
    std::string measure_;
    std::optional<QPointF> dragged_;
};

/// The player's body in space beside the film, in step with it: from the side, from the front,
/// from above, as it was filmed, or as it is turned. Says when it is being worked out, and why
/// there is none.
class BodyPanel : public QWidget {
    Q_OBJECT
  public:
    BodyPanel(const desk::OpenClip& open, const desk::BodyFitting& fitting,
              QWidget* parent = nullptr);

    void setMeasure(const std::string& measureId) { canvas_->setMeasure(measureId); }
    void lookFromSide();
    void lookFromFront();
    void lookFromAbove();
    void lookAsFilmed();

  private:
    void refresh();
    /// Looks along or across the target line, at this height.
    void lookFrom(double fromTargetDeg, double aboveDeg);

    const desk::OpenClip& open_;
    BodyCanvas* canvas_ = nullptr;
    QLabel* says_ = nullptr;
    std::optional<double> share_; ///< of the work on the body
};

} // namespace kestrel::app
