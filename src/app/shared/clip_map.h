#pragma once

#include "app/shared/thumbnails.h"
#include "desk/clip_edits.h"
#include "desk/open_clip.h"

#include <QWidget>

#include <optional>

namespace kestrel::app {

/// The clip's map: thumbnails, what moves when, the reps, where landmarks are and the key positions
/// on one axis of frames, from the whole clip down to single frames. The coach moves through the
/// clip by it.
class ClipMap : public QWidget {
    Q_OBJECT
  public:
    ClipMap(desk::OpenClip& open, desk::ClipEdits& clipEdits, Thumbnails& thumbnails,
            QWidget* parent = nullptr);

    [[nodiscard]] QSize sizeHint() const override { return {600, 104}; }
    /// The frame under a horizontal place of the widget.
    [[nodiscard]] int frameAt(double x) const;
    /// The horizontal place of a frame's middle.
    [[nodiscard]] double placeOf(int frame) const;
    /// The frames in view.
    [[nodiscard]] model::FrameSpan inView() const;

    void showWholeClip();
    void showRep();
    /// These frames with a little room to both sides.
    void show(model::FrameSpan span);
    /// Zooms by `factor` round a horizontal place: above 1 goes nearer.
    void zoom(double factor, double x);
    void zoom(double factor) { zoom(factor, placeOf(open_.frame())); }

  signals:
    void viewChanged(); ///< other frames are in view, or at other places

  protected:
    void resizeEvent(QResizeEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    bool event(QEvent* event) override;

  private:
    /// An end of a rep that is being dragged.
    struct Edge {
        model::RepId rep;
        bool last = false;
        int frame = 0;
    };

    void setView(double from, double frames);
    void follow();
    [[nodiscard]] QRectF repBox(const model::FrameSpan& span) const;
    [[nodiscard]] std::optional<Edge> edgeAt(QPointF place) const;
    [[nodiscard]] model::FrameSpan spanOf(const model::Rep& rep) const;
    void paintThumbnails(QPainter& painter);
    void paintEnergy(QPainter& painter) const;
    void paintEdits(QPainter& painter) const;
    [[nodiscard]] QString energyTip(double x) const;
    void paintReps(QPainter& painter) const;
    void paintMarks(QPainter& painter) const;

    desk::OpenClip& open_;
    desk::ClipEdits& clipEdits_;
    Thumbnails& thumbnails_;
    double from_ = 0.0;    ///< first frame in view, its left edge
    double frames_ = 1.0;  ///< how many frames are in view
    double studied_ = 1.0; ///< share of the film that the first pass has seen
    std::optional<Edge> dragged_;
    bool scrubbing_ = false;
};

} // namespace kestrel::app
