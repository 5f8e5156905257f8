#pragma once

#include "app/shared/thumbnails.h"
#include "desk/open_clip.h"

#include <QWidget>

#include <vector>

class QHBoxLayout;
class QToolButton;

namespace kestrel::app {

/// The key positions of the technique in order: name, picture, time from the anchor, and how many
/// of the landmarks needed there are placed.
class PositionStrip : public QWidget {
    Q_OBJECT
  public:
    PositionStrip(desk::OpenClip& open, Thumbnails& thumbnails, QWidget* parent = nullptr);

    [[nodiscard]] const std::string& current() const { return current_; }
    /// Chooses a position and goes to its frame when it is set.
    void choose(const std::string& positionId);
    /// Chooses the one `by` places along.
    void move(int by);

  signals:
    void chosen(const QString& positionId);

  private:
    void rebuild();
    void refresh();
    [[nodiscard]] QString caption(const technique::Position& position) const;

    desk::OpenClip& open_;
    Thumbnails& thumbnails_;
    QHBoxLayout* row_ = nullptr;
    std::vector<QToolButton*> cards_; ///< in the pack's order
    std::string current_;
};

} // namespace kestrel::app
