#pragma once

#include "desk/open_clip.h"

#include <QWidget>

#include <optional>

namespace kestrel::app {

/// The pixels under the pointer, enlarged, beside the frame and never on it.
class Loupe : public QWidget {
    Q_OBJECT
  public:
    explicit Loupe(desk::OpenClip& open, QWidget* parent = nullptr);

    /// Shows the picture round this spot.
    void lookAt(QPointF picture);

    [[nodiscard]] QSize sizeHint() const override { return {150, 150}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    desk::OpenClip& open_;
    std::optional<QPointF> at_;
};

} // namespace kestrel::app
