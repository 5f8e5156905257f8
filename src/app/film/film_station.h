#pragma once

#include "app/shared/thumbnails.h"
#include "desk/desk.h"

#include <QWidget>

class QLabel;
class QTabWidget;

namespace kestrel::app {

class GroundPanel;
class Stage;
class Transport;

/// Looks at a film: what the camera was, which reps are in it, what it can show.
class FilmStation : public QWidget {
    Q_OBJECT
  public:
    enum Page { camera, reps, ground, shows, repeats };

    FilmStation(desk::Desk& desk, Thumbnails& thumbnails, QWidget* parent = nullptr);

    void choosePage(Page page);

  signals:
    /// The coach wants to bring in a film for the player.
    void bringIn();
    void toBench();

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    QWidget* makeSide();
    void refresh();
    /// Goes to the nearest key position of the rep in that direction (−1 or 1), if there is one.
    void toKeyPosition(int way);

    desk::Desk& desk_;
    Stage* stage_ = nullptr;
    Transport* transport_ = nullptr;
    QLabel* title_ = nullptr;
    QLabel* what_ = nullptr;
    QTabWidget* pages_ = nullptr;
    GroundPanel* groundPanel_ = nullptr;
};

} // namespace kestrel::app
