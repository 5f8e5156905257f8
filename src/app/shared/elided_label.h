#pragma once

#include <QLabel>

namespace kestrel::app {

/// A line of text that ends in “…” where there is no room for all of it, so that it never keeps a
/// window wide. The tool tip then has all of it.
class ElidedLabel : public QLabel {
  public:
    using QLabel::QLabel;

    [[nodiscard]] QSize minimumSizeHint() const override;

  protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

  private:
    [[nodiscard]] QString shown() const;
};

} // namespace kestrel::app
