#pragma once

#include "app/session.h"

#include <QWidget>

#include <optional>

namespace kestrel::app {

/// The pixels under the pointer, enlarged, beside the frame and never on it.
class Loupe : public QWidget {
    Q_OBJECT
  public:
    explicit Loupe(Session& session, QWidget* parent = nullptr);

    /// Shows the picture round this spot.
    void lookAt(QPointF picture);

    [[nodiscard]] QSize sizeHint() const override { return {150, 150}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    Session& session_;
    std::optional<QPointF> at_;
};

} // namespace kestrel::app
