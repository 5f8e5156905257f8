#pragma once

#include "desk/comparison.h"
#include "desk/open_clip.h"
#include "report/body_picture.h"
#include "report/pair_picture.h"

#include <QWidget>

#include <array>
#include <optional>
#include <string>

namespace kestrel::app {

/// Both reps' frames at the same body size on one ground line: beside or over each other, or as
/// bodies in space seen from one side. Each side can be zoomed alone.
class PairStage : public QWidget {
    Q_OBJECT
  public:
    enum class Lay { beside, over, inSpace };
    /// How the other one is laid over.
    enum class Other { asLines, asPicture };

    PairStage(desk::OpenClip& open, desk::Comparison& comparison, QWidget* parent = nullptr);

    void setLay(Lay lay);
    [[nodiscard]] Lay lay() const { return lay_; }
    void setOther(Other other);
    /// Whether the other one is shown in a mirror.
    void setMirrored(bool mirrored);
    [[nodiscard]] bool mirrored() const { return mirrored_; }
    /// What lies on what, by a role of the pack; empty: the ground. The aid is tied to it, too.
    void setAnchor(const std::string& role);
    void setAid(report::PairAid aid);
    /// The reading that is drawn on both; empty: none.
    void setMeasure(const std::string& measureId);
    /// Looks at the bodies along or across the target line, or from above.
    void lookFrom(const report::BodyView& fromTarget);
    /// Both as they were at first.
    void fit();

    /// The frames whose own pictures were painted last, of the open rep and of the other; −1 while
    /// another stands in for it or there is none.
    [[nodiscard]] std::pair<int, int> paintedFrames() const { return painted_; }

    [[nodiscard]] QSize sizeHint() const override { return {720, 420}; }

  protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

  private:
    /// How one side is looked at, besides as it lies at first.
    struct Zoom {
        double factor = 1.0;
        QPointF moved; ///< widget pixels, after zooming round the panel's middle
    };
    [[nodiscard]] std::array<QRectF, 2> panels() const;
    [[nodiscard]] std::size_t panelAt(QPointF place) const;
    [[nodiscard]] std::optional<report::PairSide> sideHere() const;
    [[nodiscard]] std::optional<report::PairSide> sideThere() const;
    [[nodiscard]] QTransform zoomed(QTransform map, std::size_t side, const QRectF& panel) const;
    [[nodiscard]] std::optional<model::Landmark> anchorOf(const prepare::JudgedRep& rep) const;
    void paintPictures(QPainter& painter);
    void paintBodies(QPainter& painter);
    void paintBodyOf(QPainter& painter, const QRectF& panel, const prepare::JudgedRep& rep,
                     int frame, bool mirror, bool light) const;
    void paintMissing(QPainter& painter, const QRectF& panel, const QString& why) const;
    void paintTitle(QPainter& painter, const QRectF& panel, const QString& title) const;

    desk::OpenClip& open_;
    desk::Comparison& comparison_;
    Lay lay_ = Lay::beside;
    Other other_ = Other::asLines;
    bool mirrored_ = false;
    std::string anchor_;
    report::PairAid aid_ = report::PairAid::none;
    std::string measure_;
    report::BodyView view_;
    std::array<Zoom, 2> zooms_;
    std::optional<QPointF> dragged_;
    std::size_t draggedSide_ = 0;
    std::pair<int, int> painted_{-1, -1};
};

/// What the other rep is, for its picture: “3 October 2026”, “Pitch 2”, “Pose model”.
QString otherTitle(const desk::Comparison& comparison, const desk::OpenClip& open);

} // namespace kestrel::app
