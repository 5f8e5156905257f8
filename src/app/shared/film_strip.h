#pragma once

#include "app/session.h"
#include "app/shared/thumbnails.h"

#include <QWidget>

namespace kestrel::app {

/// The whole clip as a row of thumbnails with the key positions marked; dragging along it moves
/// through the film.
class FilmStrip : public QWidget {
    Q_OBJECT
  public:
    FilmStrip(Session& session, Thumbnails& thumbnails, QWidget* parent = nullptr);

    [[nodiscard]] QSize sizeHint() const override { return {600, 58}; }
    /// The frame under a horizontal place of the widget.
    [[nodiscard]] int frameAt(double x) const;

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

  private:
    [[nodiscard]] double placeOf(int frame) const;

    Session& session_;
    Thumbnails& thumbnails_;
};

} // namespace kestrel::app
